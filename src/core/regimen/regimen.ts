/**
 * A way of feeding. The union is open: each school is one more kind, and everything that asks what a pot is due switches on `kind`.
 * Strength is net over base in µS/cm at 25 °C; it is shown on the grower's own pen scale.
 */
export type Regimen = ConstantDilute;

/** Weak feed at every watering, flushed fully first with whatever water is plentiful (common practice). */
export type ConstantDilute = {
  readonly kind: 'constantDilute';
  readonly netEcUsCm: number;
  readonly everyDays: number;
  /** Flush in multiples of the reservoir: a rule of thumb, said to be one. */
  readonly flushTimesReservoir: number;
  readonly pourPhLow: number;
  readonly pourPhHigh: number;
};

/** Three times the reservoir through the clay from the top (common practice; no source). */
export const FLUSH_RULE_OF_THUMB = 3;

/** Flush water for a pot, mL, by rule of thumb. */
export function flushMl(regimen: Regimen, reservoirMl: number): number {
  return regimen.flushTimesReservoir * reservoirMl;
}
