import type { ForecastKind } from './calibration.ts';
import type { FillSeen, PouredMix } from './pot-log.ts';
import { standAt } from './titration-curve.ts';

/*
 * What makes the old water of a filling harder to foretell than most: of the filling itself, and of what came until it was read.
 */

/** More than so much ammonium and alkalinity make a mix another kind of mix, mmol/L and mmol/L of carbon. */
const MUCH_AMMONIUM = 0.15;
const HARD_CARBON = 0.8;
/** A pour, a flush or a wait that differs from the last by more than this is a change: pH, and times. */
const CHANGED_PH = 0.35;
const CHANGED_TIMES = 1.35;
const CHANGED_FLUSH = 1.7;
const OVERDUE = 1.6;
/** Thirstier than its months by this much, a wait was a hot one. */
export const HOT_TIMES = 1.2;
/** A pH that is read more coarsely than this was read by eye. */
const COLOUR_SD = 0.15;
/** Until so many visits were read a pot, or its new clay, is new. */
const NEW_VISITS = 3;

/** What a filling is, before anything was read of it. */
export type Filling = Pick<FillSeen, 'mix' | 'flushed' | 'pouredMl'>;

/**
 * What is special about a filling. @param earlier the two before it: a pot takes two to settle into another pour, feed or flush, and so long its habit says little
 */
export function kindsOf(fill: Filling, earlier: readonly (Filling | undefined)[]): ForecastKind[] {
  const kinds: ForecastKind[] = [];
  const { mix } = fill;
  if (!mix) return kinds;
  const { curve, standing } = mix;
  if (standing.strength * curve.ammoniumMmolL > MUCH_AMMONIUM) kinds.push('ammonium');
  if (standing.carbonMmolL > HARD_CARBON) kinds.push('hard');
  if (earlier.some((before) => before?.mix && isChanged(fill, before, mix, before.mix))) kinds.push('changed');
  return kinds;
}

function isChanged(fill: Filling, before: Filling, mix: PouredMix, was: PouredMix): boolean {
  const times = (a: number, b: number) => Math.max((a + 1e-9) / (b + 1e-9), (b + 1e-9) / (a + 1e-9));
  const ec = ({ curve, standing }: PouredMix) => Math.max(1, curve.ecUsCm * standing.strength);
  const flushMl = ({ flushed }: Filling) => flushed.reduce((sum, { ml }) => sum + ml, 0);
  return (
    Math.abs(standAt(mix.curve, mix.standing) - standAt(was.curve, was.standing)) > CHANGED_PH ||
    times(ec(mix), ec(was)) > CHANGED_TIMES ||
    times(flushMl(fill) + 0.2 * fill.pouredMl, flushMl(before) + 0.2 * before.pouredMl) > CHANGED_FLUSH
  );
}

/** What came to be special until it was read. */
export function onTheWay(
  fill: Pick<FillSeen, 'phSd' | 'toppedUp'>,
  days: number,
  waits: readonly number[],
): ForecastKind[] {
  const usual = waits.length === 0 ? days : waits.reduce((sum, w) => sum + w, 0) / waits.length;
  return [
    ...(waits.length < NEW_VISITS ? (['new'] as const) : []),
    ...(days > OVERDUE * usual ? (['overdue'] as const) : []),
    ...(fill.phSd > COLOUR_SD ? (['kit'] as const) : []),
    ...(fill.toppedUp ? (['toppedUp'] as const) : []),
  ];
}
