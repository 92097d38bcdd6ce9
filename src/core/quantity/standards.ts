import { DomainError } from './domain-error.ts';

/**
 * Calibration standards a grower can buy, with what they truly are at temperature. pH: NIST primary standards (phthalate, phosphate, borax,
 * carbonate) and the usual 7.00; conductivity: 0.01 mol/L potassium chloride. Values from memory of NIST SP 260-53 and of bottle labels.
 */
export const STANDARDS = {
  ec1413: { quantity: 'ppm', name: '1413 µS/cm', at: [[25, 1413]] },
  ph401: {
    quantity: 'pH',
    name: 'pH 4.01',
    at: [
      [5, 4.0],
      [15, 4.0],
      [20, 4.0],
      [25, 4.01],
      [30, 4.02],
      [35, 4.02],
    ],
  },
  ph686: {
    quantity: 'pH',
    name: 'pH 6.86',
    at: [
      [5, 6.95],
      [10, 6.92],
      [15, 6.9],
      [20, 6.88],
      [25, 6.86],
      [30, 6.85],
      [35, 6.84],
    ],
  },
  ph700: {
    quantity: 'pH',
    name: 'pH 7.00',
    at: [
      [5, 7.09],
      [10, 7.06],
      [15, 7.04],
      [20, 7.02],
      [25, 7.0],
      [30, 6.99],
      [35, 6.98],
    ],
  },
  ph918: {
    quantity: 'pH',
    name: 'pH 9.18',
    at: [
      [5, 9.39],
      [10, 9.33],
      [15, 9.28],
      [20, 9.23],
      [25, 9.18],
      [30, 9.14],
      [35, 9.1],
    ],
  },
  ph1001: {
    quantity: 'pH',
    name: 'pH 10.01',
    at: [
      [5, 10.25],
      [10, 10.18],
      [15, 10.12],
      [20, 10.06],
      [25, 10.01],
      [30, 9.97],
      [35, 9.93],
    ],
  },
} as const satisfies Record<
  string,
  { quantity: 'ppm' | 'pH'; name: string; at: readonly (readonly [number, number])[] }
>;
export type StandardId = keyof typeof STANDARDS;
export const STANDARD_IDS = Object.keys(STANDARDS) as [StandardId, ...StandardId[]];

/** Usual share by which conductivity grows for each °C, of what it is at 25 °C. */
export const EC_PER_C = 0.02;

/**
 * Conductivity at 25 °C from what an uncompensated meter shows at a temperature: EC/(1 + 0.02 (T − 25)).
 * @param ecUsCm shown, ≥ 0 @param temperatureC of the sample, 0 to 50
 * @throws DomainError `out-of-range` for a sample frozen or hot
 * @example ecAt25(1272, 20) // about 1413
 */
export function ecAt25(ecUsCm: number, temperatureC: number, perC = EC_PER_C): number {
  if (!(temperatureC >= 0 && temperatureC <= 50)) {
    throw new DomainError(
      'out-of-range',
      'A sample is read between 0 and 50 °C',
      temperatureC,
      'Let it come to room temperature and read again.',
    );
  }
  return ecUsCm / (1 + perC * (temperatureC - 25));
}

/**
 * What a standard truly is at a temperature, between the table's points by a straight line: pH, or µS/cm at 25 °C.
 * @param temperatureC taken as 25 where nobody measured it
 */
export function standardValue(id: StandardId, temperatureC: number | null): number {
  const points: readonly (readonly [number, number])[] = STANDARDS[id].at;
  const t = Math.min(35, Math.max(5, temperatureC ?? 25));
  const after = points.findIndex(([at]) => at >= t);
  if (after <= 0) return points[after === 0 ? 0 : points.length - 1]![1];
  const [[t1, v1], [t2, v2]] = [points[after - 1]!, points[after]!];
  return v1 + ((v2 - v1) * (t - t1)) / (t2 - t1);
}
