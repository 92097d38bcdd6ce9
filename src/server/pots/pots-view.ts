import type { EntityManager } from 'typeorm';
import type { PotListItem, PotsView, PotView, PotVisit } from '../../contract/pots.ts';
import { ppmFromEc, volumeWords } from '../../core/quantity/index.ts';
import { dueWords, localTimeOf } from '../../core/regimen/index.ts';
import { feedAim } from '../../core/strength/index.ts';
import type { Pot } from '../database/entities.ts';
import { growersScale, readMeters } from '../shelf/shelf-reader.ts';
import { readPotStates, type Fill, type PotState, type Skip } from './pot-states.ts';

/** The collection on its shelves. */
export async function readPots(manager: EntityManager, today: string): Promise<PotsView> {
  const meters = await readMeters(manager);
  const scale = growersScale(meters);
  const places: PotsView['places'] = [];
  for (const s of await readPotStates(manager, meters, today)) {
    let place = places.find((p) => p.id === s.place.id);
    if (!place) places.push((place = { id: s.place.id, name: s.place.name, note: s.place.note, pots: [] }));
    place.pots.push(toItem(s, scale));
  }
  return { today, places };
}

/** One pot with its whole history, newest visit last; undefined when there is none of that id. */
export async function readPot(manager: EntityManager, potId: string, today: string, zone: string): Promise<PotView | undefined> {
  const meters = await readMeters(manager);
  const scale = growersScale(meters);
  const [state] = await readPotStates(manager, meters, today, potId);
  if (!state) return undefined;
  const params = state.regimen.params;
  const aim = feedAim(params.netEcUsCm);
  // The band is drawn gross, on the water that was last used for this pot.
  const bases = await manager.query<{ ppm: number | null; scale: number | null }[]>(
    `SELECT json_extract(e.payload, '$.reading.value') AS ppm, m.scale FROM care_event f JOIN care_event e ON e.batchId = f.batchId AND e.kind = 'batchBase' AND e.voidedBy IS NULL
     JOIN batch b ON b.id = f.batchId JOIN meter m ON m.id = b.ppmMeterId WHERE f.potId = ? AND f.kind = 'potFilled' AND f.voidedBy IS NULL ORDER BY f.seq DESC LIMIT 1`,
    [potId],
  );
  const base = bases[0]?.ppm ?? null;
  const baseEc = base === null ? 0 : base / (bases[0]?.scale ?? 0.5);
  const order = await manager.query<Pick<Pot, 'id' | 'code'>[]>(
    'SELECT p.id, p.code FROM pot p JOIN place l ON l.id = p.placeId ORDER BY l.position, p.position',
  );
  const i = order.findIndex((p) => p.id === potId);
  const visits = [...state.fills.map((f) => fromFill(f, scale, zone)), ...state.skips.map((s) => fromSkip(s, zone))].sort((a, b) => (a.at < b.at ? -1 : 1));
  return {
    today,
    pot: {
      ...toItem(state, scale),
      place: state.place.name,
      placeNote: state.place.note,
      fillMl: state.pot.fillMl,
      acquiredOn: state.pot.acquiredOn,
      note: state.pot.note,
    },
    regimen: { name: state.regimen.name, words: regimenWords(state, scale), since: state.regimen.since, reason: state.regimen.reason },
    aim: {
      netPpm: ppmFromEc(aim.netEcUsCm, scale),
      lowPpm: ppmFromEc(aim.lowEcUsCm + baseEc, scale),
      highPpm: ppmFromEc(aim.highEcUsCm + baseEc, scale),
      basePpm: base === null ? null : ppmFromEc(baseEc, scale),
    },
    phWindow: { low: state.drawing.phLow, high: state.drawing.phHigh },
    visits,
    neighbours: { before: order[i - 1] ?? null, after: order[i + 1] ?? null },
  };
}

/** "90 over base, every 7 days, flush first". */
export function regimenWords(s: PotState, scale: number): string {
  const p = s.regimen.params;
  return `${Math.round(ppmFromEc(p.netEcUsCm, scale))} over base, every ${p.everyDays} days, flush first`;
}

function toItem(s: PotState, scale: number): PotListItem {
  const ppm = (ec: number | undefined) => (ec === undefined ? null : Math.round(ppmFromEc(ec, scale)));
  const read = [...s.fills].reverse().find((f) => f.cameOutEcUsCm !== undefined || f.cameOutPh !== undefined);
  return {
    id: s.pot.id,
    code: s.pot.code,
    name: s.pot.name,
    clay: s.pot.clay,
    reservoirMl: s.pot.reservoirMl,
    regimen: s.regimen.name,
    due: { ...s.due, words: dueWords(s.due) },
    drawing: s.drawing,
    lastPouredPpm: ppm(s.lastFill?.pouredEcUsCm),
    lastCameOut: read ? { ppm: ppm(read.cameOutEcUsCm), ph: read.cameOutPh ?? null, on: read.on } : null,
  };
}

function fromFill(f: Fill, scale: number, zone: string): PotVisit {
  const p = f.payload;
  return {
    eventId: f.eventId,
    kind: 'filled',
    at: f.at,
    on: f.on,
    time: localTimeOf(new Date(f.at), zone),
    pouredPpm: f.pouredEcUsCm === undefined ? null : ppmFromEc(f.pouredEcUsCm, scale),
    pouredPh: f.pouredPh ?? null,
    pouredMl: p.pouredMl,
    flushMl: p.flushMl,
    cameOutPpm: p.oldReservoir.ppm,
    cameOutPh: p.oldReservoir.ph,
    cameOutPpmOnScale: f.cameOutEcUsCm === undefined ? null : ppmFromEc(f.cameOutEcUsCm, scale),
    leftMl: p.oldReservoir.leftMl,
    seen: p.seen,
    words: `${p.flushMl > 0 ? `Flushed ${volumeWords(p.flushMl)}, filled` : 'Filled'} ${volumeWords(p.pouredMl)}${f.pouredEcUsCm === undefined ? ', mix not measured' : ''}`,
    batchId: p.batchId,
  };
}

function fromSkip(s: Skip, zone: string): PotVisit {
  return {
    eventId: s.eventId,
    kind: 'skipped',
    at: s.at,
    on: s.on,
    time: localTimeOf(new Date(s.at), zone),
    pouredPpm: null,
    pouredPh: null,
    pouredMl: null,
    flushMl: null,
    cameOutPpm: { kind: 'notMeasured' },
    cameOutPh: { kind: 'notMeasured' },
    cameOutPpmOnScale: null,
    leftMl: null,
    seen: null,
    words: `Skipped: ${s.payload.reason}`,
    batchId: null,
  };
}
