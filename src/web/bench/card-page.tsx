import { inSentence } from '../../core/quantity/words.ts';
import { useQuery } from '@tanstack/react-query';
import Button from 'react-bootstrap/Button';
import { Link, useParams } from 'react-router';
import type { BatchPartView, BatchView } from '../../contract/bench.ts';
import { USE_WORDS } from '../../contract/recipes.ts';
import { GRANULES } from '../../core/strength/stock.ts';
import { get } from '../shell/api.ts';
import { dayMonthYear, doseMl, litres, NBSP, phText, ppmText } from '../shell/format.ts';
import { Failed, Loading } from '../shell/states.tsx';
import { lastReading } from './bench-words.ts';
import { methodWords } from './recipe-strip.tsx';
import { prepareWords } from './prepare-first.tsx';

/** The batch on one sheet of paper: every step in its order with room to write what the pen said, and a label for what is left. */
export function CardPage() {
  const { batchId = '' } = useParams();
  const batch = useQuery({
    queryKey: ['batch', batchId],
    queryFn: () => get<BatchView>(`/api/bench/batches/${batchId}`),
  });
  if (batch.isPending) return <Loading what="the card" />;
  if (!batch.data) return <Failed error={batch.error} retry={() => void batch.refetch()} />;
  return <Card view={batch.data} />;
}

function Card({ view }: { view: BatchView }) {
  let over = view.basePpm ?? view.water.expectedPpm;
  const cautions = [
    ...new Set([...view.parts.map((p) => p.caution), ...view.ph.choices.map((c) => c.caution)].filter((c) => c !== '')),
  ];
  return (
    <div className="page card-page">
      <header className="no-print">
        <div>
          <h1>Mixing card</h1>
          <div className="small">One sheet for the bench: write on it with wet hands, type it in later.</div>
        </div>
        <Link className="btn btn-outline-secondary push" to={`/bench/${view.id}`}>
          To the batch
        </Link>
        <Button onClick={() => window.print()}>Print it</Button>
      </header>
      <article className="sheet mixing-card" aria-label="Mixing card">
        <div className="card-head">
          <div>
            <h2>{view.name}</h2>
            <div>
              {litres(view.volumeL)} of {inSentence(view.water.name)} in the {inSentence(view.vessel.name)} ·{' '}
              {USE_WORDS[view.use]}
              {view.forPots.length > 0 && ` · ${view.forPots.map((p) => p.code).join(', ')}`}
            </div>
          </div>
          <div className="small">{dayMonthYear(view.startedOn)}</div>
        </div>
        <table>
          <thead>
            <tr>
              <th scope="col">Step</th>
              <th scope="col">How much, and with what</th>
              <th scope="col">Should read</th>
              <th scope="col">Reads</th>
            </tr>
          </thead>
          <tbody>
            <tr>
              <th scope="row">The plain water</th>
              <td>rinse, dip, stir, wait</td>
              <td className="num">{view.water.expectedPpm === null ? '' : ppmText(view.water.expectedPpm)}</td>
              <td className="blank">{view.basePpm === null ? '' : ppmText(view.basePpm)}</td>
            </tr>
            {view.parts.map((part) => {
              const expected =
                over === null
                  ? null
                  : over + (part.aim?.netPpm ?? ((part.doseUnits ?? 0) / view.volumeL) * part.strength.ppmPerMlL);
              over = expected;
              return (
                <tr key={part.productId}>
                  <th scope="row">
                    {part.name}
                    {part.reason && <div className="small">{part.reason}</div>}
                  </th>
                  <td>
                    {wholeWords(view, part)}
                    <div className="small">{prepareWords(part) ?? methodWords(part)}</div>
                  </td>
                  <td className="num">
                    {expected === null ? '' : ppmText(expected)}
                    {part.aim && expected !== null && (
                      <div className="small nowrap">
                        {ppmText(expected - part.aim.netPpm + part.aim.lowPpm)} to{' '}
                        {ppmText(expected - part.aim.netPpm + part.aim.highPpm)}
                      </div>
                    )}
                  </td>
                  <td className="blank">
                    {part.netPpm === null || part.overPpm === null ? '' : ppmText(part.overPpm + part.netPpm)}
                  </td>
                </tr>
              );
            })}
            {view.phMeter && (
              <tr>
                <th scope="row">
                  pH <div className="small">last: everything before moves it</div>
                </th>
                <td>drop by drop near the goal; three corrections at the most</td>
                <td className="num">
                  {view.phWindow.low} to {view.phWindow.high}
                  {view.expected.known && (
                    <div className="small nowrap">as mixed {phText(view.expected.before.ph)}</div>
                  )}
                </td>
                <td className="blank">{view.ph.latest === null ? '' : phText(view.ph.latest)}</td>
              </tr>
            )}
            {view.holdMinutes !== null && (
              <tr>
                <th scope="row">Hold</th>
                <td>
                  fill to the brim, holes taped over a tray; top up as air comes out; {view.holdMinutes}
                  {NBSP}min, drain, flush with plain water
                </td>
                <td />
                <td className="blank" />
              </tr>
            )}
          </tbody>
        </table>
        {cautions.map((c) => (
          <p key={c} className="small">
            {c}
          </p>
        ))}
        <div className="mix-label">
          <b>{view.name}</b>
          <span>
            made {dayMonthYear(view.startedOn)}
            {view.keepsUntil && `, use until ${dayMonthYear(view.keepsUntil)}`}
          </span>
          <span>
            reads {view.status === 'poured' ? ppmText(lastReading(view)) : '____'} · pH{' '}
            {view.ph.latest === null ? '____' : phText(view.ph.latest)}
          </span>
        </div>
      </article>
    </div>
  );
}

/** The whole of a part, as far as its strength is known: "about 2.6 mL". */
function wholeWords(view: BatchView, part: BatchPartView): string {
  const units =
    part.doseUnits ??
    (part.aim && part.strength.ppmPerMlL > 0 ? (part.aim.netPpm * view.volumeL) / part.strength.ppmPerMlL : 0);
  if (part.method === 'granules') return `about ${Math.round(units / GRANULES.gramsEach)} granules, in portions`;
  const ml = doseMl(units * part.mlPerUnit);
  return part.aim ? `about ${ml} in all, in portions, read after each` : `${ml}, all at once`;
}
