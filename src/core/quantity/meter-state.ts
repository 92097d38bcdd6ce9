import { ecAt25, standardValue, type StandardId } from './standards.ts';

/** A pen looked at in a standard, or in air (`zero`: it should show nothing). `at` ISO instants. */
export type MeterCheck = {
  readonly id: string;
  readonly at: string;
  readonly standard: StandardId | 'zero';
  /** On the pen's own scale. */
  readonly shown: number;
  readonly temperatureC: number | null;
  /** It stood still when it was read. */
  readonly settled: boolean;
  /** It was set to the standard afterwards. */
  readonly adjusted: boolean;
};
/** A pen found off: what it read from an instant on cannot be trusted. `from` null: since its last good check. */
export type MeterMark = {
  readonly id: string;
  readonly at: string;
  readonly from: string | null;
  /** By how much it reads wrong: a share for ppm (−0.12 reads 12 % low), pH units for pH; null where nobody knows. */
  readonly offBy: number | null;
};
/** Readings at or after `from` and before `to` (null: until now) are tainted. */
export type Taint = {
  readonly markId: string;
  readonly from: string | null;
  readonly to: string | null;
  readonly offBy: number | null;
};

/** `compensated` absent or true: it brings its reading to 25 °C by itself. */
export type Instrument = {
  readonly quantity: 'ppm' | 'pH';
  readonly scale: number | null;
  readonly resolution: number;
  readonly compensated?: boolean;
};

export type MeterState = {
  readonly lastZero: MeterCheck | undefined;
  readonly lastCheck: MeterCheck | undefined;
  readonly lastGood: MeterCheck | undefined;
  /** pH units at the middle standard; a share of the reading for ppm. As left after setting. Undefined before the first check. */
  readonly offset: number | undefined;
  /** pH: share of the true span between two standards the pen shows, from the newest pair within a day; undefined without one. */
  readonly slope: number | undefined;
  readonly taints: readonly Taint[];
  /** The taint that still runs. */
  readonly off: Taint | undefined;
};

/** A pen within these of its standard is in order: a twentieth for conductivity; a tenth of pH, or its last digit and a half. */
export const GOOD_SHARE = 0.05;
export const GOOD_PH = 0.1;
/** What a pen may show in air: two of its last digits. */
export const zeroAllowed = (resolution: number): number => 2 * resolution;

/** How far a check was off: a share of the standard for ppm, pH units for pH, the figure itself for zero. */
export function checkError(
  check: Pick<MeterCheck, 'standard' | 'shown' | 'temperatureC'>,
  pen: Pick<Instrument, 'scale' | 'compensated'>,
): number {
  if (check.standard === 'zero') return check.shown;
  const truth = standardValue(check.standard, check.temperatureC);
  if (check.standard !== 'ec1413') return check.shown - truth;
  const shown =
    pen.compensated === false && check.temperatureC !== null ? ecAt25(check.shown, check.temperatureC) : check.shown;
  return shown / (truth * (pen.scale ?? 0.5)) - 1;
}

/** Whether a check found the pen in order. A figure that would not settle never is. */
export function isGood(
  check: Pick<MeterCheck, 'standard' | 'shown' | 'temperatureC' | 'settled'>,
  pen: Instrument,
): boolean {
  if (!check.settled) return false;
  const error = Math.abs(checkError(check, pen));
  if (check.standard === 'zero') return error <= zeroAllowed(pen.resolution);
  return error <= (check.standard === 'ec1413' ? GOOD_SHARE : Math.max(GOOD_PH, 1.5 * pen.resolution)) + 1e-9;
}

const DAY_MS = 86_400_000;

/**
 * How a pen stands, from its checks and marks in any order.
 * A mark taints from its own start, or from the last good check before it (that check's readings stand), until the pen is next set or found
 * good; where it was never checked, everything it ever read. A pen that was found off and set before it was marked is tainted up to that check.
 */
export function meterState(pen: Instrument, checks: readonly MeterCheck[], marks: readonly MeterMark[]): MeterState {
  const inTime = [...checks].sort((a, b) => (a.at < b.at ? -1 : a.at > b.at ? 1 : 0));
  const inStandard = inTime.filter((c) => c.standard !== 'zero');
  const lastCheck = inStandard[inStandard.length - 1];
  const restored = (c: MeterCheck) => c.adjusted || isGood(c, pen);
  const taints = [...marks]
    .sort((a, b) => (a.at < b.at ? -1 : 1))
    .map((mark): Taint => {
      const before = inStandard.filter((c) => c.at <= mark.at);
      // Found off, set at once and marked after that: the mark is about what it read before it was set, not about what it reads now.
      const last = before[before.length - 1];
      const setAlready = last?.adjusted && !isGood(last, pen) ? last : undefined;
      const goodBefore = before.filter((c) => c !== setAlready && restored(c)).pop();
      const goodAfter = setAlready ?? inStandard.find((c) => c.at > mark.at && restored(c));
      return {
        markId: mark.id,
        from: mark.from ?? goodBefore?.at ?? null,
        to: goodAfter?.at ?? null,
        offBy: mark.offBy,
      };
    });
  return {
    lastZero: inTime.filter((c) => c.standard === 'zero').pop(),
    lastCheck,
    lastGood: inStandard.filter(restored).pop(),
    offset: lastCheck && (lastCheck.adjusted ? 0 : checkError(lastCheck, pen)),
    slope: pen.quantity === 'pH' ? slopeOf(inStandard) : undefined,
    taints,
    off: taints.find((t) => t.to === null),
  };
}

/** Whether a reading taken at an instant falls under a taint; gives the taint. */
export function taintAt(taints: readonly Taint[], at: string): Taint | undefined {
  return taints.find((t) => (t.from === null || at > t.from) && (t.to === null || at < t.to));
}

/** 1 SD that a taint adds to a reading: as much as the pen was found off, or, where nobody knows, a tenth (0.3 of pH). */
export function taintSd(taint: Taint, quantity: 'ppm' | 'pH'): number {
  return Math.max(Math.abs(taint.offBy ?? 0), taint.offBy === null ? (quantity === 'pH' ? 0.3 : 0.1) : 0);
}

/** Shown span over true span of the newest two different standards read within a day of each other. */
function slopeOf(checks: readonly MeterCheck[]): number | undefined {
  const last = checks[checks.length - 1];
  if (!last || last.standard === 'zero') return undefined;
  const other = [...checks]
    .reverse()
    .find((c) => c.standard !== last.standard && Date.parse(last.at) - Date.parse(c.at) <= DAY_MS);
  if (!other || other.standard === 'zero') return undefined;
  const truth = standardValue(last.standard, last.temperatureC) - standardValue(other.standard, other.temperatureC);
  return Math.abs(truth) > 0.5 ? (last.shown - other.shown) / truth : undefined;
}
