/* What both the rules and the collection's picture go by. Of the handbook where it has a figure, else house rules. */

/** What came out so many times the pour, two visits running, is salts gathering. */
export const GATHERING = 1.6;
/** Past so many times the pour it is on its way there. House rule. */
export const EDGING = 1.3;
/** Under so many times the pour it takes what it is given. House rule. */
export const TAKES = 0.6;
/** At the change over this it drifts, and under this it stands low. Of the handbook. */
export const PH_DRIFTING = 7;
export const PH_LOW = 5.2;
/** Down to this share of the reservoir it ran dry. */
export const RAN_DRY = 0.04;
/** A ratio has risen where it is past the one before it by this much. */
const RISEN = 0.08;

/** The last three come-outs against their pours rise, each past the one before, to well over the pour and over what this pot used to do. Oldest first. */
export function saltsRise(all: readonly number[]): boolean {
  const last = all.slice(-3);
  const before = all.slice(0, -2).sort((a, b) => a - b);
  const usual = before.length === 0 ? 1 : before[Math.floor(before.length / 2)]!;
  return (
    last.length === 3 &&
    last[1]! > last[0]! + RISEN &&
    last[2]! > last[1]! + RISEN &&
    last[2]! > Math.max(1.35, usual + 0.3)
  );
}

/**
 * Is a pot down to its last before it is due, in whole days from today? A day early and still some days off is within what a forecast errs, and
 * 15 % are left on that day: it is said two days early, or once it is a matter of tomorrow.
 */
export function dryBeforeItsDay(daysUntilDry: number, daysUntilDue: number): boolean {
  return daysUntilDry < daysUntilDue && (daysUntilDry <= 1 || daysUntilDue - daysUntilDry >= 2);
}
