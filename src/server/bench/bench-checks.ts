import type { EntityManager } from 'typeorm';
import type { CarePayload } from '../../contract/care.ts';
import { expectPh, isOddPh } from '../../core/correction/index.ts';
import { readingMiddle, type Reading } from '../../core/quantity/index.ts';
import { OPEN, solve } from '../../core/solution/index.ts';
import { addPortion, takeReading } from '../../core/strength/index.ts';
import { AppError, fieldError } from '../app-error.ts';
import {
  chemistryOf,
  type Meters,
  phOffset,
  readingEc,
  type ReplayedBatch,
  stirredBy,
  scaleOf,
} from '../collection/index.ts';
import type { Product } from '../database/entities.ts';

/* What is questioned or refused at the bench before it is logged. */

/** Refuses a reading under the water's own, and questions one more than three standard deviations off, once. */
export function checkReading(
  { session, scale, pen }: ReplayedBatch,
  reading: Reading | null,
  confirmedOdd: boolean,
  portion?: { part: number; dose: { doseMl: number; relativeSd: number } },
): void {
  const ec = readingEc(reading, scale);
  if (ec === null || !session.batch || session.baseEcUsCm === undefined) return;
  const ppm = Math.round(ec * scale);
  const basePpm = Math.round(session.baseEcUsCm * scale);
  // A digit of grace: the pen may flicker one under the base when nearly nothing was added.
  if (ec < session.baseEcUsCm - 1.5 * pen.resolutionEcUsCm) {
    const message = `${ppm} ppm is below the water's own ${basePpm}. Rinse the pen and read again; if the water was read wrong, take the steps back and read it again.`;
    throw new AppError('reading-below-base', message, { errors: [{ path: 'reading', message }] });
  }
  const before = portion
    ? addPortion(session.batch, portion.dose.doseMl, portion.dose.relativeSd, portion.part)
    : session.batch;
  const { odd, z } = takeReading(before, ec, pen);
  if (odd && !confirmedOdd) {
    const message = `${ppm} ppm is far ${z > 0 ? 'above' : 'below'} what was expected. Stir, rinse the pen and read again. Keep it once more if it stands.`;
    throw new AppError('reading-odd', message, { errors: [{ path: 'reading', message }] });
  }
}

/** After so many minutes carbon has moved: a reading may lie anywhere on the way to where it goes standing open. */
const FRESH_MINUTES = 10;

/** A pH far from what the chemistry and the readings so far expect is questioned once. @param dose that goes in with this reading */
export async function checkPh(
  manager: EntityManager,
  replayed: ReplayedBatch,
  { reading, confirmedOdd }: { reading: Reading | null; confirmedOdd: boolean },
  meters: Meters,
  at: Date,
  dose?: CarePayload<'batchCorrection'>,
): Promise<void> {
  const shown = reading === null ? undefined : readingMiddle(reading);
  if (shown === undefined || confirmedOdd) return;
  const chemistry = chemistryOf(manager, replayed, meters);
  if (!chemistry.known) return;
  const more = dose && stirredBy(manager, dose, replayed.session.volumeL);
  const expected = expectPh({
    ...chemistry,
    total: chemistry.before.total,
    stirred: more ? [...chemistry.stirred, more] : chemistry.stirred,
  });
  if (!expected) return;
  const meter = replayed.batch.phMeterId === null ? undefined : meters.get(replayed.batch.phMeterId);
  const offBy = phOffset(meter, at.toISOString());
  const minutes = (at.getTime() - new Date(replayed.events.at(-1)?.at ?? at).getTime()) / 60_000;
  const open = minutes > FRESH_MINUTES ? solve(chemistry.now, OPEN) : undefined;
  const [low, high] = open?.ok
    ? [Math.min(expected.low, open.ph), Math.max(expected.high, open.ph)]
    : [expected.low, expected.high];
  if (!isOddPh(shown - offBy, { low, high })) return;
  const message = `${shown.toFixed(1)} is far from the ${(low + offBy).toFixed(1)} to ${(high + offBy).toFixed(1)} it should read. Look at these, read again, or keep it once more if it stands.`;
  throw new AppError('reading-odd', message, { errors: [{ path: 'reading', message }] });
}

/** Corrections are an acid or a base on the shelf, measured with a tool of this batch. */
export async function requireDoseOf(
  manager: EntityManager,
  { batch }: ReplayedBatch,
  productId: string,
  toolId: string | null,
): Promise<void> {
  const product = await manager.getRepository<Product>('product').findOneBy({ id: productId });
  if (!product || !MOVES_PH.has(product.kind)) throw fieldError('productId', 'Choose a pH-down or pH-up.');
  if (!(JSON.parse(batch.toolIds) as string[]).includes(toolId ?? ''))
    throw fieldError('dose.toolId', 'Choose one of the tools of this batch.');
}

/** Silicate is the alkali of those who give it anyway. */
const MOVES_PH: ReadonlySet<string> = new Set(['acid', 'base', 'silicate']);

/** Median of the last five readings of a water before a mix, µS/cm; undefined where there is none. */
export async function usualBase(manager: EntityManager, waterId: string, meters: Meters): Promise<number | undefined> {
  const rows = await manager.query<{ ppm: number; ppmMeterId: string }[]>(
    `SELECT json_extract(e.payload, '$.reading.value') AS ppm, b.ppmMeterId FROM batch b JOIN care_event e ON e.batchId = b.id AND e.kind = 'batchBase' AND e.voidedBy IS NULL
     WHERE b.waterId = ? AND json_extract(e.payload, '$.reading.kind') = 'value' ORDER BY b.startedAt DESC LIMIT 5`,
    [waterId],
  );
  const read = rows.map((row) => row.ppm / scaleOf(meters.get(row.ppmMeterId))).sort((a, b) => a - b);
  return read[Math.floor(read.length / 2)];
}

/** A water that reads three times, or a third of, what it did, and by more than its own wandering: likelier another water or a slip. */
export function isFarFrom(read: number, usual: number): boolean {
  return Math.abs(read - usual) > 60 && (read > 3 * usual || read < usual / 3);
}

export const readingProblem = (message: string) => fieldError('reading', message);
