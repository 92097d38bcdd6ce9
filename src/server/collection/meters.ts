import type { CarePayload } from '../../contract/care.ts';
import { penPhSd } from '../../core/correction/index.ts';
import {
  ecAt25,
  isGood,
  meterState,
  taintAt,
  type MeterCheck,
  type MeterMark,
  type Reading,
  type Taint,
} from '../../core/quantity/index.ts';
import { localDateOf, plusDays } from '../../core/regimen/index.ts';
import type { Meter } from '../database/entities.ts';
import type { Rows } from './rows.ts';

/** A meter with what was found of it since: its checks, its marks, and stretches of time whose readings cannot be trusted. */
export type KnownMeter = Meter & {
  /** It sends what it reads by itself. */
  readonly sends: boolean;
  readonly taints: readonly Taint[];
  readonly checks: readonly MeterCheck[];
  readonly marks: readonly MeterMarkWhy[];
};
export type MeterMarkWhy = MeterMark & { readonly why: string };
/** By id; the pens at hand first, those out of use last. */
export type Meters = ReadonlyMap<string, KnownMeter>;

/** Every meter. Checks and marks are few, however long the log. */
export function foldMeters(rows: Rows): Map<string, KnownMeter> {
  const meters = rows<Meter & { sends: 0 | 1 }>(
    `SELECT *, EXISTS (SELECT 1 FROM instrument i WHERE i.meterId = meter.id AND i.withdrawnOn IS NULL) AS sends FROM meter ORDER BY id IN (SELECT value FROM setting WHERE key IN ('mainPpmMeter', 'mainPhMeter')) DESC, retiredOn IS NOT NULL, position`,
  );
  const logs = new Map<string, { checks: MeterCheck[]; marks: MeterMarkWhy[] }>(
    meters.map(({ id }) => [id, { checks: [], marks: [] }]),
  );
  for (const { id, kind, at, payload } of rows<{ id: string; kind: string; at: string; payload: string }>(
    `SELECT id, kind, at, payload FROM care_event WHERE kind IN ('meterChecked', 'meterMarkedOff') AND voidedBy IS NULL ORDER BY at, seq`,
  )) {
    if (kind === 'meterChecked') {
      const { meterId, ...check } = JSON.parse(payload) as CarePayload<'meterChecked'>;
      logs.get(meterId)?.checks.push({ id, at, ...check });
    } else {
      const { meterId, from, offBy, why } = JSON.parse(payload) as CarePayload<'meterMarkedOff'>;
      logs.get(meterId)?.marks.push({ id, at, from, offBy, why });
    }
  }
  return new Map(
    meters.map((meter) => {
      const { checks, marks } = logs.get(meter.id)!;
      return [
        meter.id,
        {
          ...meter,
          sends: meter.sends === 1,
          checks,
          marks,
          taints: marks.length > 0 ? meterState(sound(meter), checks, marks).taints : [],
        },
      ];
    }),
  );
}

/** SQLite keeps yes and no as 1 and 0. */
export function sound(meter: Meter): Meter {
  return { ...meter, compensated: Boolean(meter.compensated) };
}

/** What a pen's figure is taken to be on where nobody says: the scale most pens have. Only lines of earlier versions name no pen; the Book says so of each. */
export const ASSUMED_SCALE = 0.5;
/** The scale of a pen's ppm. */
export const scaleOf = (meter: { readonly scale: number | null } | undefined): number => meter?.scale ?? ASSUMED_SCALE;

/** Conductivity at 25 °C behind a figure; a pen that does not compensate is corrected where the sample's temperature is known. */
export function ecOf(shown: number, meter: Meter | undefined, warm: number | null): number {
  const ecUsCm = shown / scaleOf(meter);
  return meter && !meter.compensated && warm !== null ? ecAt25(ecUsCm, warm) : ecUsCm;
}

/** Whether what a meter read at an instant is tainted; false where there is no meter. */
export function isTainted(meter: Pick<KnownMeter, 'taints'> | undefined, at: string): boolean {
  return meter !== undefined && taintAt(meter.taints, at) !== undefined;
}

/** What a pen found off by a known amount shows too much at an instant; 0 for a pen in order, or off by nobody knows how much. */
export function phOffset(meter: Pick<KnownMeter, 'taints'> | undefined, at: string): number {
  return (meter && taintAt(meter.taints, at)?.offBy) ?? 0;
}

/** A pH as it counts: of a pen found off by a known amount, put right by that; by an unknown one, it says nothing of where the solution stands. */
export function trustedPh(ph: number, meter: Pick<KnownMeter, 'taints'> | undefined, at: string): number | undefined {
  const taint = meter && taintAt(meter.taints, at);
  if (!taint) return ph;
  return taint.offBy === null ? undefined : ph - taint.offBy;
}

/** The day by which a pen is to be looked at in a standard again; null where it never read one well. */
export function checkDueOn(meter: KnownMeter, zone: string): string | null {
  const { lastGood } = meterState(sound(meter), meter.checks, meter.marks);
  return lastGood ? plusDays(localDateOf(new Date(lastGood.at), zone), meter.checkEveryDays) : null;
}

/** "reads about 0.3 low since 4 Nov": a pen found off and not set since, in words; null where it is in order. */
export function offWords(meter: KnownMeter | undefined, zone: string): string | null {
  if (!meter) return null;
  const open = meter.taints.find((t) => t.to === null);
  const zero = offZero(meter);
  if (!open) return zero && `showed ${zero.shown} in air on ${shortDay(zero.at, zone)}`;
  const by =
    open.offBy === null
      ? 'reads wrong'
      : `reads about ${meter.quantity === 'pH' ? Math.abs(open.offBy).toFixed(1) : `${Math.abs(100 * open.offBy).toFixed(0)} %`} ${open.offBy < 0 ? 'low' : 'high'}`;
  return `${by}${open.from ? ` since ${shortDay(open.from, zone)}` : ''}`;
}

const shortDay = (at: string, zone: string) =>
  new Date(`${localDateOf(new Date(at), zone)}T12:00:00Z`).toLocaleDateString('en-GB', {
    day: 'numeric',
    month: 'short',
    timeZone: 'UTC',
  });

/** The last look in air, where the pen showed more than it may and was not set since. */
export function offZero(meter: KnownMeter): MeterCheck | null {
  const last = meter.checks.findLast((c) => c.standard === 'zero' || c.adjusted);
  return last?.standard === 'zero' && !last.adjusted && !isGood(last, sound(meter)) ? last : null;
}

/** Whether a meter can be the one at hand: everything is shown in its ppm, which a conductivity meter does not have. A drop kit may be all there is for pH. */
export function canBeAtHand(meter: Meter): boolean {
  return meter.quantity === 'pH' || meter.unit === 'ppm';
}

/** The pen at hand of a kind: the one chosen, or else the first in use. */
export function mainMeter(meters: Meters, quantity: Meter['quantity']): KnownMeter | undefined {
  return [...meters.values()].find(
    (meter) => meter.quantity === quantity && meter.retiredOn === null && canBeAtHand(meter),
  );
}

/** The pen at hand as pages name it; null where there is none. */
export function penAtHand(
  meters: Meters,
  quantity: Meter['quantity'],
): { id: string; name: string; simulated: boolean; sends: boolean } | null {
  const meter = mainMeter(meters, quantity);
  return meter ? { id: meter.id, name: meter.name, simulated: meter.device === 'simulated', sends: meter.sends } : null;
}

/** Scale of the grower's own pen, on which everything is shown; ½ until there is a pen. */
export function growersScale(meters: Meters): number {
  return scaleOf(
    mainMeter(meters, 'ppm') ?? [...meters.values()].find((meter) => meter.quantity === 'ppm' && canBeAtHand(meter)),
  );
}

/** A kit's colours, 1 SD beside the width of its range. */
const KIT_SD = 0.15;

/** 1 SD of a pH reading: a kit's by its range, a pen's by what it stands in. @param ecUsCm of what it was dipped in */
export function phSdOf(reading: Reading, meter: KnownMeter | undefined, ecUsCm: number): number {
  if (reading.kind === 'range') return Math.hypot((reading.high - reading.low) / Math.sqrt(12), KIT_SD);
  return meter?.kind === 'kit' ? 2 * KIT_SD : penPhSd(ecUsCm);
}
