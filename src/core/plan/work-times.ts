/*
 * How long things take, from the times at which they were logged. Nobody holds a watch at the bench: what lies between two pots is a pot's time only where nothing
 * else was done in between and nobody went away.
 */

/** One logged act, in minutes from any moment; `pot`: a pot was watered, else it is other work. */
export type LoggedAct = { readonly atMin: number; readonly pot: boolean };
/** Minutes one takes, and of how many that is known. */
export type LearnedMinutes = { readonly minutes: number; readonly of: number };

/** Pots logged within so short a time were noted in one go, after they were watered. House rules, as all here. */
const AT_ONCE_MIN = 0.2;
/** Longer than that nobody stands at one pot, or one bucket. */
const POT_BREAK_MIN = 20;
const MIX_BREAK_MIN = 120;
/** Fewer say nothing; nor does one day, which may have been a hurried one. */
const FEWEST_POTS = 10;
const FEWEST_DAYS = 2;
const FEWEST_MIXES = 4;
/** So many times the middle one: something else was done meanwhile. */
const FAR_OUT = 4;

type Span = { readonly minutes: number; readonly of: number };

/** Minutes a pot takes. @param days the acts of each day, in any order @returns null where too little is known */
export function potMinutes(days: readonly (readonly LoggedAct[])[]): LearnedMinutes | null {
  const spans = days.map(spansBetween).filter((of) => of.length > 0);
  return spans.length < FEWEST_DAYS ? null : averageOf(spans.flat(), FEWEST_POTS);
}

/** Minutes a mix takes, from its first water to its pouring. @returns null where too little is known */
export function mixMinutes(mixes: readonly number[]): LearnedMinutes | null {
  const spans = mixes.filter((minutes) => minutes > AT_ONCE_MIN && minutes <= MIX_BREAK_MIN);
  return averageOf(
    spans.map((minutes) => ({ minutes, of: 1 })),
    FEWEST_MIXES,
  );
}

/** What lies between pots that were watered one after the other; pots noted in one go share what lies before them. */
function spansBetween(acts: readonly LoggedAct[]): Span[] {
  const spans: Span[] = [];
  let before: number | undefined;
  let last: number | undefined;
  let together = 0;
  const close = () => {
    if (before !== undefined && last !== undefined && together > 0 && last - before <= POT_BREAK_MIN * together)
      spans.push({ minutes: last - before, of: together });
    [before, together] = [last, 0];
  };
  for (const { atMin, pot } of [...acts].sort((a, b) => a.atMin - b.atMin)) {
    if (last === undefined || atMin - last > AT_ONCE_MIN) close();
    if (!pot) {
      close();
      [before, last] = [undefined, undefined];
      continue;
    }
    last = atMin;
    together += 1;
  }
  close();
  return spans;
}

function averageOf(spans: readonly Span[], fewest: number): LearnedMinutes | null {
  const each = ({ minutes, of }: Span) => minutes / of;
  const sorted = [...spans].sort((a, b) => each(a) - each(b));
  const middle = sorted[Math.floor(sorted.length / 2)];
  if (!middle) return null;
  const usual = sorted.filter((span) => each(span) <= FAR_OUT * each(middle));
  const of = usual.reduce((sum, span) => sum + span.of, 0);
  if (of < fewest) return null;
  // Half minutes: nobody plans by less.
  const minutes = Math.max(0.5, Math.round((2 * usual.reduce((sum, span) => sum + span.minutes, 0)) / of) / 2);
  return { minutes, of };
}
