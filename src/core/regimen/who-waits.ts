/** A pot that wants still water today. `harm`: of waiting until there is more, 0 none. */
export type Wants = { readonly potId: string; readonly stillMl: number; readonly harm: number };

/**
 * Which pots wait where there is not enough still water: those it harms least, and of those as few as will do.
 * @param wants mL each @param availableMl in the tank @returns ids of those that wait, least harm first; none where it reaches
 */
export function whoWaits(wants: readonly Wants[], availableMl: number): string[] {
  const total = wants.reduce((sum, w) => sum + w.stillMl, 0);
  let over = total - Math.max(0, availableMl);
  if (over <= 1e-9) return [];
  const byHarm = wants.filter((w) => w.stillMl > 0).sort((a, b) => a.harm - b.harm || b.stillMl - a.stillMl);
  const waits: Wants[] = [];
  for (const want of byHarm) {
    if (over <= 1e-9) break;
    waits.push(want);
    over -= want.stillMl;
  }
  // One that came in before a larger one may have become unnecessary: the most harmed goes back first.
  for (const want of [...waits].reverse()) {
    if (want.stillMl <= -over + 1e-9) {
      waits.splice(waits.indexOf(want), 1);
      over += want.stillMl;
    }
  }
  return waits.map((w) => w.potId);
}

/**
 * The harm of leaving a pot until tomorrow, house rule: a dry pot most, then salts past twice the feed, days late, and a soak that can wait
 * least of all.
 * @param daysLeft days until it is down to its last (negative: it is); undefined where nobody knows
 */
export function harmOfWaiting(pot: {
  readonly daysLeft: number | undefined;
  readonly saltTimes: number | undefined;
  readonly daysLate: number;
  readonly soak: boolean;
  readonly tender: boolean;
}): number {
  const dry = pot.daysLeft === undefined ? 3 : 10 * Math.max(0, 1 - pot.daysLeft / 4);
  const salt = pot.saltTimes === undefined ? 0 : Math.max(0, pot.saltTimes - 1) * 3;
  return dry + salt + Math.min(5, Math.max(0, pot.daysLate)) + (pot.tender ? 1 : 0) - (pot.soak ? 2 : 0);
}
