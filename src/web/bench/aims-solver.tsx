import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import type { ShelfRoom } from '../../contract/shelf.ts';
import {
  ELEMENT_WORDS,
  ELEMENTS,
  readLabel,
  solveForAims,
  type AimSolution,
  type DosedProduct,
  type Element,
} from '../../core/solution/index.ts';
import { DomainError } from '../../core/quantity/index.ts';
import { Icon } from '../drawing/icon.tsx';
import { get } from '../shell/api.ts';
import { asNumber, type PartFields } from './start-values.ts';
import { money } from '../shell/format.ts';

type Wanted = { element: Element; text: string };
/** What growers ask for most, in mg/L. */
const USUAL: readonly Wanted[] = [
  { element: 'N', text: '' },
  { element: 'K', text: '' },
  { element: 'Ca', text: '' },
  { element: 'Mg', text: '' },
];

/** Doses of the products owned that meet several aims in mg/L: as near as can be, from the fewest bottles, or for the least money. */
export function AimsSolver({ onUse }: { onUse(parts: PartFields[]): void }) {
  const room = useQuery({ queryKey: ['shelf-room'], queryFn: () => get<ShelfRoom>('/api/shelf/room') });
  const [wanted, setWanted] = useState<readonly Wanted[]>(USUAL);
  const [out, setOut] = useState<readonly string[]>([]);
  const products = useMemo(() => (room.data ? dosable(room.data) : []), [room.data]);
  const answer = useMemo(() => {
    const aims = wanted.filter((w) => asNumber(w.text) > 0).map((w) => ({ element: w.element, mgL: asNumber(w.text) }));
    if (aims.length === 0) return undefined;
    try {
      return {
        ok: true,
        choices: solveForAims(
          products.filter((p) => !out.includes(p.id)).map((p) => p.dosed),
          aims,
        ),
      } as const;
    } catch (error) {
      if (!(error instanceof DomainError)) throw error;
      return { ok: false, message: error.message } as const;
    }
  }, [wanted, out, products]);
  const nameOf = (id: string) => products.find((p) => p.id === id)!;
  const unused = ELEMENTS.find((e) => !wanted.some((w) => w.element === e));
  return (
    <aside className="sheet before solver" aria-label="Work the doses out">
      <h2>Or from what you want in it</h2>
      <p className="small">
        mg/L over what the water brings; leave empty what does not matter. By the labels of what stands on the Shelf.
      </p>
      {wanted.map((w, i) => (
        <div key={w.element} className="d-flex gap-2 align-items-center mb-1">
          <Form.Select
            size="sm"
            aria-label={`Element ${i + 1}`}
            value={w.element}
            onChange={(e) =>
              setWanted(wanted.map((v, k) => (k === i ? { ...v, element: e.target.value as Element } : v)))
            }
          >
            {ELEMENTS.filter((e) => e === w.element || !wanted.some((v) => v.element === e)).map((e) => (
              <option key={e} value={e}>
                {ELEMENT_WORDS[e]}
              </option>
            ))}
          </Form.Select>
          <Form.Control
            size="sm"
            inputMode="decimal"
            aria-label={`${ELEMENT_WORDS[w.element]}, mg/L`}
            className="other-amount"
            value={w.text}
            isInvalid={w.text.trim() !== '' && !(asNumber(w.text) > 0)}
            onChange={(e) => setWanted(wanted.map((v, k) => (k === i ? { ...v, text: e.target.value } : v)))}
          />
        </div>
      ))}
      {unused && (
        <Button
          variant="link"
          size="sm"
          className="p-0"
          onClick={() => setWanted([...wanted, { element: unused, text: '' }])}
        >
          Another element
        </Button>
      )}
      <fieldset className="mt-2">
        <legend className="small">May go in</legend>
        {products.map((p) => (
          <Form.Check
            key={p.id}
            type="checkbox"
            id={`may-${p.id}`}
            label={p.name}
            checked={!out.includes(p.id)}
            onChange={() => setOut(out.includes(p.id) ? out.filter((o) => o !== p.id) : [...out, p.id])}
          />
        ))}
        {products.length === 0 && room.data && (
          <div className="small">No product on the Shelf has its label copied yet.</div>
        )}
      </fieldset>
      {answer && !answer.ok && (
        <div className="field-error" role="alert">
          {answer.message}
        </div>
      )}
      {answer?.ok &&
        distinct(answer.choices).map(({ words, solution }) => (
          <section key={words} className="choice" aria-label={words}>
            <h3>{words}</h3>
            <ul>
              {solution.doses.map((d) => (
                <li key={d.id}>
                  <b>
                    {Number(d.dose.toPrecision(3))}
                    {'\u00a0'}
                    {nameOf(d.id).unit}
                  </b>{' '}
                  a litre of {nameOf(d.id).name}
                </li>
              ))}
            </ul>
            <div className="small">
              {solution.gets
                .map((g) => `${ELEMENT_WORDS[g.element]} ${rounded(g.mgL)} of ${rounded(g.wanted)}`)
                .join(', ')}
              . {missWords(solution.misfit)}
              {solution.cost !== null && ` Ten litres cost ${money(solution.cost * 10)}.`}
            </div>
            <Button
              size="sm"
              variant="outline-secondary"
              onClick={() =>
                onUse(
                  solution.doses.map((d) => ({
                    productId: d.id,
                    aimKind: 'perL',
                    amount: String(Number(d.dose.toPrecision(3))),
                    element: 'Mg',
                    solid: 'stock',
                  })),
                )
              }
            >
              <Icon name="check2" /> Use these doses
            </Button>
          </section>
        ))}
    </aside>
  );
}

type Dosable = { id: string; name: string; unit: 'mL' | 'g'; dosed: DosedProduct };

/** Products in use whose label is known, that may go into a batch. */
function dosable(room: ShelfRoom): Dosable[] {
  return room.products.flatMap((p) => {
    if (p.retiredOn !== null || p.values.analysis === null || p.values.kind === 'acid' || p.values.kind === 'base')
      return [];
    const label = readLabel(p.values.analysis);
    if (!label.ok) return [];
    const { sizeMl, price } = p.bottle ?? { sizeMl: null, price: null };
    return {
      id: p.id,
      name: p.values.name,
      unit: p.values.analysis.form === 'powder' ? 'g' : 'mL',
      dosed: {
        id: p.id,
        mgPerUnit: label.elements,
        topDose: p.values.topDoseMlL,
        costPerUnit: sizeMl !== null && price !== null && sizeMl > 0 ? price / sizeMl : null,
      },
    };
  });
}

const rounded = (mg: number) => (mg < 10 ? mg.toFixed(1) : String(Math.round(mg)));

function missWords(misfit: number): string {
  if (misfit < 0.005) return 'All met.';
  return `Misses by ${Math.round(misfit * 100)} % on the whole.`;
}

/** The three answers, those that are the same said once. */
function distinct(choices: {
  nearest: AimSolution;
  fewest: AimSolution;
  cheapest: AimSolution | null;
}): { words: string; solution: AimSolution }[] {
  const all = [
    { words: 'Nearest to all of it', solution: choices.nearest },
    { words: 'As good as that, from the fewest bottles', solution: choices.fewest },
    ...(choices.cheapest ? [{ words: 'As good as that, for the least money', solution: choices.cheapest }] : []),
  ];
  const key = (s: AimSolution) => s.doses.map((d) => `${d.id}:${d.dose.toPrecision(3)}`).join(' ');
  return all.filter((a, i) => all.findIndex((b) => key(b.solution) === key(a.solution)) === i);
}
