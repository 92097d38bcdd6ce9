import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import type { LookBack } from '../../contract/drift.ts';
import { get } from '../shell/api.ts';
import { dayMonth, mL, phText, ppmText } from '../shell/format.ts';
import { Failed, Loading } from '../shell/states.tsx';
import { BookTabs } from './book-tabs.tsx';

type Figure = LookBack['figures'][number];
const NAMES: Record<Figure['what'], string> = {
  left: 'What was left',
  ppm: 'Strength of the old reservoir',
  ph: 'pH of the old reservoir',
};
/** A 90 % band that holds so much and so little is as it should be, for the readings of a month. */
const HONEST = { low: 0.82, high: 0.97 };
/** A range that is within so much of the model's own is as wide as at first. */
const AS_AT_FIRST = 0.07;

/** How wide the ranges have come to be. */
function widthWords(width: number): string {
  if (Math.abs(width - 1) < AS_AT_FIRST) return 'as wide as at first';
  const percent = Math.round(100 * Math.abs(width - 1));
  return width < 1 ? `${percent} % narrower than at first` : `${percent} % wider than at first`;
}

/** Fewer readings than this say little. */
const FEWEST = 20;

/** Forecasts: how good last month's were, against what was read. */
export function ForecastsPage() {
  const back = useQuery({ queryKey: ['drift', 'look-back'], queryFn: () => get<LookBack>('/api/drift/look-back') });
  return (
    <div className="page forecasts-page">
      <header>
        <div>
          <h1>Book</h1>
          <div className="small">How good the forecasts were</div>
        </div>
        <BookTabs />
      </header>
      {back.isPending ? (
        <Loading what="last month’s forecasts" />
      ) : back.data ? (
        <Judged back={back.data} />
      ) : (
        <Failed error={back.error} retry={() => void back.refetch()} />
      )}
    </div>
  );
}

function Judged({ back }: { back: LookBack }) {
  const read = back.figures.some((f) => f.readings > 0);
  return (
    <section className="sheet forecasts" aria-label="Last month’s forecasts">
      <h2>
        {dayMonth(back.from)} to {dayMonth(back.to)}
      </h2>
      <p className="small">
        Each visit is foretold once more from what was known before it, and set beside what was read then. A 90 % range
        is meant to hold nine readings in ten: far fewer, and the forecasts are too sure; all of them, and they are too
        shy. Ranges grow narrower or wider by how earlier ones of their kind came true; after a repotting, a changed
        pour or flush, or a long wait they open until they have proved themselves.
      </p>
      {!read ? (
        <p className="mb-0">Nothing was read at the visits of the last month, so there is nothing to judge by.</p>
      ) : (
        <table className="table mb-0">
          <thead>
            <tr>
              <th scope="col">What</th>
              <th scope="col">Read</th>
              <th scope="col">Inside the 90 % range</th>
              <th scope="col">Its ranges</th>
              <th scope="col">Read against forecast, on the whole</th>
              <th scope="col">Furthest out</th>
            </tr>
          </thead>
          <tbody>
            {back.figures.map((f) => (
              <tr key={f.what}>
                <th scope="row">{NAMES[f.what]}</th>
                <td>{f.readings}</td>
                <td>
                  {f.readings === 0 ? (
                    '—'
                  ) : (
                    <>
                      <b className="num">
                        {f.inside} of {f.readings}
                      </b>{' '}
                      <span className={`chip ${verdict(f).chip}`}>{verdict(f).words}</span>
                      <span className="bar" aria-hidden>
                        <i style={{ width: `${(100 * f.inside) / f.readings}%` }} />
                        <em />
                      </span>
                    </>
                  )}
                </td>
                <td>{f.readings === 0 ? '—' : widthWords(f.width)}</td>
                <td>{f.readings === 0 ? '—' : biasWords(f)}</td>
                <td>
                  {f.worst ? (
                    <>
                      {f.worst.code} on {dayMonth(f.worst.on)}: {figure(f.what, f.worst.read)} against{' '}
                      {figure(f.what, f.worst.low)} to {figure(f.what, f.worst.high)}
                    </>
                  ) : (
                    '—'
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <p className="small mb-0 mt-2">
        What is to come of every pot: <Link to="/drift/all">Drift, every pot</Link>.
      </p>
    </section>
  );
}

function verdict({ readings, inside }: Figure): { words: string; chip: string } {
  if (readings < FEWEST) return { words: 'too few to tell', chip: '' };
  const share = inside / readings;
  if (share < HONEST.low) return { words: 'too sure', chip: 'late' };
  return share > HONEST.high ? { words: 'on the shy side', chip: 'soon' } : { words: 'as it should be', chip: 'good' };
}

function biasWords({ what, bias }: Figure): string {
  const [least, words] =
    what === 'ph'
      ? [0.05, `${Math.abs(bias).toFixed(2)}`]
      : [3, what === 'left' ? mL(Math.abs(Math.round(bias))) : `${ppmText(Math.abs(bias))} ppm`];
  return Math.abs(bias) < least ? 'level' : `${words} ${bias > 0 ? 'above' : 'below'}`;
}

function figure(what: Figure['what'], value: number): string {
  return what === 'ph' ? phText(value) : what === 'left' ? mL(Math.round(value)) : ppmText(value);
}
