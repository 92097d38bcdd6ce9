import { normal, type Random } from '../core/simulation/index.ts';
import type { PenTruth } from '../server/devices/simulated-truth.ts';

/** What a pen shows of the truth: its gain and offset, its noise, its last digit. */
export function penReading(truth: number, pen: PenTruth, random: Random): number {
  const shown = truth * pen.gain + pen.offset + (pen.noise + pen.noiseShare * truth) * normal(random);
  return Math.max(0, Number((Math.round(shown / pen.resolution) * pen.resolution).toFixed(1)));
}
