import type { ClayBatchView } from '../../contract/clay.ts';
import type { LeachStanding } from '../../core/clay/index.ts';
import { ppmText } from '../shell/format.ts';

/** A batch in three words, under its name. */
export function stateWords(batch: ClayBatchView): string {
  const pots = batch.pots.length;
  const inUse = pots === 1 ? 'in use in 1 pot' : `in use in ${pots} pots`;
  if (batch.retiredOn) return 'gone';
  switch (batch.state) {
    case 'bag':
      return 'in its bag';
    case 'rinsed':
      return 'rinsed only';
    case 'soaking':
      return batch.lastReadPpm === null ? 'soaking, not read' : `soaking, read ${ppmText(batch.lastReadPpm)}`;
    case 'drained':
      return 'drained, not ready';
    case 'ready':
      return 'ready';
    case 'leached':
      return pots > 0 ? inUse : 'leached before';
    case 'unleached':
      return pots > 0 ? inUse : 'never leached';
    case 'usedUp':
      return pots > 0 ? inUse : 'used up';
  }
}

/** Nearer than this it is told as one figure. */
const ALONG_TOLD = 0.15;

/** How far a bath is on its way to flat; between what, while nobody can tell nearer. */
export function alongWords({ along }: Pick<LeachStanding, 'along'>): string {
  const percent = (share: number) => Math.min(100, Math.round(share * 20) * 5);
  const [low, high] = [percent(along.low), percent(along.high)];
  return along.high - along.low <= ALONG_TOLD || low === high
    ? `about ${Math.round(along.mean * 100)} % of the way to flat`
    : `${low} to ${high} % of the way to flat`;
}

/** Before so long a bath's reading says little of what it will come to (readings at 1 and 3 days tell nearly all that five would). */
const SAYS_LITTLE_H = 20;

/** Which reading would help most. */
export function readingWords({ hours }: Pick<LeachStanding, 'hours'>): string {
  return hours < SAYS_LITTLE_H
    ? 'One reading tomorrow tells more than three today.'
    : 'A reading a day or two after the last tells most.';
}

/** "8 to 16 mm" */
export function grainWords({ grainLowMm: low, grainHighMm: high }: ClayBatchView['values']): string {
  if (low !== null && high !== null) return `${low} to ${high} mm`;
  return low !== null ? `${low} mm and over` : high !== null ? `up to ${high} mm` : '';
}

const DAY_MS = 86_400_000;
/** "Saturday", "tomorrow", "this evening", or the date when it is far. */
export function dayWords(ms: number, nowMs: number, zone: string): string {
  const day = (at: number) => new Date(at).toLocaleDateString('en-CA', { timeZone: zone });
  const days = Math.round((Date.parse(`${day(ms)}T12:00Z`) - Date.parse(`${day(nowMs)}T12:00Z`)) / DAY_MS);
  if (days <= 0) return 'today';
  if (days === 1) return 'tomorrow';
  if (days < 7) return new Date(ms).toLocaleDateString('en-GB', { weekday: 'long', timeZone: zone });
  return new Date(ms)
    .toLocaleDateString('en-GB', { weekday: 'short', day: 'numeric', month: 'short', timeZone: zone })
    .replace(',', '');
}

/** "9 h", "2 d 4 h" */
export function spanWords(hours: number): string {
  if (hours < 1) return `${Math.max(1, Math.round(hours * 60))}\u00a0min`;
  if (hours < 72) return `${Math.round(hours)}\u00a0h`;
  return `${Number((hours / 24).toFixed(1))}\u00a0d`;
}
