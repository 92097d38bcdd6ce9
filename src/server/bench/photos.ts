import type { EntityManager } from 'typeorm';
import { MOST_PHOTO_BYTES, MOST_PHOTOS, type KeepPhoto } from '../../contract/photos.ts';
import { localTimeOf } from '../../core/regimen/index.ts';
import { AppError } from '../app-error.ts';
import { appendCareEvent } from '../database/care-log.ts';
import type { CareEvent, Photo } from '../database/entities.ts';
import type { ActAt } from './start-batch.ts';
import { rowsFor } from '../collection/index.ts';

/** A photo stays beside its reading when the reading is corrected: the correction stands in the same place. */
const PHOTOS = `SELECT k.id, k.at, r.id AS readingId FROM care_event k
  JOIN care_event o ON o.id = json_extract(k.payload, '$.ofEventId')
  JOIN care_event r ON r.batchId = k.batchId AND r.voidedBy IS NULL AND coalesce(r.standsAt, r.seq) = coalesce(o.standsAt, o.seq)
  WHERE k.batchId = ? AND k.kind = 'photoKept' AND k.voidedBy IS NULL ORDER BY k.seq`;

/** Photos of a batch by the reading they stand beside. */
export function photosOf(
  manager: EntityManager,
  batchId: string,
  zone: string,
): Map<string, { id: string; time: string }[]> {
  const beside = new Map<string, { id: string; time: string }[]>();
  for (const { id, at, readingId } of rowsFor(manager)<{ id: string; at: string; readingId: string }>(PHOTOS, batchId))
    beside.set(readingId, [...(beside.get(readingId) ?? []), { id, time: localTimeOf(new Date(at), zone) }]);
  return beside;
}

/**
 * Puts a photo beside a reading.
 * @throws AppError `not-found` (no such reading), `invalid-request` (not a JPEG, too large, too many)
 */
export async function keepPhoto(
  manager: EntityManager,
  batchId: string,
  photoId: string,
  { ofEventId, jpeg }: KeepPhoto,
  when: ActAt,
): Promise<void> {
  const bytes = Buffer.from(jpeg, 'base64');
  if (!isJpeg(bytes) || bytes.length > MOST_PHOTO_BYTES)
    throw new AppError('invalid-request', 'That is not a photo that can be kept. Take it again.');
  const { repeated } = await appendCareEvent(manager, {
    id: photoId,
    kind: 'photoKept',
    batchId,
    payload: { ofEventId },
    ...when,
  });
  if (repeated) return;
  const reading = rowsFor(manager)<CareEvent>(
    'SELECT * FROM "care_event" WHERE id = ? AND batchId = ?',
    ofEventId,
    batchId,
  )[0];
  if (!reading || reading.voidedBy !== null || !reading.kind.startsWith('batch'))
    throw new AppError(
      'not-found',
      'The reading it belongs to was taken back or corrected. Put it beside the one that stands.',
    );
  const beside = rowsFor(manager)<{ readingId: string }>(PHOTOS, batchId);
  if (beside.filter((p) => p.readingId === ofEventId).length > MOST_PHOTOS)
    throw new AppError(
      'invalid-request',
      `${MOST_PHOTOS} photos stand beside this reading already. Take one away first.`,
    );
  await manager.getRepository<Photo>('photo').insert({ id: photoId, jpeg: bytes });
}

function isJpeg(bytes: Buffer): boolean {
  return bytes.length > 100 && bytes[0] === 0xff && bytes[1] === 0xd8 && bytes[2] === 0xff;
}
