import type { CareKind, CarePayload } from '../../contract/care.ts';
import { lookWords } from '../../contract/seen.ts';
import { countWords, doseWords, volumeWords, type Reading, type VolumeUnits } from '../../core/quantity/index.ts';
import { lookOf } from './visits.ts';

export const toWords = (to: string) => (to ? `, to ${to}` : '');
export function filledWords({ pouredOffL, freshL, to }: CarePayload<'clayFilled'>, water: string | null, vol: (ml: number) => string): string {
  const fresh = `${vol(freshL * 1000)} of ${water?.toLowerCase() ?? 'water'}`;
  return pouredOffL > 0 ? `Poured off ${vol(pouredOffL * 1000)}${toWords(to)}, put ${fresh} on` : `Put ${fresh} on`;
}

export function thinnedWords({ pourOffL, addL }: CarePayload<'batchThinned'>, vol: (ml: number) => string): string {
  return `${pourOffL > 0 ? `Poured off ${vol(pourOffL * 1000)} and added` : 'Thinned with'} ${vol(addL * 1000)} of water`;
}

/** What stood in an act before it was corrected: only what differs, in words. */
export function wasWords(kind: CareKind, before: unknown, after: unknown, units: VolumeUnits): string {
  const vol = (ml: number) => volumeWords(ml, units);
  const [old, now] = [figuresOf(kind, before, vol), figuresOf(kind, after, vol)];
  const changed = old.filter((figure, i) => figure !== now[i]);
  return changed.join(', ');
}

/** "12 drops, thinned 1 in 20". */
export function correctionWords({ dose, ratio }: CarePayload<'batchCorrection'>, toolKind: string | null): string {
  const amount = toolKind === 'dropper' ? countWords(dose.steps, 'drop') : doseWords(dose.doseMl);
  return ratio > 1 ? `${amount} thinned 1 in ${ratio}` : amount;
}

/** An act's figures, each in words, always in the same order. */
function figuresOf(kind: CareKind, payload: unknown, vol: (ml: number) => string): string[] {
  switch (kind) {
    case 'potFilled': {
      const p = payload as CarePayload<'potFilled'>;
      return [
        readingWords(p.oldReservoir.ppm, 'ppm'),
        readingWords(p.oldReservoir.ph, 'pH'),
        leftWords(p.oldReservoir.leftMl, vol),
        `filled ${vol(p.pouredMl)}`,
        `flushed ${vol(p.flushMl)}`,
        lookedWords(p),
      ];
    }
    case 'potSkipped':
      return [(payload as CarePayload<'potSkipped'>).reason];
    case 'batchPortion': {
      const p = payload as CarePayload<'batchPortion'>;
      return [doseWords(p.dose.doseMl), readingWords(p.reading, 'ppm')];
    }
    case 'batchThinned': {
      const p = payload as CarePayload<'batchThinned'>;
      return [thinnedWords(p, vol), readingWords(p.reading, 'ppm')];
    }
    case 'batchCorrection': {
      const p = payload as CarePayload<'batchCorrection'>;
      return [correctionWords(p, p.dose.doseMl / p.dose.steps > 0.021 ? 'dropper' : null), readingWords(p.reading, 'pH')];
    }
    case 'batchBase':
    case 'batchReading':
      return [readingWords((payload as CarePayload<'batchReading'>).reading, 'ppm')];
    case 'batchPh':
      return [readingWords((payload as CarePayload<'batchPh'>).reading, 'pH')];
    case 'waterRead': {
      const p = payload as CarePayload<'waterRead'>;
      return [readingWords(p.ppm, 'ppm'), readingWords(p.ph, 'pH')];
    }
    case 'potReread': {
      const p = payload as CarePayload<'potReread'>;
      return [readingWords(p.ppm, 'ppm'), readingWords(p.ph, 'pH'), leftWords(p.leftMl, vol)];
    }
    case 'waterCounted':
      return [vol((payload as CarePayload<'waterCounted'>).litres * 1000)];
    case 'clayRead': {
      const p = payload as CarePayload<'clayRead'>;
      return [readingWords(p.ppm, 'ppm'), readingWords(p.ph, 'pH'), p.temperatureC === null ? 'temperature not measured' : `${p.temperatureC} °C`];
    }
    case 'clayFilled':
      return [filledWords(payload as CarePayload<'clayFilled'>, null, vol)];
    case 'clayDrained':
      return [vol((payload as CarePayload<'clayDrained'>).pouredOffL * 1000)];
    case 'potHoldRead':
      return [readingWords((payload as CarePayload<'potHoldRead'>).reading, 'ppm')];
    default:
      return [];
  }
}

const leftWords = (ml: number | null, vol: (ml: number) => string) => (ml === null ? 'left not measured' : `${vol(ml)} left`);

function lookedWords({ look, seen }: CarePayload<'potFilled'>): string {
  const looked = lookOf({ look: look ?? null, seen: seen ?? null });
  return looked ? lookWords(looked) : 'not looked over';
}

function readingWords(reading: Reading | null, quantity: 'ppm' | 'pH'): string {
  if (reading === null || reading.kind === 'notMeasured') return `${quantity} not measured`;
  if (reading.kind === 'overRange') return 'over range';
  const figure = reading.kind === 'range' ? `${reading.low} to ${reading.high}` : String(reading.value);
  return quantity === 'pH' ? `pH ${figure}` : `${figure} ppm`;
}
