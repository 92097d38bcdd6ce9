import { Link } from 'react-router';
import { HABIT_WORDS, MEDIUM_WORDS } from '../../contract/kinds.ts';
import type { PotView } from '../../contract/pots.ts';
import { inSentence } from '../../core/quantity/index.ts';
import { Term } from '../shell/term.tsx';
import { dayMonth, dayMonthYear, mL, phText, weekdayDayMonth } from '../shell/format.ts';

/* What stands at the head of a pot's page. */

type Props = { view: PotView };

export function PotTitle({ view: { pot, values } }: Props) {
  return (
    <div>
      <h1>
        {pot.name}, {inSentence(pot.place)}
      </h1>
      {pot.oddLines > 0 && (
        <div className="field-error">
          {pot.oddLines === 1
            ? 'A line of its log cannot be understood and is'
            : `${pot.oddLines} lines of its log cannot be understood and are`}{' '}
          left out of what is reckoned here. <Link to="/book">They are marked in the Book</Link>
        </div>
      )}
      <div className="small">
        {[
          pot.code,
          pot.name === pot.plant ? '' : pot.plant,
          values.spot || pot.placeNote,
          `reservoir ${mL(pot.reservoirMl)}`,
          pot.drawing.stage,
          values.habit ? HABIT_WORDS[values.habit] : '',
          values.sensitivity === 'usual' ? '' : values.sensitivity,
          values.acquiredOn ? `here since ${dayMonthYear(values.acquiredOn)}` : '',
        ]
          .filter(Boolean)
          .join(' · ')}
      </div>
    </div>
  );
}

export function Neighbours({ before, after }: PotView['neighbours']) {
  return (
    <nav className="d-flex gap-2" aria-label="Neighbours">
      {before && (
        <Link className="btn btn-outline-secondary btn-sm" to={`/pots/${before.id}`}>
          ← {before.code}
        </Link>
      )}
      {after && (
        <Link className="btn btn-outline-secondary btn-sm" to={`/pots/${after.id}`}>
          {after.code} →
        </Link>
      )}
    </nav>
  );
}

/** When it is due, how it is kept, in which clay, and what came out last. */
export function Facts({ view }: Props) {
  const { pot, regimen } = view;
  return (
    <section className="sheet recipe facts" aria-label="How it stands">
      <div>
        <span className="small">Next due</span>
        <b className="num">
          {weekdayDayMonth(pot.due.dueOn)} {pot.due.daysLate > 0 && <span className="chip late">{pot.due.words}</span>}
        </b>
      </div>
      <div>
        <span className="small">
          {regimen.name}
          {view.lastMix && (
            <>
              {' · '}
              <Link
                to={`/shelf/mix?with=${view.lastMix.productId}&dose=${view.lastMix.doseMlL.toFixed(3)}&water=${view.lastMix.waterId}`}
              >
                what is in its feed
              </Link>
            </>
          )}
        </span>
        <b
          className="num"
          title={[
            `${regimen.reason} Since ${dayMonth(regimen.since)}.`,
            ...view.earlierRegimens.map((r) => `Before: ${r.name}, since ${dayMonthYear(r.since)}. ${r.reason}`),
          ].join('\n')}
        >
          {regimen.words}
          {view.nextRegimens.map((next) => (
            <small key={next.from}>
              {' '}
              then {next.words.split(',')[0]} from {dayMonth(next.from)}
            </small>
          ))}
        </b>
      </div>
      <div>
        <span className="small">Clay</span>
        <b className="num">{pot.clay ?? (pot.drawing.form === 'clay' ? 'not said' : MEDIUM_WORDS[pot.drawing.form])}</b>
      </div>
      <div>
        <CameOut {...pot} />
      </div>
    </section>
  );
}

function CameOut({ lastCameOut: out }: Pick<PotView['pot'], 'lastCameOut'>) {
  if (!out)
    return (
      <>
        <span className="small">
          <Term of="oldReservoir">Old reservoir</Term>
        </span>
        <b className="num">never read</b>
      </>
    );
  return (
    <>
      <span className="small">
        <Term of="oldReservoir">Old reservoir</Term>, {dayMonth(out.on)}
      </span>
      <b className="num">
        {out.ppm === null ? '—' : `${out.ppm} ppm`}
        {out.ph === null ? '' : `, pH ${phText(out.ph)}`}
      </b>
    </>
  );
}
