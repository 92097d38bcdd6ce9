import { useRef, useState } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import {
  MOST_SHARE_BYTES,
  readShare,
  recipeOnScale,
  regimenOnScale,
  type ShareFile,
  type SharedProduct,
} from '../../../contract/share.ts';
import type { RecipeValues } from '../../../contract/recipes.ts';
import { newId } from '../../shell/api.ts';
import { NBSP, phText, ppmText } from '../../shell/format.ts';
import { LabelledField } from '../../shell/labelled-field.tsx';
import { problemAt, useAct } from '../../shell/use-act.ts';
import type { Has } from './share-file.ts';
import { SharedClay, type ClayFile } from './shared-clay.tsx';

type OwnFile = Exclude<ShareFile, ClayFile>;

const KIND_WORDS: Readonly<Record<OwnFile['kind'], string>> = {
  regimen: 'A regimen',
  recipe: 'A recipe',
  product: 'A label',
};

/** What another grower shared: read here, shown, and kept as one's own. */
export function ShareIn(has: Has) {
  const input = useRef<HTMLInputElement>(null);
  const [file, setFile] = useState<ShareFile>();
  const [wrong, setWrong] = useState<string>();
  const take = async (chosen: File) => {
    setFile(undefined);
    setWrong(undefined);
    if (chosen.size > MOST_SHARE_BYTES) return setWrong('That file is larger than anything that is shared.');
    const read = readShare(await chosen.text());
    if (read.ok) setFile(read.file);
    else setWrong(read.message);
  };
  return (
    <>
      <div className="table-out">
        <div>
          <b>Something another grower shared</b>
          <div className="small">
            A regimen, a recipe, a label or a bag of clay, as a small file. You see it before it is yours.
          </div>
        </div>
        <input
          ref={input}
          type="file"
          accept=".json,application/json"
          hidden
          aria-label="The file another grower shared"
          onChange={(e) => {
            const [chosen] = e.target.files ?? [];
            e.target.value = '';
            if (chosen) void take(chosen);
          }}
        />
        <Button size="sm" variant="outline-secondary" onClick={() => input.current?.click()}>
          Choose what was shared
        </Button>
      </div>
      {wrong && (
        <p className="brought field-error mb-0" role="alert">
          {wrong}
        </p>
      )}
      {file?.kind === 'clay' ? (
        <SharedClay key={file.values.name} file={file} batches={has.clay.batches} done={() => setFile(undefined)} />
      ) : (
        file && (
          <Shared key={JSON.stringify(file).slice(0, 400)} file={file} has={has} done={() => setFile(undefined)} />
        )
      )}
    </>
  );
}

const URLS: Readonly<Record<OwnFile['kind'], string>> = {
  regimen: '/api/pots/acts',
  recipe: '/api/bench/recipes/acts',
  product: '/api/shelf/acts',
};

function Shared({ file, has, done }: { file: OwnFile; has: Has; done(): void }) {
  const { send, problems, busy } = useAct(URLS[file.kind]);
  const [name, setName] = useState(file.values.name);
  const [products, setProducts] = useState<readonly string[]>(() =>
    file.kind === 'recipe' ? file.products.map((product) => likest(product, has)) : [],
  );
  const times = has.room.scale / file.scale;
  const lacks = file.kind === 'recipe' && products.some((id) => id === '');
  const keep = async () => {
    if (await send(actOf(file, name.trim(), products, times), `${name.trim()} is yours`)) done();
  };
  const message = problemAt(problems, 'name') ?? Object.values(problems)[0];
  return (
    <div className="brought" role="status">
      <div>
        <b>
          {KIND_WORDS[file.kind]}: {file.values.name}
        </b>
        {file.kind !== 'product' && Math.abs(times - 1) > 0.01 && (
          <span className="small">
            {' '}
            Its strengths are changed from a {file.scale} pen to yours, {has.room.scale}.
          </span>
        )}
      </div>
      <ul className="mb-0">
        {factsOf(file, times).map((fact) => (
          <li key={fact}>{fact}</li>
        ))}
      </ul>
      {file.kind === 'recipe' &&
        file.products.map((product, i) => (
          <Part
            key={i}
            product={product}
            has={has}
            chosen={products[i] ?? ''}
            choose={(id) => setProducts(products.map((was, j) => (j === i ? id : was)))}
          />
        ))}
      <LabelledField label="Call it" error={message}>
        {(a) => <Form.Control {...a} autoComplete="off" value={name} onChange={(e) => setName(e.target.value)} />}
      </LabelledField>
      <div className="d-flex gap-2">
        <Button disabled={busy || lacks || name.trim() === ''} onClick={() => void keep()}>
          Make it mine
        </Button>
        <Button variant="outline-secondary" onClick={done}>
          Leave it
        </Button>
        {lacks && <span className="small align-self-center">Say first which products its parts are.</span>}
      </div>
    </div>
  );
}

/** A product of one's own that is likely the same. */
const likest = (product: SharedProduct, { room }: Has): string =>
  room.products.find(
    ({ retiredOn, values }) =>
      retiredOn === null && values.kind === product.kind && values.name.toLowerCase() === product.name.toLowerCase(),
  )?.id ?? '';

function Part({
  product,
  has,
  chosen,
  choose,
}: {
  product: SharedProduct;
  has: Has;
  chosen: string;
  choose(id: string): void;
}) {
  const { send, busy } = useAct('/api/shelf/acts');
  const add = async () => {
    const id = newId();
    const values = { ...product, recipe: null };
    if (await send({ kind: 'put', what: 'product', id, values }, `${product.name} is on the Shelf`)) choose(id);
  };
  const own = has.room.products.filter(({ retiredOn, id }) => retiredOn === null || id === chosen);
  return (
    <div className="d-flex flex-wrap gap-2 align-items-center">
      <span>
        <b>{product.name}</b> is
      </span>
      <Form.Select
        size="sm"
        className="w-auto"
        aria-label={`${product.name} is`}
        value={chosen}
        onChange={(e) => choose(e.target.value)}
      >
        <option value="">which of yours?</option>
        {own.map(({ id, values }) => (
          <option key={id} value={id}>
            {values.name}
          </option>
        ))}
      </Form.Select>
      {chosen === '' && (
        <Button size="sm" variant="outline-secondary" disabled={busy} onClick={() => void add()}>
          Put its label on my Shelf
        </Button>
      )}
    </div>
  );
}

function actOf(file: OwnFile, name: string, products: readonly string[], times: number): object {
  switch (file.kind) {
    case 'regimen':
      return { kind: 'putRegimen', regimenId: newId(), values: { ...regimenOnScale(file.values, times), name } };
    case 'product':
      return { kind: 'put', what: 'product', id: newId(), values: { ...file.values, name, recipe: null } };
    case 'recipe': {
      const values: RecipeValues = recipeOnScale(file.values, times);
      const parts = values.parts.map((part, i) => ({ ...part, productId: products[i] ?? '' }));
      return { kind: 'put', id: newId(), values: { ...values, name, parts, waterId: null } };
    }
  }
}

/** What it is, in few lines. */
function factsOf(file: OwnFile, times: number): string[] {
  switch (file.kind) {
    case 'regimen': {
      const { feeds, soaks, flushTimes } = regimenOnScale(file.values, times);
      return [
        ...feeds.map(
          ({ netPpm, phLow, phHigh, days }) =>
            `${netPpm === 0 ? 'plain water' : `${ppmText(netPpm)}${NBSP}ppm over base`}, pH ${phText(phLow)} to ${phText(phHigh)}, then ${days} days`,
        ),
        ...(soaks.length > 0 ? [`soaks in season: ${soaks.map(({ what }) => what).join(', ')}`] : []),
        flushTimes > 0 ? `flushed with ${flushTimes} times the reservoir` : 'no flush',
      ];
    }
    case 'recipe': {
      const { parts, phLow, phHigh, note } = recipeOnScale(file.values, times);
      const aims = parts.map(({ aim }, i) => `${file.products[i]?.name ?? 'a product'}, ${aimWords(aim)}`);
      return [...aims, `pH ${phText(phLow)} to ${phText(phHigh)}`, ...(note ? [note] : [])];
    }
    case 'product':
      return [
        file.values.kind,
        ...(file.values.label ? [file.values.label] : []),
        ...(file.values.caution ? [file.values.caution] : []),
      ];
  }
}

function aimWords(aim: RecipeValues['parts'][number]['aim']): string {
  switch (aim.kind) {
    case 'net':
      return `${ppmText(aim.ppm)}${NBSP}ppm over base`;
    case 'perL':
      return `${aim.units}${NBSP}mL a litre`;
    case 'element':
      return `${aim.mgL}${NBSP}mg/L ${aim.element}`;
  }
}
