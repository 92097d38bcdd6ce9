/* Days nobody is there who knows the pots: how little somebody else can do so that no pot is dry, with plain water alone. */

/** A pot on the morning of the first day away. */
export type SitterPot = {
  readonly id: string;
  /** What it holds when full, mL. */
  readonly holdMl: number;
  /** What it drinks a day, mL. */
  readonly perDayMl: number;
  readonly leftMl: number;
};

export type SitterVisit = {
  readonly day: number;
  readonly pots: readonly { readonly id: string; readonly ml: number }[];
};
export type SitterPlan = {
  /** Filled up before going: what spares the sitter a visit to it. */
  readonly before: readonly { readonly id: string; readonly ml: number }[];
  /** Days counted from the first day away. */
  readonly visits: readonly SitterVisit[];
  /** What is left on the day of coming back, least of its full first. */
  readonly back: readonly { readonly id: string; readonly share: number }[];
};

/** Down to this share of what it holds a pot is to be watered. House rule. */
const LOW_SHARE = 0.15;
/** Jugs are filled to the next of these, mL. House rule. */
const STEP_ML = 50;
const LEAST_ML = 10;

/**
 * The fewest visits that keep every pot from running dry until the grower is back, each as late as it may be, and what each pot gets at them: enough to last,
 * no more than it holds.
 * @param days days away, 1 and more: back on the morning after the last
 */
export function sitterPlan(pots: readonly SitterPot[], days: number): SitterPlan {
  const before: { id: string; ml: number }[] = [];
  const left = new Map<string, number>();
  for (const pot of pots) {
    const room = roundDown(pot.holdMl - pot.leftMl);
    const fills = lasts(pot, pot.leftMl) < days && room >= LEAST_ML;
    if (fills) before.push({ id: pot.id, ml: room });
    left.set(pot.id, fills ? pot.leftMl + room : Math.min(pot.holdMl, pot.leftMl));
  }
  const on = visitDays(pots, left, days);
  const visits: SitterVisit[] = on.map((day, n) => ({
    day,
    pots: pourings(pots, left, day, on[n + 1] ?? days, days, on[n - 1] ?? 0),
  }));
  const last = on.at(-1) ?? 0;
  const back = pots.map((pot) => ({
    id: pot.id,
    share: Math.max(0, left.get(pot.id)! - pot.perDayMl * (days - last)) / Math.max(1, pot.holdMl),
  }));
  return {
    before,
    visits: visits.filter((visit) => visit.pots.length > 0),
    back: back.sort((a, b) => a.share - b.share),
  };
}

const roundDown = (ml: number) => Math.floor(ml / LEAST_ML) * LEAST_ML;

/** Whole days a pot with so much left can be left alone. */
const lasts = ({ holdMl, perDayMl }: SitterPot, leftMl: number): number =>
  perDayMl <= 0 ? Infinity : Math.max(0, Math.floor((leftMl - LOW_SHARE * holdMl) / perDayMl));

/** Each visit on the last day that the most thirsty of those left can wait for, all filled up at it. */
function visitDays(pots: readonly SitterPot[], left: ReadonlyMap<string, number>, days: number): number[] {
  const until = new Map(pots.map((pot) => [pot.id, lasts(pot, left.get(pot.id)!)]));
  const visits: number[] = [];
  for (;;) {
    const day = Math.min(...until.values(), Infinity);
    // Nobody can be helped by two visits on a day.
    if (day >= days) return visits;
    const on = Math.max(day, (visits.at(-1) ?? -1) + 1);
    if (on >= days) return visits;
    visits.push(on);
    for (const pot of pots) until.set(pot.id, Math.max(until.get(pot.id)!, on + Math.max(1, lasts(pot, pot.holdMl))));
  }
}

/** What is poured at a visit: those that would not last until the next get what lasts until the end, or all they hold. `left` is brought up to it. */
function pourings(
  pots: readonly SitterPot[],
  left: Map<string, number>,
  day: number,
  next: number,
  days: number,
  lastDay: number,
): { id: string; ml: number }[] {
  const poured: { id: string; ml: number }[] = [];
  for (const pot of pots) {
    const now = Math.max(0, left.get(pot.id)! - pot.perDayMl * (day - lastDay));
    const wants = LOW_SHARE * pot.holdMl + pot.perDayMl * (days - day) - now;
    const waits = lasts(pot, now) >= next - day;
    const room = roundDown(pot.holdMl - now);
    const ml = waits || wants <= 0 ? 0 : Math.min(room, Math.ceil(wants / STEP_ML) * STEP_ML);
    left.set(pot.id, now + ml);
    if (ml >= LEAST_ML) poured.push({ id: pot.id, ml });
  }
  return poured;
}
