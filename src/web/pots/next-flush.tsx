import { Link } from 'react-router';
import type { DriftPot, PotDrift } from '../../contract/drift.ts';
import { inSentence } from '../../core/quantity/index.ts';
import { SALT_TIMES } from '../../core/drift/index.ts';
import { mL, phText, ppmText, weekdayDayMonth } from '../shell/format.ts';

/** What the models say of this pot: the flush that is due and why, when it is dry, and what its clay does. */
export function NextFlush({ drift, today }: { drift: PotDrift; today: string }) {
  const { pot, shares } = drift;
  const { flush } = pot;
  const salty = isSalty(pot);
  const less = flush.lately && flush.lately.ml < 0.7 * flush.ml;
  const due = pot.dueOn <= today;
  return (
    <section className={`sheet next-flush ${salty ? 'salty' : ''}`} aria-label="What the models say">
      <h2>
        {flush.ml > 0
          ? `Flush with ${mL(flush.ml)}${less ? `, not ${mL(Math.round(flush.lately!.ml / 10) * 10)}` : ''}`
          : 'No flush asked for'}
      </h2>
      <p className="small mb-0">
        <b>{standsWords(pot)}</b> {afterWords(flush)}Why this much: {flush.why}.
      </p>
      <Dates pot={pot} today={today} />
      <p className="small mb-0">
        Poured at {phText(shares.poured)}, the air takes it to {phText(shares.air)},{' '}
        {shares.flushWater ? `what the ${inSentence(shares.flushWater)} leaves` : 'the pores'} to {phText(shares.pores)}
        , clay and roots to {phText(shares.clay)}.
        {pot.atLarge && ' Nothing was ever read of it: that is what most pots do.'}
      </p>
      <div className="d-flex gap-2">
        {due && (
          <Link className="btn btn-sm btn-primary" to={`/round?pot=${pot.id}`}>
            Do it today
          </Link>
        )}
        <Link className="btn btn-sm btn-outline-secondary" to={`/drift?pot=${pot.id}`}>
          Its drift
        </Link>
      </div>
    </section>
  );
}

/** What it reads once it is filled, and what the flush of the last visits would leave; nothing where nobody knows. */
function afterWords({ afterPpm, lately, words }: DriftPot['flush']): string {
  if (afterPpm === null) return '';
  const usual =
    lately && lately.afterPpm > afterPpm * 1.05
      ? `; ${mL(Math.round(lately.ml / 10) * 10)} as lately would leave about ${ppmText(lately.afterPpm)}`
      : '';
  return `Filled after ${words} I expect ${ppmText(afterPpm)}${usual}. `;
}

function Dates({ pot, today }: { pot: DriftPot; today: string }) {
  return (
    <p className="small mb-0">
      {datesWords(pot, today)}
      {pot.topUp &&
        ` Until then ${mL(pot.topUp.ml)} of ${pot.topUp.what === 'plain' ? 'plain water' : 'its feed'} tops it up to about ${ppmText(pot.topUp.afterPpm)}: in a hurry, not as a habit, for its salts stay.`}
    </p>
  );
}

const isSalty = (pot: DriftPot) => pot.now.ppm > 1.5 * pot.aimPpm;

/** How it stands against its feed. */
function standsWords(pot: DriftPot): string {
  const ratios = pot.ratios.slice(-3);
  if (ratios.length === 3 && ratios[0]! < ratios[1]! && ratios[1]! < ratios[2]!)
    return 'The gap between what was poured and the old reservoir has grown three visits in a row.';
  const [now, feed] = [ppmText(pot.now.ppm), ppmText(pot.aimPpm)];
  return isSalty(pot)
    ? `It stands at about ${now} against a ${feed} feed.`
    : `It stands at about ${now}, feed ${feed}.`;
}

/** When it is dry, past its limit, out of its window. */
function datesWords(pot: DriftPot, today: string): string {
  const when = (on: string) => (on <= today ? 'by now' : `on ${weekdayDayMonth(on)}`);
  const dates = [
    pot.dryOn === null
      ? 'Down to 15 % not within five weeks'
      : `Down to 15 % ${when(pot.dryOn)}${pot.dryOn < pot.dueOn && pot.dryOn > today ? ', before its day' : ''}`,
    pot.saltsOn === null ? '' : `past ${SALT_TIMES} times its feed ${when(pot.saltsOn)}`,
    pot.phOutOn === null ? '' : `pH out of its window ${when(pot.phOutOn)}`,
  ];
  return `${dates.filter(Boolean).join(', ')}.`;
}
