import Papa from 'papaparse';
import { carePayloads, type CareKind } from '../../contract/care.ts';
import { phReading, ppmReading } from '../../contract/common.ts';
import type { TableForm, TableName } from '../../contract/tables.ts';
import { readingMiddle, type Reading } from '../../core/quantity/index.ts';
import { ecOf, foldVisits, isTainted, type KnownMeter, type Rows } from '../collection/index.ts';
import { readJson } from '../database/read-json.ts';
import { clay, looks, measures, trials, waters } from './more-tables.ts';
import { ec, linesOfKinds, onScale, ppmHead, timeOf, type Asked, type Cell, type Lines } from './table-cells.ts';

/* The tables a grower would chart, line by line. Every strength stands as conductivity and on one pen scale, whatever pen read it. */

/** RFC 4180 ends lines so. */
const LINE_END = '\r\n';
/** Spreadsheets take the letters right by it. */
const BYTE_ORDER_MARK = '\ufeff';
const SEPARATORS: Readonly<Record<TableForm['separator'], string>> = { comma: ',', semicolon: ';', tab: '\t' };
/** What a spreadsheet would reckon with: it gets an apostrophe before it. A plain negative figure is none. */
const FORMULA = /^(?:[=+@\t\r]|-(?!\d+(?:[.,]\d+)?$))/;
const LINES_AT_ONCE = 500;

/** A table as it goes out, piece by piece. */
export function* csvOf(name: TableName, asked: Asked, form: TableForm): Generator<string> {
  const { head, lines } = LINES_OF[name](asked);
  const write = (some: readonly (readonly Cell[])[]) =>
    Papa.unparse(
      some.map((line) => line.map((cell) => written(cell, form))),
      {
        delimiter: SEPARATORS[form.separator],
        newline: LINE_END,
        escapeFormulae: FORMULA,
      },
    ) + LINE_END;
  yield BYTE_ORDER_MARK + write([head]);
  let some: (readonly Cell[])[] = [];
  for (const line of lines) {
    some.push(line);
    if (some.length < LINES_AT_ONCE) continue;
    yield write(some);
    some = [];
  }
  if (some.length > 0) yield write(some);
}

function written(cell: Cell, { mark }: TableForm): string {
  if (cell === null || cell === undefined) return '';
  if (typeof cell === 'string') return cell;
  const plain = String(Number(cell.toFixed(4)));
  return mark === 'comma' ? plain.replace('.', ',') : plain;
}

const LINES_OF: Readonly<Record<TableName, (asked: Asked) => Lines>> = {
  ...{ fillings, readings, mixes, soaks },
  ...{ waters, clay, looks, measures, trials },
};

/** A pot with all its visits: the collection has the last ones only. */
function* everyVisit({ collection, rows }: Asked) {
  for (const { pot, place } of collection.pots.values()) {
    const visits = foldVisits(rows, collection, [pot.id], true).get(pot.id);
    if (visits) yield { pot, place, visits };
  }
}

function fillings(asked: Asked): Lines {
  const { collection, scale } = asked;
  const { zone } = collection.settings;
  const head = [
    ...['day', 'time', 'pot', 'name', 'plant', 'place', 'mix or water', 'poured, mL', 'flushed with, mL'],
    ...['mix, µS/cm', ppmHead('mix', scale), 'mix, pH', 'old reservoir, µS/cm', ppmHead('old reservoir', scale)],
    ...['old reservoir, pH', 'left, mL', 'run-off, µS/cm', ppmHead('run-off', scale), 'by a pen found off'],
  ];
  const lines = function* () {
    for (const { pot, place, visits } of everyVisit(asked))
      for (const fill of visits.fills) {
        const { payload } = fill;
        const water = fill.water && collection.waters.get(fill.water.waterId)?.row.name;
        yield [
          ...[fill.on, timeOf(fill.at, zone), pot.code, pot.name, pot.plant, place.name],
          ...[fill.batch?.row.name ?? water ?? '', payload.pouredMl, payload.flushMl],
          ...[ec(fill.pouredEcUsCm), onScale(fill.pouredEcUsCm, scale), fill.pouredPh],
          ...[ec(fill.cameOutEcUsCm), onScale(fill.cameOutEcUsCm, scale), fill.cameOutPh, payload.oldReservoir.leftMl],
          ...[ec(fill.runOffEcUsCm), onScale(fill.runOffEcUsCm, scale), fill.tainted.length > 0 ? 'yes' : ''],
        ];
      }
  };
  return { head, lines: lines() };
}

type ReadEvent = {
  readonly at: string;
  readonly on: string;
  readonly kind: string;
  readonly potId: string | null;
  readonly batchId: string | null;
  readonly payload: string;
};
type Payload = Readonly<Record<string, unknown>>;
type Quantity = 'ppm' | 'pH';
/** One reading: where it stands in its act. */
type ReadOf = {
  readonly of: string;
  readonly which: 'pot' | 'batch' | 'water' | 'clay';
  readonly quantity: Quantity;
  readonly reading: (payload: Payload) => unknown;
};

const at = (key: string) => (payload: Payload) => payload[key];
const inOld = (key: string) => (payload: Payload) => (payload['oldReservoir'] as Payload | undefined)?.[key];
/** Both readings of an act that has them under these names. */
const both = (of: string, which: ReadOf['which'], read = at): ReadOf[] => [
  { of, which, quantity: 'pH', reading: read('ph') },
  { of, which, quantity: 'ppm', reading: read('ppm') },
];
const one = (of: string, which: ReadOf['which'], quantity: Quantity, key = 'reading'): ReadOf[] => [
  { of, which, quantity, reading: at(key) },
];
/** Every act with readings: of reservoirs, run-off, mixes, waters, new clay, and of holds and soak tests. */
const READINGS_IN: Readonly<Partial<Record<CareKind, readonly ReadOf[]>>> = {
  potFilled: [...both('old reservoir', 'pot', inOld), ...one('run-off', 'pot', 'ppm', 'runOffPpm')],
  potReread: both('reservoir', 'pot'),
  waterRead: both('water', 'water'),
  clayRead: both('new clay', 'clay'),
  batchBase: one('water of a mix', 'batch', 'ppm'),
  batchPortion: one('mix', 'batch', 'ppm'),
  batchReading: one('mix', 'batch', 'ppm'),
  batchThinned: one('mix', 'batch', 'ppm'),
  batchPh: one('mix', 'batch', 'pH'),
  batchCorrection: one('mix', 'batch', 'pH'),
  potHoldRead: one('hold', 'pot', 'ppm'),
  soakRead: both('soak test', 'pot'),
};

type Thing = { readonly name: string; readonly pens: Readonly<Record<Quantity, string | null>> | undefined };
/** What a reading is of, by the act: its name, and where the act does not say which pen read it, the pens that do. */
function thingsOf(rows: Rows): (which: ReadOf['which'], event: ReadEvent, payload: Payload) => Thing | undefined {
  const named = (sql: string) =>
    new Map(rows<{ id: string; name: string }>(sql).map(({ id, name }) => [id, { name, pens: undefined }]));
  const [pots, waterNames, clays] = [
    named('SELECT id, code AS name FROM pot'),
    named('SELECT id, name FROM water'),
    named('SELECT id, name FROM clay_batch'),
  ];
  const batches = new Map(
    rows<{ id: string; name: string; ppm: string | null; pH: string | null }>(
      'SELECT id, name, ppmMeterId AS ppm, phMeterId AS "pH" FROM batch',
    ).map(({ id, name, ...pens }) => [id, { name, pens }]),
  );
  return (which, { potId, batchId }, payload) => {
    if (which === 'pot') return pots.get(potId ?? '');
    if (which === 'batch') return batches.get(batchId ?? '');
    const id = payload[which === 'water' ? 'waterId' : 'clayId'] as string;
    return (which === 'water' ? waterNames : clays).get(id);
  };
}

function readings({ collection, rows, scale }: Asked): Lines {
  const { zone } = collection.settings;
  const head = [
    ...['day', 'time', 'of', 'which', 'quantity', 'shown', 'from', 'to', 'µS/cm', ppmHead('strength', scale)],
    ...['pen', 'by a pen found off'],
  ];
  const lines = function* () {
    const thingOf = thingsOf(rows);
    const events = linesOfKinds<ReadEvent>(rows, Object.keys(READINGS_IN), {
      order: 'at, coalesce(standsAt, seq)',
      select: 'e.at, e.localDate AS "on", e.kind, e.potId, e.batchId, e.payload',
    });
    for (const event of events) {
      const payload = JSON.parse(event.payload) as Payload;
      for (const read of READINGS_IN[event.kind as CareKind]!) {
        const thing = thingOf(read.which, event, payload);
        const { data: reading } = SHAPE_OF[read.quantity].safeParse(read.reading(payload));
        if (!thing || !reading || reading.kind === 'notMeasured') continue;
        const penId = (thing.pens ?? penIn(payload))[read.quantity];
        yield [
          ...[event.on, timeOf(event.at, zone), read.of, thing.name, read.quantity === 'pH' ? 'pH' : 'strength'],
          ...figures(reading),
          ...byPen(reading, collection.meters.get(penId ?? ''), event.at, read.quantity),
        ];
      }
    }
  };
  /** What stood on the display, or between what. */
  const figures = (reading: Reading): Cell[] => {
    if (reading.kind === 'range') return [null, reading.low, reading.high];
    return [reading.kind === 'value' ? reading.value : 'past its end', null, null];
  };
  const byPen = (reading: Reading, meter: KnownMeter | undefined, when: string, quantity: Quantity): Cell[] => {
    const shown = readingMiddle(reading);
    const strength = quantity === 'ppm' && shown !== undefined ? ecOf(shown, meter, null) : null;
    return [ec(strength), onScale(strength, scale), meter?.name ?? '', isTainted(meter, when) ? 'yes' : ''];
  };
  return { head, lines: lines() };
}
const SHAPE_OF = { ppm: ppmReading, pH: phReading } as const;
const penIn = ({ ppmMeterId, phMeterId }: Payload): Record<Quantity, string | null> => ({
  ppm: (ppmMeterId ?? null) as string | null,
  pH: (phMeterId ?? null) as string | null,
});

function mixes({ collection, scale }: Asked): Lines {
  const head = [
    ...['day', 'mix', 'use', 'state', 'water', 'volume, L', 'water, µS/cm', ppmHead('water', scale)],
    ...['aim over the water, µS/cm', ppmHead('aim over the water', scale), 'poured at, µS/cm'],
    ...[ppmHead('poured at', scale), 'poured at, pH', 'made of', 'by a pen found off'],
  ];
  const lines = function* () {
    for (const batch of [...collection.batches.values()].sort((a, b) => (a.row.startedAt < b.row.startedAt ? -1 : 1))) {
      const { row } = batch;
      const parts = batch.parts.map(
        ({ productId, dosedMl }) =>
          `${collection.products.get(productId)?.row.name ?? ''} ${Number(dosedMl.toFixed(2))} mL`,
      );
      yield [
        ...[row.startedOn, row.name, row.use, row.status, collection.waters.get(row.waterId)?.row.name ?? ''],
        ...[row.volumeL, ec(batch.baseEcUsCm), onScale(batch.baseEcUsCm, scale)],
        ...[ec(row.netEcUsCm), onScale(row.netEcUsCm, scale), ec(row.pouredEcUsCm), onScale(row.pouredEcUsCm, scale)],
        ...[row.pouredPh, parts.join(' + '), batch.ppmTainted || batch.phTainted ? 'yes' : ''],
      ];
    }
  };
  return { head, lines: lines() };
}

type SoakLine = {
  readonly potId: string;
  readonly batchId: string | null;
  readonly on: string;
  readonly payload: string;
};
const SOAKS = `SELECT potId, batchId, localDate AS "on", payload FROM care_event WHERE kind = 'supplementStarted' AND voidedBy IS NULL ORDER BY localDate, seq`;
const soakShape = carePayloads.supplementStarted.pick({ what: true, way: true, pouredMl: true, holdMinutes: true });

function soaks({ collection, rows, scale }: Asked): Lines {
  const head = [
    ...['day', 'pot', 'name', 'place', 'what', 'way', 'poured, mL', 'held, min'],
    ...['mix, µS/cm', ppmHead('mix', scale)],
  ];
  const lines = function* () {
    for (const { potId, batchId, on, payload } of rows<SoakLine>(SOAKS)) {
      const entry = collection.pots.get(potId);
      const soak = readJson(soakShape, payload);
      if (!entry || !soak) continue;
      const mix = batchId === null ? null : collection.batches.get(batchId)?.row.pouredEcUsCm;
      yield [
        ...[on, entry.pot.code, entry.pot.name, entry.place.name, soak.what, soak.way, soak.pouredMl, soak.holdMinutes],
        ...[ec(mix), onScale(mix, scale)],
      ];
    }
  };
  return { head, lines: lines() };
}
