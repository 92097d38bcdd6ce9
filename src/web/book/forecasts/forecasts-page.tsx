import Table from 'react-bootstrap/Table';
import { Link } from 'react-router';
import type { LookBack } from '../../../contract/look-back.ts';
import { dayMonth } from '../../shell/format.ts';
import { Failed, Loading } from '../../shell/states.tsx';
import { useWidth } from '../../shell/use-width.ts';
import { BookTabs } from '../book-tabs.tsx';
import {
  biasWords,
  FEWEST,
  figureText,
  FORETOLD_NAMES,
  isOutside,
  learnedWords,
  reasonWords,
  verdict,
  widthWords,
  type Figure,
} from './look-back-words.ts';
import { MarkStrip } from './mark-strip.tsx';
import { useForecasts } from './use-forecasts.ts';

/** Of the readings outside so many are listed before the rest is asked for. */
const LISTED = 60;

/** Forecasts: how good last month's were, against what was read. */
export function ForecastsPage() {
  const { back, error, pending, retry } = useForecasts();
  return (
    <div className="page forecasts-page">
      <header>
        <div>
          <h1>Book</h1>
          <div className="small">How good the forecasts were</div>
        </div>
        <BookTabs />
      </header>
      {pending ? (
        <Loading what="last month’s forecasts" />
      ) : back ? (
        <>
          <Judged back={back} />
          <Outside back={back} />
        </>
      ) : (
        <Failed error={error} retry={retry} />
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
        Each visit, and each reading of clay that soaks, is foretold once more from what was known before it, and set
        beside what was read then. A 90 % range is meant to hold nine readings in ten: far fewer, and the forecasts are
        too sure; all of them, and they are too shy. Ranges grow narrower or wider by how earlier ones of their kind
        came true; after a repotting, a changed pour or flush, or a long wait they open until they have proved
        themselves.
      </p>
      {!read ? (
        <p className="mb-0">Nothing was read in the last month, so there is nothing to judge by.</p>
      ) : (
        <table className="table stacks mb-0">
          <thead>
            <tr>
              <th scope="col">What</th>
              <th scope="col">Read</th>
              <th scope="col">Inside the 90 % range</th>
              <th scope="col">Its ranges</th>
              <th scope="col">Read against forecast, on the whole</th>
            </tr>
          </thead>
          <tbody>
            {back.figures.map((f) => (
              <tr key={f.what}>
                <th scope="row">{FORETOLD_NAMES[f.what]}</th>
                <td data-of="Read">{f.readings}</td>
                <td data-of="Inside the 90 % range" className="whole">
                  {f.readings === 0 ? (
                    '—'
                  ) : (
                    <>
                      <b className="num">
                        {f.inside} of {f.readings}
                      </b>{' '}
                      <span className={`chip ${verdict(f).chip}`}>{verdict(f).words}</span>
                      <Strip figure={f} />
                    </>
                  )}
                </td>
                <td data-of="Its ranges">{f.readings === 0 ? '—' : widthWords(f.width)}</td>
                <td data-of="Against forecast">{f.readings < FEWEST ? '—' : biasWords(f)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {learnedWords(back.figures) && (
        <p className="mb-0 mt-2">
          <b>{learnedWords(back.figures)}</b>
        </p>
      )}
      <p className="small mb-0 mt-2">
        What is to come of every pot: <Link to="/drift/all">Drift, every pot</Link>.
      </p>
    </section>
  );
}

function Strip({ figure }: { figure: Figure }) {
  const [ref, width] = useWidth(220);
  const out = figure.marks.filter(isOutside);
  const low = out.filter(({ read, low: from }) => read < from).length;
  return (
    <div ref={ref} className="strip-room">
      <MarkStrip
        marks={figure.marks}
        width={Math.max(120, Math.min(width, 320))}
        words={`${figure.inside} inside, ${low} below, ${out.length - low} above`}
      />
    </div>
  );
}

/** Each reading that landed outside its range, the newest first, with what is known of why. */
function Outside({ back }: { back: LookBack }) {
  const out = back.figures
    .flatMap(({ what, marks }) => marks.filter(isOutside).map((mark) => ({ what, ...mark })))
    .sort((a, b) => (a.on > b.on ? -1 : a.on < b.on ? 1 : 0));
  if (out.length === 0) return null;
  const known = out.filter(({ why }) => why.length > 0).length;
  return (
    <section className="sheet forecasts" aria-label="Where they were wrong">
      <h2>Where they were wrong</h2>
      <p className="small">
        {out.length} landed outside; of {known === out.length ? 'each' : known === 0 ? 'none' : known} something is
        known that may be why. It stands beside the reading in the log: it is no proof. One in ten is meant to land
        outside.
      </p>
      <Table responsive className="stacks mb-0">
        <thead>
          <tr>
            <th scope="col">Pot or clay</th>
            <th scope="col">Day</th>
            <th scope="col">What</th>
            <th scope="col">Read</th>
            <th scope="col">Forecast</th>
            <th scope="col">May be why</th>
          </tr>
        </thead>
        <tbody>
          {out.slice(0, LISTED).map(({ what, id, code, on, read, low, high, why }, i) => (
            <tr key={`${what} ${id} ${on} ${i}`}>
              <th scope="row">
                <Link to={what === 'clay' ? `/clay?batch=${id}` : `/pots/${id}`}>{code}</Link>
              </th>
              <td data-of="Day" className="nowrap">
                {dayMonth(on)}
              </td>
              <td data-of="What">{FORETOLD_NAMES[what]}</td>
              <td data-of="Read" className="num nowrap">
                {figureText(what, read)}
              </td>
              <td data-of="Forecast" className="nowrap">
                {read < low ? 'below' : 'above'} {figureText(what, low)} to {figureText(what, high)}
              </td>
              <td data-of="May be why" className="whole">
                {why.length === 0 ? 'nothing known' : why.map((one) => reasonWords(one, what)).join('; ')}
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
      {out.length > LISTED && <p className="small mb-0 mt-2">And {out.length - LISTED} before them.</p>}
    </section>
  );
}
