import Papa from 'papaparse';
import { carePayloads } from '../../contract/care.ts';
import { phReading, ppmReading } from '../../contract/common.ts';
import type { TableForm, TableName } from '../../contract/tables.ts';
import { readingMiddle, type Reading } from '../../core/quantity/index.ts';
import { ecOf, foldVisits, isTainted } from '../collection/index.ts';
import { readJson } from '../database/read-json.ts';
import { clay, looks, measures, trials, waters } from './more-tables.ts';
import { ec, onScale, ppmHead, timeOf, type Asked, type Cell, type Lines } from './table-cells.ts';

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

type ReadLine = {
  readonly at: string;
  readonly on: string;
  readonly of: string;
  readonly name: string;
  readonly quantity: 'ppm' | 'pH';
  readonly reading: string;
  readonly meterId: string | null;
};

/** Every reading that stands, a line each: of reservoirs, run-off, mixes, waters, new clay, and of holds and soak tests. */
const READINGS = `
  WITH e AS (SELECT * FROM care_event WHERE voidedBy IS NULL)
  SELECT e.at, e.localDate AS "on", 'old reservoir' AS "of", p.code AS name, 'ppm' AS quantity, json_extract(e.payload, '$.oldReservoir.ppm') AS reading, json_extract(e.payload, '$.ppmMeterId') AS meterId FROM e JOIN pot p ON p.id = e.potId WHERE e.kind = 'potFilled'
  UNION ALL SELECT e.at, e.localDate, 'old reservoir', p.code, 'pH', json_extract(e.payload, '$.oldReservoir.ph'), json_extract(e.payload, '$.phMeterId') FROM e JOIN pot p ON p.id = e.potId WHERE e.kind = 'potFilled'
  UNION ALL SELECT e.at, e.localDate, 'run-off', p.code, 'ppm', json_extract(e.payload, '$.runOffPpm'), json_extract(e.payload, '$.ppmMeterId') FROM e JOIN pot p ON p.id = e.potId WHERE e.kind = 'potFilled'
  UNION ALL SELECT e.at, e.localDate, 'reservoir', p.code, 'ppm', json_extract(e.payload, '$.ppm'), json_extract(e.payload, '$.ppmMeterId') FROM e JOIN pot p ON p.id = e.potId WHERE e.kind = 'potReread'
  UNION ALL SELECT e.at, e.localDate, 'reservoir', p.code, 'pH', json_extract(e.payload, '$.ph'), json_extract(e.payload, '$.phMeterId') FROM e JOIN pot p ON p.id = e.potId WHERE e.kind = 'potReread'
  UNION ALL SELECT e.at, e.localDate, 'water', w.name, 'ppm', json_extract(e.payload, '$.ppm'), json_extract(e.payload, '$.ppmMeterId') FROM e JOIN water w ON w.id = json_extract(e.payload, '$.waterId') WHERE e.kind = 'waterRead'
  UNION ALL SELECT e.at, e.localDate, 'water', w.name, 'pH', json_extract(e.payload, '$.ph'), json_extract(e.payload, '$.phMeterId') FROM e JOIN water w ON w.id = json_extract(e.payload, '$.waterId') WHERE e.kind = 'waterRead'
  UNION ALL SELECT e.at, e.localDate, 'new clay', c.name, 'ppm', json_extract(e.payload, '$.ppm'), json_extract(e.payload, '$.ppmMeterId') FROM e JOIN clay_batch c ON c.id = json_extract(e.payload, '$.clayId') WHERE e.kind = 'clayRead'
  UNION ALL SELECT e.at, e.localDate, 'new clay', c.name, 'pH', json_extract(e.payload, '$.ph'), json_extract(e.payload, '$.phMeterId') FROM e JOIN clay_batch c ON c.id = json_extract(e.payload, '$.clayId') WHERE e.kind = 'clayRead'
  UNION ALL SELECT e.at, e.localDate, 'water of a mix', b.name, 'ppm', json_extract(e.payload, '$.reading'), b.ppmMeterId FROM e JOIN batch b ON b.id = e.batchId WHERE e.kind = 'batchBase'
  UNION ALL SELECT e.at, e.localDate, 'mix', b.name, 'ppm', json_extract(e.payload, '$.reading'), b.ppmMeterId FROM e JOIN batch b ON b.id = e.batchId WHERE e.kind IN ('batchPortion', 'batchReading', 'batchThinned')
  UNION ALL SELECT e.at, e.localDate, 'mix', b.name, 'pH', json_extract(e.payload, '$.reading'), b.phMeterId FROM e JOIN batch b ON b.id = e.batchId WHERE e.kind IN ('batchPh', 'batchCorrection')
  UNION ALL SELECT e.at, e.localDate, 'hold', p.code, 'ppm', json_extract(e.payload, '$.reading'), json_extract(e.payload, '$.ppmMeterId') FROM e JOIN pot p ON p.id = e.potId WHERE e.kind = 'potHoldRead'
  UNION ALL SELECT e.at, e.localDate, 'soak test', p.code, 'ppm', json_extract(e.payload, '$.ppm'), json_extract(e.payload, '$.ppmMeterId') FROM e JOIN pot p ON p.id = e.potId WHERE e.kind = 'soakRead'
  UNION ALL SELECT e.at, e.localDate, 'soak test', p.code, 'pH', json_extract(e.payload, '$.ph'), json_extract(e.payload, '$.phMeterId') FROM e JOIN pot p ON p.id = e.potId WHERE e.kind = 'soakRead'
  ORDER BY 1, 4, 5`;

function readings({ collection, rows, scale }: Asked): Lines {
  const { zone } = collection.settings;
  const head = [
    ...['day', 'time', 'of', 'which', 'quantity', 'shown', 'from', 'to', 'µS/cm', ppmHead('strength', scale)],
    ...['pen', 'by a pen found off'],
  ];
  const lines = function* () {
    for (const line of rows<ReadLine>(READINGS)) {
      const reading: Reading | undefined = readJson(line.quantity === 'pH' ? phReading : ppmReading, line.reading);
      if (!reading || reading.kind === 'notMeasured') continue;
      const meter = line.meterId === null ? undefined : collection.meters.get(line.meterId);
      const shown = readingMiddle(reading);
      const strength = line.quantity === 'ppm' && shown !== undefined ? ecOf(shown, meter, null) : null;
      const range = reading.kind === 'range' ? [reading.low, reading.high] : [null, null];
      yield [
        ...[line.on, timeOf(line.at, zone), line.of, line.name, line.quantity === 'pH' ? 'pH' : 'strength'],
        ...[reading.kind === 'value' ? reading.value : reading.kind === 'range' ? null : 'past its end', ...range],
        ...[ec(strength), onScale(strength, scale), meter?.name ?? '', isTainted(meter, line.at) ? 'yes' : ''],
      ];
    }
  };
  return { head, lines: lines() };
}

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
