import { BODIES, fillShares, litreOf } from './bodies.ts';
import { selfOf, type PotBelief } from './pot-belief.ts';
import { bodiesOf, courseOf, playPot, type PotWater } from './pot-path.ts';
import { natureAt } from './pot-quantities.ts';
import { alkaliAt, standAt } from './titration-curve.ts';

/*
 * At what pH to pour, so that what the clay and the roots do to it until the next round stays where the plant wants it. Either it is held as
 * steady as can be, or it is let swing: started low, and walked up through the whole range.
 */

/** No feed is poured more acid or more alkaline than this, whatever the clay does (common practice; science.md §6). */
export const POUR_PH = Object.freeze({ low: 4.5, high: 7 });
const STEP_PH = 0.1;

export type PourAim = 'steady' | 'swing';
/** A pot that is about to be filled with the mix: the mix and what stands in its pores blended, as they would be at the mix's pH of now. */
export type PotToPour = {
  readonly id: string;
  readonly water: PotWater;
  readonly belief: PotBelief;
  readonly season: number;
  readonly days: number;
  readonly window: { readonly low: number; readonly high: number };
};

/** How a pour would go in a pot: days inside the window, under and over it, and the pH it starts and ends at. */
export type PourOutcome = {
  readonly pourPh: number;
  readonly inside: number;
  readonly under: number;
  readonly over: number;
  readonly startPh: number;
  readonly endPh: number;
  /** Days inside by each of the pots that could be this one. */
  readonly by: readonly number[];
};
export type PourAdvice = {
  readonly pourPh: number;
  /** Every candidate, from the most acid. */
  readonly outcomes: readonly PourOutcome[];
  /** Pots for which another pour would have been better by a day and more: in order of what they lose. */
  readonly suffer: readonly {
    readonly id: string;
    readonly inside: number;
    readonly best: number;
    readonly bestPh: number;
  }[];
};

/** Members that stand for all, by where each puts the pH in the end: so far of the way from the lowest. */
const STAND_FOR_ALL = [0.06, 0.19, 0.31, 0.44, 0.56, 0.69, 0.81, 0.94];

/** The pot filled with the mix at a pH: what stood in the pores keeps its own. @param fullPh pH of the mix itself, closed, as it is poured */
export function pouredAt({ water, belief }: Pick<PotToPour, 'water' | 'belief'>, fullPh: number): PotWater {
  const { curve, standing, poreMl, reservoirMl } = water;
  const { poured = { ...litreOf(curve, standing), ph: standAt(curve, standing) } } = water;
  const { strength, carbonMmolL } = standing;
  // What it takes from one pH to another: the blend's buffers are nearly the mix's own.
  const alkali = (ph: number) => alkaliAt(curve, strength, carbonMmolL, ph);
  const charge = poured.strongIonsMeqL + alkali(fullPh) - alkali(poured.ph);
  const { members, columns, at } = belief.crowd;
  const moved = new Float64Array(members * BODIES);
  for (let m = 0; m < members; m++) {
    const nature = natureAt(at, m * columns);
    const b = bodiesOf(water, nature, m);
    const { reservoir, pores } = fillShares(nature, poreMl / reservoirMl);
    b[1]! += reservoir * (charge - poured.strongIonsMeqL);
    b[4]! += pores * (charge - poured.strongIonsMeqL);
    moved.set(b, m * BODIES);
  }
  return {
    ...water,
    poured: { ...poured, strongIonsMeqL: charge, ph: fullPh },
    bodies: { members, columns: BODIES, at: moved },
  };
}

/** The members that stand for all. */
function standFor({ water, belief, season, days }: PotToPour): number[] {
  const course = courseOf(days);
  const ends = Array.from({ length: belief.crowd.members }, (_, member) => {
    playPot(water, selfOf(belief, water, season, member), course);
    return { member, ph: course.ph[days]! };
  }).sort((a, b) => a.ph - b.ph);
  return STAND_FOR_ALL.map((share) => ends[Math.floor(share * ends.length)]!.member);
}

/**
 * How one pot would go, poured at a pH.
 * @param fullPh pH of the mix itself, closed, as it is poured @param members that stand for all, where they are known already
 */
export function pourOutcome(pot: PotToPour, fullPh: number, members = standFor(pot)): PourOutcome {
  const { belief, season, days, window } = pot;
  const poured = pouredAt(pot, fullPh);
  const course = courseOf(days);
  const strays = straysOf(belief);
  const weight = 1 / (members.length * strays.length);
  const by: number[] = [];
  let [inside, under, over, start, end] = [0, 0, 0, 0, 0];
  for (const member of members) {
    playPot(poured, selfOf(belief, poured, season, member), course);
    for (const stray of strays) {
      const share = daysIn(course.ph, window, stray);
      by.push(share.inside);
      inside += weight * share.inside;
      under += weight * share.under;
      over += weight * share.over;
      start += weight * course.ph[0]!;
      end += weight * course.ph[days]!;
    }
  }
  return { pourPh: fullPh, inside, under, over, startPh: start, endPh: end, by };
}

/**
 * How far the model has missed this pot's pH so far, either way: of four courses one ends so much higher, one so much lower. A pot it does not
 * understand is not moved from the habit on its word.
 */
function straysOf({ voices }: PotBelief): readonly number[] {
  const miss = STRAYS * Math.sqrt(voices.model);
  return [-miss, 0, 0, miss];
}
/** Makes their spread that of the misses. */
const STRAYS = Math.SQRT2;

/**
 * Days a course spends inside a window, under and over it; between two days the pH goes evenly.
 * @param stray how much higher than foretold its last day is; the days before by and by
 */
export function daysIn(
  ph: ArrayLike<number>,
  window: { readonly low: number; readonly high: number },
  stray = 0,
): { inside: number; under: number; over: number } {
  let [under, over] = [0, 0];
  const last = ph.length - 1;
  for (let day = 1; day < ph.length; day++) {
    const [from, to] = [ph[day - 1]! + (stray * (day - 1)) / last, ph[day]! + (stray * day) / last];
    under += shareBelow(from, to, window.low);
    over += 1 - shareBelow(from, to, window.high);
  }
  return { inside: Math.max(0, ph.length - 1 - under - over), under, over };
}

function shareBelow(from: number, to: number, limit: number): number {
  const [low, high] = from < to ? [from, to] : [to, from];
  if (high <= limit) return 1;
  if (low >= limit) return 0;
  return (limit - low) / (high - low);
}

/**
 * The pH to pour one mix at for its pots.
 * @param aim steady: most days inside; swing: as much of the range as can be walked through, then most days inside
 * @returns undefined for no pots
 */
export function advisePour(pots: readonly PotToPour[], aim: PourAim): PourAdvice | undefined {
  if (pots.length === 0) return undefined;
  const candidates = Array.from({ length: Math.round((POUR_PH.high - POUR_PH.low) / STEP_PH) + 1 }, (_, i) =>
    Number((POUR_PH.low + i * STEP_PH).toFixed(1)),
  );
  const table = pots.map((pot) => {
    const members = standFor(pot);
    return candidates.map((ph) => pourOutcome(pot, ph, members));
  });
  const most = Math.min(...pots.map(({ window }) => window.high)) - UNDER_THE_TOP_PH;
  // Of pots whose pH nobody ever read at a change, nothing under their window is asked for: one reading would tell more.
  const least = pots.every(({ belief }) => belief.seen.alkali === 0) ? Math.min(...pots.map((p) => p.window.low)) : 0;
  const advisable = candidates.map((ph) => ph >= least - 1e-9 && ph <= Math.max(most, USUAL_PH) + 1e-9);
  const worth = candidates.map((_, c) =>
    advisable[c] ? table.reduce((sum, row, p) => sum + worthOf(row[c]!, pots[p]!, aim), 0) : -Infinity,
  );
  const top = unharmed(candidates, worth, pots);
  // What everybody pours is left only for a gain that the model can be trusted with.
  const habit = candidates.indexOf(USUAL_PH);
  const leaves = (c: number) =>
    candidates[c]! >= Math.min(candidates[top]!, HARMS_BELOW_PH) &&
    worth[c]! >= worth[habit]! + TRUSTED_GAIN_DAYS * pots.length &&
    chanceOfLoss(table, c, habit) <= MOST_CHANCE;
  const sure = candidates.flatMap((_, c) => (leaves(c) ? [c] : []));
  const best =
    aim === 'swing' || sure.includes(top)
      ? top
      : sure.reduce((most, c) => (worth[c]! > worth[most]! + 1e-9 ? c : most), habit);
  const outcomes = candidates.map((pourPh, c) =>
    averageOf(
      table.map((row) => row[c]!),
      pourPh,
    ),
  );
  const suffer = pots
    .map((pot, p) => {
      const row = table[p]!;
      const own = row
        .filter((_, c) => advisable[c])
        .reduce((top, o) => (worthOf(o, pot, aim) > worthOf(top, pot, aim) + 1e-9 ? o : top));
      return { id: pot.id, inside: row[best]!.inside, best: own.inside, bestPh: own.pourPh };
    })
    .filter((s) => s.best - s.inside >= 1)
    .sort((a, b) => b.best - b.inside - (a.best - a.inside));
  return { pourPh: candidates[best]!, outcomes, suffer };
}

/** Under this roots are at risk on the first day, so that it must be worth it: a day of each week inside. Common practice, and a house rule. */
export const HARMS_BELOW_PH = 4.8;
const WORTH_A_WEEK = 1;

/** The candidate that is worth most; one low enough to hurt only where it gains a day a week for each pot. */
function unharmed(candidates: readonly number[], worth: readonly number[], pots: readonly PotToPour[]): number {
  const most = (from: number) =>
    worth.reduce((top, w, c) => (c >= from && (top < from || w > worth[top]! + 1e-9) ? c : top), -1);
  const [low, safe] = [most(0), most(candidates.findIndex((ph) => ph >= HARMS_BELOW_PH))];
  const days = pots.reduce((sum, pot) => sum + pot.days, 0);
  return worth[low]! - worth[safe]! < (WORTH_A_WEEK * days) / 7 ? safe : low;
}

/** How many in all of the pots that could be these would be inside for less than if they were poured as everybody does. */
function chanceOfLoss(table: readonly (readonly PourOutcome[])[], candidate: number, habit: number): number {
  const lost = table.flatMap((row) => row[candidate]!.by.map((inside, m) => inside < row[habit]!.by[m]! - LOSS_DAYS));
  return lost.filter(Boolean).length / lost.length;
}
const LOSS_DAYS = 0.25;
/** With more than this chance of a loss the habit stays. House rule. */
const MOST_CHANCE = 0.15;

/**
 * Higher than this under a window's top nothing is advised: there a mix holds more alkali than any label tells, and a pot that was foretold to fall from
 * above may stay above. Found on simulated pots (bench/pots.ts).
 */
const UNDER_THE_TOP_PH = 0.1;

/** What a feed is poured at where nothing is known (common practice), and the gain in days a pot for which it is left. House rule. */
export const USUAL_PH = 5.8;
const TRUSTED_GAIN_DAYS = 0.4;
/** Days a walked-through half of the range is worth when it is let swing. House rule. */
const SWING_DAYS = 0.6;
/** Just under the window costs less than over it: leaves of iron stay on offer. House rule: a tenth of a day. */
const OVER_COSTS = 0.1;

function worthOf(o: PourOutcome, { days, window }: PotToPour, aim: PourAim): number {
  const held = o.inside - OVER_COSTS * o.over;
  if (aim === 'steady') return held;
  const walked =
    (Math.min(window.high, Math.max(o.startPh, o.endPh)) - Math.max(window.low, Math.min(o.startPh, o.endPh))) /
    (window.high - window.low);
  return held + SWING_DAYS * days * Math.max(0, walked);
}

function averageOf(outcomes: readonly PourOutcome[], pourPh: number): PourOutcome {
  const mean = (of: (o: PourOutcome) => number) => outcomes.reduce((sum, o) => sum + of(o), 0) / outcomes.length;
  return {
    pourPh,
    inside: mean((o) => o.inside),
    under: mean((o) => o.under),
    over: mean((o) => o.over),
    startPh: mean((o) => o.startPh),
    endPh: mean((o) => o.endPh),
    by: outcomes[0]!.by.map((_, m) => mean((o) => o.by[m]!)),
  };
}
