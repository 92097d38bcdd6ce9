import type { EntityManager } from 'typeorm';
import type { BookEntry } from '../contract/book.ts';
import type { CareKind } from '../contract/care.ts';
import { ppmFromEc, readingMiddle, type Reading, type VolumeUnits } from '../core/quantity/index.ts';
import { localTimeOf } from '../core/regimen/index.ts';
import type { Act, Named } from './act/definition.ts';
import { volIn } from './act/words.ts';
import { actNamed } from './acts.ts';
import { growersScale, isTainted, metersOf, scaleOf, type Meters } from './collection/index.ts';
import { readCareEvent, type ReadCareEvent } from './database/care-log.ts';
import type { CareEvent } from './database/entities.ts';

/* A line of the log in words, whatever its kind. It reads `main.care_event`, past the view that leaves out what lies ahead of now (`database/ahead.ts`). */

/** A line with the names of all it is about. */
export type NamedLine = CareEvent &
  Omit<Named, 'undone'> & {
    meterScale: number | null;
    batchPpmMeterId: string | null;
    batchPhMeterId: string | null;
    wasPayload: string | null;
    correctedBy: string | null;
  };

/** What a line names, whatever its kind: by the fields in which any act names a thing. */
export const NAMED_FROM = `main.care_event e LEFT JOIN pot p ON p.id = e.potId LEFT JOIN place l ON l.id = p.placeId LEFT JOIN main.batch b ON b.id = e.batchId
     LEFT JOIN meter m ON m.id = b.ppmMeterId
     LEFT JOIN meter me ON me.id = json_extract(e.payload, '$.meterId')
     LEFT JOIN clay_batch cb ON cb.id = json_extract(e.payload, '$.clayId')
     LEFT JOIN water w ON w.id = coalesce(json_extract(e.payload, '$.waterId'), b.waterId)
     LEFT JOIN batch_part bp ON bp.batchId = e.batchId AND bp.position = json_extract(e.payload, '$.part')
     LEFT JOIN bottle o ON o.id = bp.bottleId
     LEFT JOIN product pr ON pr.id = coalesce(o.productId, json_extract(e.payload, '$.productId'))
     LEFT JOIN tool t ON t.id = json_extract(e.payload, '$.dose.toolId')
     LEFT JOIN main.care_event c ON c.id = e.corrects
     LEFT JOIN main.care_event v ON v.id = e.voidedBy AND v.corrects = e.id`;
export const NAMED_FIELDS = `e.*, p.code, l.name AS place, b.name AS batchName, m.scale AS meterScale, b.ppmMeterId AS batchPpmMeterId, b.phMeterId AS batchPhMeterId, w.name AS water, pr.name AS product, t.kind AS toolKind, me.name AS meter, b.pouredEcUsCm, b.pouredPh,
            cb.name AS clay, c.payload AS wasPayload, v.id AS correctedBy`;

export type Told = {
  readonly event: ReadCareEvent;
  readonly act: Act<CareKind>;
  readonly group: BookEntry['group'];
  readonly where: string;
  readonly what: string;
  readonly time: string;
  /** On the grower's scale. */
  readonly readsPpm: number | null;
  readonly ph: number | null;
  readonly tainted: { readonly ppm: boolean; readonly ph: boolean };
  /** Of the pen its figures were read by, display per µS/cm. */
  readonly ppmScale: number;
};

/** What a line says, and what it is about, as it is looked for. @throws where it cannot be understood */
export function tellWords(line: NamedLine, units: VolumeUnits) {
  const event = readCareEvent(line);
  const act = actNamed(line.kind);
  if (!act) throw new Error(`${line.kind} is no kind of act`);
  const { payload } = event;
  const named = namedIn(line, event);
  return {
    event,
    act,
    named,
    group: typeof act.group === 'function' ? act.group(payload) : act.group,
    where: act.where?.(named) ?? whereOf(named),
    what: act.words(payload, named, volIn(units)),
    pens: pensOf(payload, line),
  };
}

/** A line told. @throws where it cannot be understood */
export function tell(line: NamedLine, meters: Meters, { zone, units }: { zone: string; units: VolumeUnits }): Told {
  const { event, act, named, where, what, pens, group } = tellWords(line, units);
  const { payload } = event;
  const scale = growersScale(meters);
  const pen = pens.ppmMeterId === line.batchPpmMeterId ? { scale: line.meterScale } : meters.get(pens.ppmMeterId ?? '');
  const ppmScale = scaleOf(pen);
  const { ppm, ph } = act.figures?.(payload) ?? {};
  const shown = act.shows?.(named) ?? {
    ecUsCm: valueOf(ppm, ppmScale),
    ph: valueOf(ph, 1),
  };
  const off = (id: string | null) => id !== null && isTainted(meters.get(id), line.at);
  return {
    event,
    act,
    group,
    where,
    what: what + (isMeasured(ppm) && !pen?.scale ? BY_NO_PEN : ''),
    time: localTimeOf(new Date(line.at), zone),
    readsPpm: shown.ecUsCm === null ? null : ppmFromEc(shown.ecUsCm, scale),
    ph: shown.ph,
    tainted: { ppm: off(pens.ppmMeterId), ph: off(pens.phMeterId) },
    ppmScale,
  };
}

const namedIn = (line: NamedLine, event: ReadCareEvent): Named => ({
  ...line,
  undone: event.kind === 'undone' ? (actNamed(event.payload.targetKind)?.undone ?? null) : null,
});
const BY_NO_PEN = ', by a pen nobody named: taken on the ½ scale';
const isMeasured = (reading: Reading | null | undefined) => !!reading && reading.kind !== 'notMeasured';

const whereOf = ({ batchName, clay, code, water, meter }: Named) => batchName ?? clay ?? code ?? water ?? meter ?? '';

/** A reading's middle over a scale; null where nothing was read. */
function valueOf(reading: Reading | null | undefined, scale: number): number | null {
  const value = reading ? readingMiddle(reading) : undefined;
  return value === undefined ? null : value / scale;
}

/** The pens an act names; one that names none was read by its batch's. */
function pensOf(
  payload: object,
  batch: Pick<NamedLine, 'batchPpmMeterId' | 'batchPhMeterId'>,
): { ppmMeterId: string | null; phMeterId: string | null } {
  if (!('ppmMeterId' in payload || 'phMeterId' in payload))
    return { ppmMeterId: batch.batchPpmMeterId, phMeterId: batch.batchPhMeterId };
  const { ppmMeterId = null, phMeterId = null } = payload as { ppmMeterId?: string | null; phMeterId?: string | null };
  return { ppmMeterId, phMeterId };
}

/** An act in the words of the Book, such as "Base read (9 ppm), 09:31"; undefined when there is none. */
export async function wordsOfAct(
  manager: EntityManager,
  eventId: string,
  settings: { zone: string; units: VolumeUnits },
): Promise<string | undefined> {
  const [line] = await manager.query<NamedLine[]>(`SELECT ${NAMED_FIELDS} FROM ${NAMED_FROM} WHERE e.id = ?`, [
    eventId,
  ]);
  if (!line) return undefined;
  const { what, readsPpm, ph, time } = tell(line, metersOf(manager), settings);
  const figures = [readsPpm === null ? '' : `${Math.round(readsPpm)} ppm`, ph === null ? '' : `pH ${ph}`]
    .filter(Boolean)
    .join(', ');
  return `${what}${figures ? ` (${figures})` : ''}, ${time}`;
}
