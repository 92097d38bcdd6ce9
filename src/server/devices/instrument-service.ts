import { createHash } from 'node:crypto';
import type { EntityManager } from 'typeorm';
import type { InstrumentAct, InstrumentsView } from '../../contract/instruments.ts';
import { NOT_MEASURED } from '../../core/quantity/index.ts';
import { localDateOf } from '../../core/regimen/index.ts';
import { AppError, fieldError } from '../app-error.ts';
import { collectionOf, potState, settingsNow } from '../collection/index.ts';
import { appendCareEvent } from '../database/care-log.ts';
import type { InstrumentRow, Meter, SentReading } from '../database/entities.ts';
import { changeRecords, readRecord, requirePot, touch } from '../database/records.ts';

type Now = { readonly at: Date; readonly localDate: string };
/** Readings nobody placed are shown for so long. */
const TRAY_DAYS = 14;
const MOST_IN_TRAY = 200;

export const digestOf = (key: string): string => createHash('sha256').update(key).digest('hex');

/** The pen that sends by a key; undefined where there is none, or it was withdrawn. */
export async function instrumentBy(manager: EntityManager, key: string): Promise<InstrumentRow | undefined> {
  const [row] = await manager.query<InstrumentRow[]>(
    'SELECT * FROM instrument WHERE keyDigest = ? AND withdrawnOn IS NULL',
    [digestOf(key)],
  );
  return row;
}

/** Every pen that sends, and what lies in the tray. */
export async function instrumentsOf(manager: EntityManager, { at, localDate }: Now): Promise<InstrumentsView> {
  const since = new Date(at.getTime() - TRAY_DAYS * 86_400_000).toISOString();
  const [instruments, tray, meters] = await Promise.all([
    manager.query<InstrumentsView['instruments']>(
      `SELECT i.id, i.name, i.meterId, m.name AS meter, ${UNIT} AS unit, i.madeOn, i.withdrawnOn,
         (SELECT max(r.at) FROM sent_reading r WHERE r.instrumentId = i.id) AS lastAt
       FROM instrument i JOIN meter m ON m.id = i.meterId ORDER BY i.withdrawnOn IS NOT NULL, i.madeOn DESC, i.id`,
    ),
    manager.query<InstrumentsView['tray']>(
      `SELECT r.id, i.name AS instrument, i.meterId, m.quantity, ${UNIT} AS unit, r.shown, r.temperatureC, r.at
       FROM sent_reading r JOIN instrument i ON i.id = r.instrumentId JOIN meter m ON m.id = i.meterId
       WHERE ${IN_TRAY} AND r.at >= ? ORDER BY r.at DESC, r.id LIMIT ${MOST_IN_TRAY}`,
      [since],
    ),
    manager.query<InstrumentsView['meters']>(
      `SELECT m.id, m.name, ${UNIT} AS unit FROM meter m WHERE m.retiredOn IS NULL AND m.kind = 'pen' AND m.device = 'typed' AND (m.quantity = 'pH' OR m.unit = 'ppm') ORDER BY m.position`,
    ),
  ]);
  return { today: localDate, instruments, tray, meters };
}
/** SQL: it was neither taken nor dropped, and no line that stands was made of it. */
const IN_TRAY = `r.became IS NULL AND NOT EXISTS (SELECT 1 FROM care_event e WHERE e.id = r.eventId AND e.voidedBy IS NULL)`;
const UNIT = `CASE m.quantity WHEN 'pH' THEN 'pH' ELSE m.unit END`;

/**
 * One act on the pens that send and on what they sent. The same request again changes nothing.
 * @throws AppError `invalid-request` with the field, `not-found`
 */
export async function actOnInstruments(
  manager: EntityManager,
  eventId: string,
  act: InstrumentAct,
  when: Now,
): Promise<{ repeated: boolean }> {
  switch (act.kind) {
    case 'make': {
      const meter = (await readRecord(manager, 'meter', act.meterId)) as unknown as Meter | undefined;
      if (!meter || meter.retiredOn !== null)
        throw fieldError('meterId', 'That meter is not in use. Choose another, or add it on the Shelf first.');
      if (meter.device === 'simulated')
        throw fieldError('meterId', 'That pen is simulated and reads by itself. Choose a real one.');
      const after = {
        name: act.name,
        meterId: meter.id,
        keyDigest: digestOf(act.key),
        madeOn: when.localDate,
        withdrawnOn: null,
      };
      return changeRecords(manager, {
        eventId,
        when,
        group: 'Shelf',
        words: `${meter.name} may send its readings, as ${act.name}`,
        changes: [{ table: 'instrument', id: act.instrumentId, after }],
      });
    }
    case 'withdraw': {
      const row = (await readRecord(manager, 'instrument', act.instrumentId)) as unknown as InstrumentRow | undefined;
      if (!row) throw new AppError('not-found', 'There is no such pen. Reload the page.');
      return changeRecords(manager, {
        eventId,
        when,
        group: 'Shelf',
        words: `${row.name} sends no more: its key was withdrawn`,
        changes: [{ table: 'instrument', id: row.id, after: { withdrawnOn: when.localDate } }],
      });
    }
    case 'place':
      return place(manager, eventId, act.readingId, act.potId, when.localDate);
    case 'drop': {
      const { id, shown, instrumentId } = await requireInTray(manager, act.readingId);
      const { name } = (await readRecord(manager, 'instrument', instrumentId)) as unknown as InstrumentRow;
      return changeRecords(manager, {
        eventId,
        when,
        group: 'Shelf',
        words: `Dropped a reading of ${shown} that ${name} sent`,
        changes: [{ table: 'sent_reading', id, after: { became: 'dropped' } }],
      });
    }
  }
}

/** Of a reading that was placed: the pot was read where it stands, when the pen sent it. */
async function place(manager: EntityManager, eventId: string, readingId: string, potId: string, today: string) {
  const reading = await requireInTray(manager, readingId);
  const pot = await requirePot(manager, potId);
  const soak = potState(collectionOf(manager), potId, today)?.inSoak;
  if (soak && soak.at <= reading.at)
    throw new AppError(
      'in-soak',
      `${pot.code} stands in its soak, and that is what the pen read. Drop the reading, or place it elsewhere.`,
    );
  const [meter] = await manager.query<Meter[]>(
    'SELECT m.* FROM meter m JOIN instrument i ON i.meterId = m.id WHERE i.id = ?',
    [reading.instrumentId],
  );
  const isPh = meter!.quantity === 'pH';
  if (!isPh && meter!.unit !== 'ppm')
    throw fieldError(
      'readingId',
      'Readings are kept in ppm or pH, and this meter shows another unit. Type the figure in ppm.',
    );
  const shown = { kind: 'value' as const, value: reading.shown };
  const at = new Date(reading.at);
  const { repeated } = await appendCareEvent(manager, {
    id: eventId,
    kind: 'potReread',
    at,
    localDate: reading.localDate,
    potId: pot.id,
    payload: {
      ppm: isPh ? NOT_MEASURED : shown,
      ph: isPh ? shown : NOT_MEASURED,
      leftMl: null,
      ppmMeterId: isPh ? null : meter!.id,
      phMeterId: isPh ? meter!.id : null,
      words: `Read where it stands, sent by ${meter!.name}`,
    },
  });
  if (repeated) return { repeated };
  await manager.query('UPDATE sent_reading SET eventId = ? WHERE id = ?', [eventId, readingId]);
  await touch(manager, eventId, [`pot:${pot.id}`]);
  return { repeated };
}

async function requireInTray(manager: EntityManager, id: string): Promise<SentReading & { localDate: string }> {
  const [reading] = await manager.query<(SentReading & { waits: 0 | 1 })[]>(
    `SELECT r.*, ${IN_TRAY} AS waits FROM sent_reading r WHERE r.id = ?`,
    [id],
  );
  if (!reading) throw new AppError('not-found', 'That reading is not in the tray. Reload the page.');
  if (reading.waits === 0) throw new AppError('changed-since', 'That reading was placed or dropped already.');
  return { ...reading, localDate: localDateOf(new Date(reading.at), settingsNow(manager).zone) };
}

export const become = (manager: EntityManager, id: string, became: SentReading['became']) =>
  manager.query('UPDATE sent_reading SET became = ? WHERE id = ?', [became, id]);

/** The newest reading of a meter that still lies in the tray, no older than so many ms. */
export async function newestOf(
  manager: EntityManager,
  meterId: string,
  now: Date,
  maxAgeMs: number,
): Promise<SentReading | undefined> {
  const [reading] = await manager.query<SentReading[]>(
    `SELECT r.* FROM sent_reading r JOIN instrument i ON i.id = r.instrumentId
     WHERE i.meterId = ? AND i.withdrawnOn IS NULL AND ${IN_TRAY} AND r.at >= ? ORDER BY r.at DESC LIMIT 1`,
    [meterId, new Date(now.getTime() - maxAgeMs).toISOString()],
  );
  return reading;
}
