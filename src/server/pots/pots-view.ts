import type { EntityManager } from 'typeorm';
import { localDate } from '../../contract/common.ts';
import { placeYear, type PotListItem, type PotsView, type PotValues, type PotView, type PotVisit } from '../../contract/pots.ts';
import { standingOf } from '../../core/judgement/index.ts';
import { ppmFromEc, volumeWords, type VolumeUnits } from '../../core/quantity/index.ts';
import { dueWords, inSeason, localTimeOf } from '../../core/regimen/index.ts';
import { feedAim } from '../../core/strength/index.ts';
import { wasWords } from '../book/book-words.ts';
import { daysUntilDry } from '../drift/dry-by.ts';
import type { Place, Pot, RegimenRow } from '../database/entities.ts';
import { readJson } from '../database/read-json.ts';
import { growersScale, readMeters } from '../shelf/shelf-reader.ts';
import { readPotStates, type PotState } from './pot-states.ts';
import { readParams, regimenWords, toRegimenValues } from './regimen-values.ts';
import { lookWords } from '../../contract/seen.ts';
import { readSettings } from '../shell/settings.ts';
import { potPhotos } from './pot-photos.ts';
import { isPlainOnly, lookFacts, visitFacts } from './visit-facts.ts';
import { lookOf, type Fill, type Skip } from './visits.ts';
import { comingOf } from './what-changes.ts';

/** The collection on its shelves. */
export async function readPots(manager: EntityManager, today: string): Promise<PotsView> {
  const meters = await readMeters(manager);
  const scale = growersScale(meters);
  const rows = await manager.query<Place[]>('SELECT * FROM place WHERE retiredOn IS NULL ORDER BY position');
  const places: PotsView['places'] = rows.map(({ id, name, note, light, year }) => ({
    id,
    name,
    note,
    light,
    year: readJson(placeYear, year) ?? null,
    pots: [],
  }));
  const byId = new Map(places.map((place) => [place.id, place]));
  const followers = new Map<string, number>();
  for (const s of await readPotStates(manager, meters, today)) {
    byId.get(s.place.id)?.pots.push(toItem(s, today, scale));
    followers.set(s.regimen.id, (followers.get(s.regimen.id) ?? 0) + 1);
  }
  const regimens = await manager.query<RegimenRow[]>('SELECT * FROM regimen WHERE retiredOn IS NULL ORDER BY name');
  const retired = await manager.query<Pot[]>('SELECT * FROM pot WHERE retiredOn IS NOT NULL ORDER BY retiredOn DESC, code');
  return {
    today,
    places,
    regimens: regimens.map((row) => ({
      id: row.id,
      values: toRegimenValues(row, scale),
      words: regimenWords(readParams(row), scale),
      pots: followers.get(row.id) ?? 0,
    })),
    retired: retired.map((pot) => ({ id: pot.id, code: pot.code, name: pot.name || pot.plant, on: pot.retiredOn!, became: pot.became })),
  };
}

/** One pot with its whole history, newest visit last; undefined when there is none of that id. */
export async function readPot(
  manager: EntityManager,
  potId: string,
  today: string,
  { zone, units }: { zone: string; units: VolumeUnits },
): Promise<PotView | undefined> {
  const meters = await readMeters(manager);
  const scale = growersScale(meters);
  const [state] = await readPotStates(manager, meters, today, potId);
  if (!state) return undefined;
  const params = state.regimen.params;
  const aim = feedAim(Math.max(1, state.watering.netEcUsCm));
  // The band is drawn gross, on the water that was last used for this pot.
  const lastBatchId = state.lastFill?.payload.batchId ?? null;
  const bases = await manager.query<{ ppm: number | null; scale: number | null }[]>(
    `SELECT json_extract(e.payload, '$.reading.value') AS ppm, m.scale FROM care_event e JOIN batch b ON b.id = e.batchId JOIN meter m ON m.id = b.ppmMeterId
     WHERE e.batchId = ? AND e.kind = 'batchBase' AND e.voidedBy IS NULL ORDER BY e.seq DESC LIMIT 1`,
    [lastBatchId],
  );
  const base = bases[0]?.ppm ?? null;
  const baseEc = base === null ? 0 : base / (bases[0]?.scale ?? 0.5);
  const order = await manager.query<Pick<Pot, 'id' | 'code'>[]>(
    'SELECT p.id, p.code FROM pot p JOIN place l ON l.id = p.placeId WHERE p.retiredOn IS NULL ORDER BY l.position, p.position',
  );
  const i = order.findIndex((p) => p.id === potId);
  const visits = [
    ...state.fills.map((f) => fromFill(f, scale, zone, units)),
    ...state.skips.map((s) => fromSkip(s, zone, units)),
    ...fromOthers(state, scale, zone, units),
    ...(await changesOf(manager, potId, zone)),
  ].sort((a, b) => (a.at < b.at ? -1 : 1));
  const earlier = await manager.query<{ name: string; fromDate: string; reason: string }[]>(
    'SELECT r.name, pr.fromDate, pr.reason FROM pot_regimen pr JOIN regimen r ON r.id = pr.regimenId WHERE pr.potId = ? AND pr.fromDate < ? ORDER BY pr.fromDate DESC',
    [potId, state.regimen.since],
  );
  const coming = await manager.query<(RegimenRow & { fromDate: string })[]>(
    'SELECT r.*, pr.fromDate FROM pot_regimen pr JOIN regimen r ON r.id = pr.regimenId WHERE pr.potId = ? AND pr.fromDate > ? ORDER BY pr.fromDate',
    [potId, today],
  );
  return {
    today,
    pot: {
      ...toItem(state, today, scale),
      place: state.place.name,
      placeNote: state.place.note,
      retiredOn: state.pot.retiredOn,
      became: state.pot.became,
    },
    values: valuesOf(state.pot),
    regimen: { name: state.regimen.name, words: regimenWords(params, scale), since: state.regimen.since, reason: state.regimen.reason },
    nextRegimens: coming.map((r) => ({ name: r.name, words: regimenWords(readParams(r), scale), from: r.fromDate })),
    earlierRegimens: earlier.map((r) => ({ name: r.name, since: r.fromDate, reason: r.reason })),
    aim: {
      netPpm: ppmFromEc(aim.netEcUsCm, scale),
      lowPpm: ppmFromEc(aim.lowEcUsCm + baseEc, scale),
      highPpm: ppmFromEc(aim.highEcUsCm + baseEc, scale),
      basePpm: base === null ? null : ppmFromEc(baseEc, scale),
    },
    phWindow: { low: state.drawing.phLow, high: state.drawing.phHigh },
    visits,
    coming: state.pot.retiredOn === null ? comingOf(state, today, (await readSettings(manager)).workingDays, scale) : [],
    looks: state.looks.map(({ eventId, on, look }) => ({ eventId, on, look })),
    photos: await potPhotos(manager, potId),
    lastMix: await lastMixOf(manager, lastBatchId),
    neighbours: { before: (i > 0 && order[i - 1]) || null, after: (i >= 0 && order[i + 1]) || null },
  };
}

/** The mix last poured, for a look into what is in it. */
async function lastMixOf(manager: EntityManager, batchId: string | null): Promise<PotView['lastMix']> {
  const [mix] = await manager.query<{ productId: string; waterId: string; doseMl: number | null; volumeL: number }[]>(
    `SELECT o.productId, b.waterId, coalesce(b.pouredVolumeL, b.volumeL) AS volumeL,
       (SELECT sum(json_extract(e.payload, '$.dose.doseMl')) FROM care_event e WHERE e.batchId = b.id AND e.kind = 'batchPortion' AND e.voidedBy IS NULL
          AND json_extract(e.payload, '$.part') = p.position) / p.mlPerUnit AS doseMl
     FROM batch b JOIN batch_part p ON p.batchId = b.id JOIN bottle o ON o.id = p.bottleId JOIN product r ON r.id = o.productId
     WHERE b.id = ? ORDER BY r.kind <> 'feed', p.position LIMIT 1`,
    [batchId],
  );
  return mix?.doseMl ? { productId: mix.productId, waterId: mix.waterId, doseMlL: mix.doseMl / mix.volumeL } : null;
}

/** What the grower wrote of a pot. */
function valuesOf(pot: Pot): PotValues {
  const { id: _id, position: _position, retiredOn: _retiredOn, became: _became, ...values } = pot;
  return { ...values, repottedOn: localDate.safeParse(values.repottedOn).success ? values.repottedOn : null };
}

/** What was changed of a pot: moved, put on another regimen, repotted, planned for. */
async function changesOf(manager: EntityManager, potId: string, zone: string): Promise<PotVisit[]> {
  const rows = await manager.query<{ id: string; at: string; localDate: string; words: string }[]>(
    `SELECT e.id, e.at, e.localDate, json_extract(e.payload, '$.words') AS words FROM event_touch t JOIN care_event e ON e.id = t.eventId
     WHERE t.subject = ? AND e.voidedBy IS NULL AND e.kind NOT IN ('supplementStarted', 'supplementEnded')`,
    [`pot:${potId}`],
  );
  return rows.map((row) => ({
    ...NOTHING_READ,
    tainted: [],
    eventId: row.id,
    kind: 'changed' as const,
    at: row.at,
    on: row.localDate,
    time: localTimeOf(new Date(row.at), zone),
    words: row.words,
    was: null,
  }));
}

/** A visit at which nothing was poured and nothing read. */
const NOTHING_READ = {
  pouredPpm: null,
  pouredPh: null,
  pouredMl: null,
  flushMl: null,
  cameOutPpm: { kind: 'notMeasured' },
  cameOutPh: { kind: 'notMeasured' },
  cameOutPpmOnScale: null,
  leftMl: null,
  look: null,
  supplement: null,
  batchId: null,
} as const;

function toItem(s: PotState, today: string, scale: number): PotListItem {
  const ppm = (ec: number | undefined) => (ec === undefined ? null : Math.round(ppmFromEc(ec, scale)));
  const read = [...s.fills].reverse().find((f) => f.cameOutEcUsCm !== undefined || f.cameOutPh !== undefined);
  return {
    id: s.pot.id,
    oddLines: s.oddLines,
    code: s.pot.code,
    name: s.pot.name || s.pot.plant,
    plant: s.pot.plant,
    spot: s.pot.spot,
    sensitivity: s.pot.sensitivity,
    regimenId: s.regimen.id,
    clay: s.pot.clay,
    reservoirMl: s.pot.reservoirMl,
    regimen: s.regimen.name,
    due: { ...s.due, words: dueWords(s.due) },
    drawing: s.drawing,
    lastPouredPpm: ppm(s.lastFill?.pouredEcUsCm),
    lastCameOut: read ? { ppm: ppm(read.cameOutEcUsCm), ph: read.cameOutPh ?? null, on: read.on } : null,
    stand: standOf(s, today, scale),
    soaksOpen: [
      ...new Set([
        ...(s.history.asked ?? []).map((a) => a.what),
        ...s.regimen.params.soaks.filter((soak) => inSeason(soak, s.site, today)).map((soak) => soak.what),
      ]),
    ],
  };
}

function standOf(s: PotState, today: string, scale: number): PotListItem['stand'] {
  const dry = daysUntilDry(s, today);
  const standing = standingOf({
    today,
    stage: s.pot.stage,
    visits: visitFacts(s),
    looks: lookFacts(s),
    reservoirMl: s.pot.reservoirMl,
    dueOn: s.due.dueOn,
    plainOnly: isPlainOnly(s),
    daysUntilDry: dry,
  });
  const { ratio, pouredEcUsCm, cameOutEcUsCm, ratioOn } = standing;
  return {
    ran:
      ratio === undefined
        ? null
        : { ratio, pouredPpm: Math.round(ppmFromEc(pouredEcUsCm!, scale)), cameOutPpm: Math.round(ppmFromEc(cameOutEcUsCm!, scale)), on: ratioOn! },
    phs: [...standing.phs],
    dryInDays: dry ?? null,
    leftMl: s.expected.leftMl ?? null,
    signs: [...standing.signs],
    trouble: standing.trouble,
  };
}

/** Soaks, sprays, top-ups, readings between fillings, and looks by themselves. */
function fromOthers(s: PotState, scale: number, zone: string, units: VolumeUnits): PotVisit[] {
  const visit = (event: { eventId: string; at: string; on: string }, more: Partial<PotVisit> & Pick<PotVisit, 'kind' | 'words'>): PotVisit => ({
    ...NOTHING_READ,
    tainted: [],
    eventId: event.eventId,
    at: event.at,
    on: event.on,
    time: localTimeOf(new Date(event.at), zone),
    was: null,
    ...more,
  });
  const withFills = new Set(s.fills.map((f) => f.eventId));
  return [
    ...s.supplements.map((x) =>
      visit(x, {
        kind: x.payload.way === 'soak' ? 'soaked' : 'sprayed',
        words: x.payload.words,
        pouredMl: x.payload.pouredMl,
        pouredPpm: x.pouredEcUsCm === undefined ? null : ppmFromEc(x.pouredEcUsCm, scale),
        supplement: x.payload.what,
        batchId: x.batchId,
      }),
    ),
    ...s.topUps.map((x) => visit(x, { kind: 'toppedUp', words: x.payload.words, pouredMl: x.payload.ml })),
    ...s.rereads.map((x) =>
      visit(x, {
        kind: 'reread',
        words: x.payload.words,
        cameOutPpm: x.payload.ppm,
        cameOutPh: x.payload.ph,
        cameOutPpmOnScale: x.ecUsCm === undefined ? null : ppmFromEc(x.ecUsCm, scale),
        leftMl: x.payload.leftMl,
        tainted: [...x.tainted],
        was: x.was === undefined ? null : wasWords('potReread', x.was, x.payload, units),
      }),
    ),
    ...s.looks.flatMap((x) => (withFills.has(x.eventId) ? [] : [visit(x, { kind: 'looked', words: `Looked over: ${lookWords(x.look)}`, look: x.look })])),
  ];
}

function fromFill(f: Fill, scale: number, zone: string, units: VolumeUnits): PotVisit {
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
    tainted: [...f.tainted],
    look: lookOf(p) ?? null,
    supplement: null,
    words: `${p.flushMl > 0 ? `Flushed ${volumeWords(p.flushMl, units)}, filled` : 'Filled'} ${volumeWords(p.pouredMl, units)}${p.batchId === null && p.waterId !== null ? ', plain water' : f.pouredEcUsCm === undefined ? ', mix not measured' : ''}`,
    was: f.was ? wasWords('potFilled', f.was, p, units) : null,
    batchId: p.batchId,
  };
}

function fromSkip(s: Skip, zone: string, units: VolumeUnits): PotVisit {
  return {
    ...NOTHING_READ,
    tainted: [],
    eventId: s.eventId,
    kind: 'skipped',
    at: s.at,
    on: s.on,
    time: localTimeOf(new Date(s.at), zone),
    words: `Skipped: ${s.payload.reason}`,
    was: s.was ? wasWords('potSkipped', s.was, s.payload, units) : null,
  };
}
