import { volumeWords, type Reading, type VolumeUnits } from '../../core/quantity/index.ts';
import type { Vol } from './definition.ts';

export const volIn =
  (units: VolumeUnits): Vol =>
  (ml) =>
    volumeWords(ml, units);

/** "105 ppm", "pH 5.8 to 6.0", "ppm not measured". */
export function readingWords(reading: Reading | null, quantity: 'ppm' | 'pH'): string {
  if (reading === null || reading.kind === 'notMeasured') return `${quantity} not measured`;
  if (reading.kind === 'overRange') return 'over range';
  const figure = reading.kind === 'range' ? `${reading.low} to ${reading.high}` : String(reading.value);
  return quantity === 'pH' ? `pH ${figure}` : `${figure} ppm`;
}

export const leftWords = (ml: number | null, vol: Vol) => (ml === null ? 'left not measured' : `${vol(ml)} left`);
export const toWords = (to: string) => (to ? `, to ${to}` : '');
