import type { EntityManager } from 'typeorm';
import { localDate } from '../../contract/common.ts';
import type { PotPhotoView } from '../../contract/pot-photos.ts';
import {
  placeYear,
  type PotListItem,
  type PotsView,
  type PotValues,
  type PotView,
  type PotVisit,
} from '../../contract/pots.ts';
import { lookWords, measuredAt } from '../../contract/seen.ts';
import { standingOf } from '../../core/judgement/index.ts';
import { ppmFromEc, volumeWords, type VolumeUnits } from '../../core/quantity/index.ts';
import { dueWords, inSeason, localTimeOf } from '../../core/regimen/index.ts';
import { feedAim } from '../../core/strength/index.ts';
import {
  daysUntilDry,
  foldVisits,
  growersScale,
  isPlainOnly,
  lookFacts,
  lookOf,
  memo,
  NO_VISITS,
  potState,
  potStates,
  readParams,
  regimenWords,
  rowsFor,
  toRegimenValues,
  visitFacts,
  type BatchEntry,
  type Collection,
  type Fill,
  type PotState,
  type Skip,
  type Visits,
} from '../collection/index.ts';
import { wasWords } from '../acts.ts';
import type { Pot } from '../database/entities.ts';
import { readJson } from '../database/read-json.ts';
import { measuredOf, type MeasuredLine } from './measure-service.ts';
import { potPhotos } from './pot-photos.ts';
import { comingOf } from './what-changes.ts';

/** The collection on its shelves. */
export const potsViewOf = memo((collection: Collection, today: string): PotsView => {
  const scale = growersScale(collection.meters);
  const places = [...collection.places.values()]
    .filter((place) => place.retiredOn === null)
    .map(({ id, name, note, light, year }): PotsView['places'][number] => ({
      id,
      name,
      note,
      light,
      year: readJson(placeYear, year) ?? null,
      pots: [],
    }));
  const byId = new Map(places.map((place) => [place.id, place]));
  const followers = new Map<string, number>();
  for (const s of potStates(collection, today)) {
    byId.get(s.place.id)?.pots.push(toItem(s, today, scale));
    followers.set(s.regimen.id, (followers.get(s.regimen.id) ?? 0) + 1);
  }
  const regimens = [...collection.regimens.values()]
    .filter((r) => r.retiredOn === null)
    .sort((a, b) => (a.name < b.name ? -1 : 1));
  const retired = [...collection.pots.values()]
    .map(({ pot }) => pot)
    .filter((pot) => pot.retiredOn !== null)
    .sort((a, b) => (a.retiredOn === b.retiredOn ? (a.code < b.code ? -1 : 1) : a.retiredOn! > b.retiredOn! ? -1 : 1));
  return {
    today,
    places,
    regimens: regimens.map((row) => ({
      id: row.id,
      values: toRegimenValues(row, scale),
      words: regimenWords(readParams(row), scale),
      pots: followers.get(row.id) ?? 0,
    })),
    retired: retired.map((pot) => ({
      id: pot.id,
      code: pot.code,
      name: pot.name || pot.plant,
      on: pot.retiredOn!,
      became: pot.became,
    })),
  };
});

/** A pot as the lists have it. */
export const potItemOf = ({ meters }: Collection, s: PotState, today: string) => toItem(s, today, growersScale(meters));

/** What only a pot's own page shows: its whole log. */
export type PotLog = {
  readonly visits: Visits;
  readonly changes: readonly ChangeLine[];
  readonly photos: readonly PotPhotoView[];
  readonly measured: readonly MeasuredLine[];
};
type ChangeLine = { readonly id: string; readonly at: string; readonly localDate: string; readonly words: string };

/** The whole log of a pot, in one piece with the collection it belongs to. */
export function readPotLog(manager: EntityManager, collection: Collection, potId: string): PotLog {
  const rows = rowsFor(manager);
  return {
    visits: foldVisits(rows, collection, [potId], true).get(potId) ?? NO_VISITS,
    // Moved, put on another regimen, repotted, planned for.
    changes: rows<ChangeLine>(
      `SELECT e.id, e.at, e.localDate, json_extract(e.payload, '$.words') AS words FROM event_touch t JOIN care_event e ON e.id = t.eventId
       WHERE t.subject = ? AND e.voidedBy IS NULL AND e.kind NOT IN ('supplementStarted', 'supplementEnded')`,
      `pot:${potId}`,
    ),
    photos: potPhotos(rows, potId),
    measured: measuredOf(rows, potId),
  };
}

/** One pot with its whole history, newest visit last; undefined when there is none of that id. */
export function potViewOf(collection: Collection, potId: string, today: string, log: PotLog): PotView | undefined {
  const { meters, settings, regimens } = collection;
  const { zone, units, workingDays } = settings;
  const scale = growersScale(meters);
  const state = potState(collection, potId, today, log.visits);
  if (!state) return undefined;
  const params = state.regimen.params;
  const aim = feedAim(Math.max(1, state.watering.netEcUsCm));
  // The band is drawn gross, on the water that was last used for this pot.
  const baseEc = state.lastFill?.batch?.baseEcUsCm;
  const order = [...collection.pots.values()]
    .filter(({ pot }) => pot.retiredOn === null)
    .sort(
      (a, b) =>
        a.place.position - b.place.position || a.pot.position - b.pot.position || (a.pot.code < b.pot.code ? -1 : 1),
    )
    .map(({ pot }) => ({ id: pot.id, code: pot.code }));
  const i = order.findIndex((p) => p.id === potId);
  const visits = [
    ...state.fills.map((f) => fromFill(f, scale, zone, units)),
    ...state.skips.map((s) => fromSkip(s, zone, units)),
    ...fromOthers(state, scale, zone, units),
    ...log.changes.map((line) => fromChange(line, zone)),
  ].sort((a, b) => (a.at < b.at ? -1 : 1));
  const spells = state.entry.follows.flatMap((f) => {
    const regimen = regimens.get(f.regimenId);
    return regimen ? [{ ...f, regimen }] : [];
  });
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
    regimen: {
      name: state.regimen.name,
      words: regimenWords(params, scale),
      since: state.regimen.since,
      reason: state.regimen.reason,
    },
    nextRegimens: spells
      .filter((f) => f.fromDate > today)
      .map((f) => ({ name: f.regimen.name, words: regimenWords(readParams(f.regimen), scale), from: f.fromDate })),
    earlierRegimens: spells
      .filter((f) => f.fromDate < state.regimen.since)
      .reverse()
      .map((f) => ({ name: f.regimen.name, since: f.fromDate, reason: f.reason })),
    aim: {
      netPpm: ppmFromEc(aim.netEcUsCm, scale),
      lowPpm: ppmFromEc(aim.lowEcUsCm + (baseEc ?? 0), scale),
      highPpm: ppmFromEc(aim.highEcUsCm + (baseEc ?? 0), scale),
      basePpm: baseEc === undefined ? null : ppmFromEc(baseEc, scale),
    },
    phWindow: { low: state.drawing.phLow, high: state.drawing.phHigh },
    visits,
    coming: state.pot.retiredOn === null ? comingOf(state, today, workingDays, scale) : [],
    looks: state.looks.map(({ eventId, on, look }) => ({ eventId, on, look })),
    measures: measuresOf(state.looks, log.measured),
    photos: [...log.photos],
    lastMix: state.lastFill?.batch ? lastMixOf(state.lastFill.batch, collection) : null,
    neighbours: { before: (i > 0 && order[i - 1]) || null, after: (i >= 0 && order[i + 1]) || null },
  };
}

/** The mix last poured, for a look into what is in it: its feed, or else the first thing in it. */
function lastMixOf({ row, parts }: BatchEntry, { products }: Collection): PotView['lastMix'] {
  const part = parts.find((p) => products.get(p.productId)?.row.kind === 'feed') ?? parts[0];
  if (!part || part.dosedMl === 0) return null;
  return {
    productId: part.productId,
    waterId: row.waterId,
    doseMlL: part.dosedMl / part.mlPerUnit / (row.pouredVolumeL ?? row.volumeL),
  };
}

/** What the grower wrote of a pot. */
function valuesOf(pot: Pot): PotValues {
  const { id: _id, position: _position, retiredOn: _retiredOn, became: _became, ...values } = pot;
  return { ...values, repottedOn: localDate.safeParse(values.repottedOn).success ? values.repottedOn : null };
}

function fromChange({ id, at, localDate: on, words }: ChangeLine, zone: string): PotVisit {
  return {
    ...NOTHING_READ,
    tainted: [],
    eventId: id,
    kind: 'changed',
    at,
    on,
    time: localTimeOf(new Date(at), zone),
    words,
    was: null,
  };
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

const toItem = memo((s: PotState, today: string, scale: number): PotListItem => {
  const ppm = (ec: number | undefined) => (ec === undefined ? null : Math.round(ppmFromEc(ec, scale)));
  const read = s.fills.findLast((f) => f.cameOutEcUsCm !== undefined || f.cameOutPh !== undefined);
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
});

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
        : {
            ratio,
            pouredPpm: Math.round(ppmFromEc(pouredEcUsCm!, scale)),
            cameOutPpm: Math.round(ppmFromEc(cameOutEcUsCm!, scale)),
            on: ratioOn!,
          },
    phs: [...standing.phs],
    dryInDays: dry ?? null,
    leftMl: s.expected.leftMl ?? null,
    signs: [...standing.signs],
    trouble: standing.trouble,
  };
}

/** What was measured of it, at looks and by itself, oldest first. */
const measuresOf = (looks: PotState['looks'], measured: readonly MeasuredLine[]): PotView['measures'] =>
  [
    ...measured,
    ...looks.flatMap(({ eventId, at, on, look }) => {
      const figures = measuredAt(look);
      return figures ? [{ eventId, at, on, figures, photoId: null }] : [];
    }),
  ]
    .sort((a, b) => (a.at < b.at ? -1 : 1))
    .map(({ at: _at, ...line }) => line);

/** Soaks, sprays, top-ups, readings between fillings, and looks by themselves. */
function fromOthers(s: PotState, scale: number, zone: string, units: VolumeUnits): PotVisit[] {
  const visit = (
    event: { eventId: string; at: string; on: string },
    more: Partial<PotVisit> & Pick<PotVisit, 'kind' | 'words'>,
  ): PotVisit => ({
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
    ...s.looks.flatMap((x) =>
      withFills.has(x.eventId)
        ? []
        : [visit(x, { kind: 'looked', words: `Looked over: ${lookWords(x.look)}`, look: x.look })],
    ),
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
