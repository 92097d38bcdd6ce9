import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import { useActs } from '../../shell/acts.tsx';
import { fileNameOf, shareables, shareOf, type Has, type Shareable } from './share-file.ts';

const KINDS: readonly (readonly [Shareable['kind'], string])[] = [
  ['regimen', 'Regimens'],
  ['recipe', 'Recipes'],
  ['product', 'Labels of products'],
  ['clay', 'What a bag of clay was found to do'],
];

/** One regimen, recipe, label or bag of clay as a small file for another grower. */
export function ShareOut(has: Has) {
  const all = shareables(has);
  const { say } = useActs();
  const [chosen, setChosen] = useState('');
  const thing = all.find(({ id }) => id === chosen);
  const save = () => {
    const file = thing && shareOf(thing, has);
    if (!thing || !file) return say('That is not here any more. Reload the page.');
    const url = URL.createObjectURL(new Blob([`${JSON.stringify(file, null, 2)}\n`], { type: 'application/json' }));
    Object.assign(document.createElement('a'), { href: url, download: fileNameOf(thing) }).click();
    URL.revokeObjectURL(url);
  };
  return (
    <section className="sheet" aria-labelledby="share">
      <h2 id="share">Share a part of it</h2>
      <div className="table-out">
        <div>
          <b>A regimen, a recipe, a label, or what a bag of clay was found to do</b>
          <div className="small">
            A small file that another grower brings in. Strengths are changed to their pen. Nothing else of your
            collection is in it.
          </div>
        </div>
        <Form.Select
          size="sm"
          className="w-auto mw-100"
          aria-label="What is shared"
          value={chosen}
          onChange={(e) => setChosen(e.target.value)}
        >
          <option value="">choose …</option>
          {KINDS.map(([kind, words]) => (
            <optgroup key={kind} label={words}>
              {all
                .filter((one) => one.kind === kind)
                .map(({ id, name }) => (
                  <option key={id} value={id}>
                    {name}
                  </option>
                ))}
            </optgroup>
          ))}
        </Form.Select>
        <Button size="sm" variant="outline-secondary" disabled={!thing} onClick={save}>
          Save the file
        </Button>
      </div>
    </section>
  );
}
