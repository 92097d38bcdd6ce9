import Table from 'react-bootstrap/Table';
import type { RecipeView } from '../../contract/recipes.ts';
import { ELEMENT_WORDS, ELEMENTS } from '../../core/solution/index.ts';
import { ppmText } from '../shell/format.ts';

/** Two or three recipes side by side: what each brings by the labels. */
export function RecipeCompare({ recipes }: { recipes: readonly RecipeView[] }) {
  const rows = ELEMENTS.filter((e) => recipes.some((r) => r.brings?.some((b) => b.element === e)));
  const of = (r: RecipeView, e: (typeof ELEMENTS)[number]) => r.brings?.find((b) => b.element === e)?.mgL;
  return (
    <section className="sheet batch-table" aria-label="Side by side">
      <h2>Side by side</h2>
      <Table size="sm" responsive className="mb-0">
        <caption className="visually-hidden">What each recipe brings, mg/L</caption>
        <thead>
          <tr>
            <th scope="col">mg/L by the labels</th>
            {recipes.map((r) => (
              <th key={r.id} scope="col" className="text-end">
                {r.values.name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          <tr>
            <th scope="row">reads over base, ppm</th>
            {recipes.map((r) => (
              <td key={r.id} className="text-end num">
                {r.netPpm === null ? '—' : ppmText(r.netPpm)}
              </td>
            ))}
          </tr>
          {rows.map((e) => (
            <tr key={e}>
              <th scope="row">{ELEMENT_WORDS[e]}</th>
              {recipes.map((r) => {
                const mgL = of(r, e);
                return (
                  <td key={r.id} className="text-end num">
                    {r.brings === null
                      ? 'no label'
                      : mgL === undefined
                        ? '—'
                        : mgL < 10
                          ? mgL.toFixed(1)
                          : Math.round(mgL)}
                  </td>
                );
              })}
            </tr>
          ))}
          <tr>
            <th scope="row">came out right</th>
            {recipes.map((r) => (
              <td key={r.id} className="text-end num">
                {r.made.times === 0 ? '—' : `${r.made.right} of ${r.made.times - r.made.unread}`}
              </td>
            ))}
          </tr>
        </tbody>
      </Table>
    </section>
  );
}
