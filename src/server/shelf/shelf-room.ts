import type { EntityManager } from 'typeorm';
import { labelFigures, recipe as recipeShape, waterKnown, type Recipe, type ShelfRoom } from '../../contract/shelf.ts';
import { median } from 'simple-statistics';
import { plusDays } from '../../core/regimen/index.ts';
import { ppmFromEc, readingMiddle, type Reading } from '../../core/quantity/index.ts';
import { roomMeter } from './meter-states.ts';
import { learnedOf } from './product-facts.ts';
import type { Bottle, Product, ToolRow, Vessel, Water } from '../database/entities.ts';
import { readJson } from '../database/read-json.ts';
import { recipeStrengthWith } from './recipe.ts';
import {
  bottleFacts,
  ecOf,
  growersScale,
  isTainted,
  mainMeter,
  type Meters,
  metersOf,
  stockOf,
  rowsFor,
  type KnownMeter,
} from '../collection/index.ts';

/** Base readings shown of each water. */
const READINGS_SHOWN = 60;

type WaterLine = {
  eventId: string;
  waterId: string;
  on: string;
  at: string;
  ppmMeterId: string | null;
  ppm: string | null;
  ph: string | null;
  alone: number;
  warm: number | null;
};

/** The whole Shelf, retired things included. Figures on the scale of the pen at hand. */
export function* readShelfRoom(manager: EntityManager, today: string, zone: string): Generator<void, ShelfRoom> {
  const meters = metersOf(manager);
  const scale = growersScale(meters);
  const waters = rowsFor(manager)<Water>('SELECT * FROM water ORDER BY position');
  const vessels = rowsFor(manager)<Vessel>('SELECT * FROM vessel ORDER BY position');
  const products = rowsFor(manager)<Product>('SELECT * FROM product ORDER BY position');
  const bottles = rowsFor(manager)<Bottle>('SELECT * FROM bottle WHERE finishedOn IS NULL ORDER BY openedOn');
  const tools = rowsFor(manager)<ToolRow>('SELECT * FROM tool ORDER BY position');
  yield;
  const uses = readUses(manager);
  yield;
  const bottleOf = new Map(bottles.map((b) => [b.productId, b]));
  const toolOf = new Map(tools.map((t) => [t.id, t]));
  const used = (row: { id: string; retiredOn: string | null }) => ({
    id: row.id,
    retiredOn: row.retiredOn,
    uses: uses.get(row.id) ?? 0,
  });
  const roomWaters: ShelfRoom['waters'] = [];
  for (const w of waters) {
    yield;
    roomWaters.push({
      ...used(w),
      values: waterValues(w),
      readings: readingsOf(manager, w.id).map((line) => toReading(line, meters, scale)),
      months: monthsOf(manager, w.id, meters, scale, today),
      stock: stockOf(manager, w, today),
    });
  }
  const roomMeters: ShelfRoom['meters'] = [];
  for (const meter of meters.values()) {
    yield;
    roomMeters.push({ ...used(meter), ...meterView(meter), ...roomMeter(manager, meter, zone) });
  }
  const roomProducts: ShelfRoom['products'] = [];
  for (const product of products) {
    yield;
    const bottle = bottleOf.get(product.id);
    const recipe = readJson(recipeShape, product.recipe) ?? null;
    roomProducts.push({
      ...used(product),
      values: productValues(product, recipe),
      bottle: bottle ? bottleFacts(manager, bottle, today) : null,
      strength: strengthOf(product, recipe, toolOf, meters, scale),
      learned: learnedOf(manager, product, bottle, meters, scale),
    });
  }
  return {
    today,
    scale,
    mainPpmMeterId: mainMeter(meters, 'ppm')?.id ?? null,
    mainPhMeterId: mainMeter(meters, 'pH')?.id ?? null,
    waters: roomWaters,
    meters: roomMeters,
    tools: tools.map((t) => ({ ...used(t), values: toolValues(t) })),
    vessels: vessels.map((v) => ({ ...used(v), values: vesselValues(v) })),
    products: roomProducts,
  };
}

const waterValues = ({
  name,
  note,
  kind,
  tankL,
  perDayL,
  chlorine,
  costPerL,
  known,
}: Water): ShelfRoom['waters'][number]['values'] => ({
  name,
  note,
  kind,
  tankL,
  perDayL,
  chlorine,
  costPerL,
  known: readJson(waterKnown, known) ?? null,
});

const meterView = ({
  name,
  kind,
  quantity,
  unit,
  scale,
  scaleFrom,
  resolution,
  compensated,
  checkEveryDays,
  condition,
  device,
}: KnownMeter): Pick<ShelfRoom['meters'][number], 'values' | 'simulated'> => ({
  values: {
    name,
    kind,
    quantity,
    unit,
    scale,
    scaleFrom,
    resolution,
    compensated: Boolean(compensated),
    checkEveryDays,
    condition,
  },
  simulated: device === 'simulated',
});

const productValues = (
  { name, shortName, kind, label, caution, analysis, hydroponics, topDoseMlL, longestDays, slowsGrowth }: Product,
  recipe: Recipe | null,
): ShelfRoom['products'][number]['values'] => ({
  name,
  // Kept longer than a short name may be by earlier versions.
  shortName: shortName.slice(0, 20).trim(),
  kind,
  label,
  caution,
  recipe,
  analysis: readJson(labelFigures, analysis) ?? null,
  hydroponics,
  topDoseMlL,
  longestDays,
  slowsGrowth: Boolean(slowsGrowth),
});

const toolValues = ({
  kind,
  name,
  dropsPerMl,
  capacityMl,
  stepMl,
  stepG,
}: ToolRow): ShelfRoom['tools'][number]['values'] => ({ kind, name, dropsPerMl, capacityMl, stepMl, stepG });

const vesselValues = ({ name, capacityL, material, heatProof }: Vessel): ShelfRoom['vessels'][number]['values'] => ({
  name,
  capacityL,
  material,
  heatProof: Boolean(heatProof),
});

function strengthOf(
  product: Product,
  recipe: Recipe | null,
  tools: ReadonlyMap<string, ToolRow>,
  meters: Meters,
  scale: number,
): ShelfRoom['products'][number]['strength'] {
  if (recipe) {
    const strength = recipeStrengthWith(recipe, tools.get(recipe.toolId ?? ''), meters.get(recipe.meterId ?? ''));
    return strength.known
      ? { known: true, ppmPerMlL: ppmFromEc(strength.ecPerMlL, scale) }
      : { known: false, why: strength.why };
  }
  if (product.guessEcPerMlL !== null) return { known: true, ppmPerMlL: ppmFromEc(product.guessEcPerMlL, scale) };
  return { known: false, why: 'No recipe yet: what so much of it gave.' };
}

/** How many batches (or, for tools, batches made with them) lean on each thing. */
function readUses(manager: EntityManager): Map<string, number> {
  const rows = rowsFor(manager)<{
    id: string;
    n: number;
  }>(`SELECT waterId AS id, count(*) AS n FROM batch GROUP BY waterId UNION ALL SELECT vesselId, count(*) FROM batch GROUP BY vesselId
     UNION ALL SELECT ppmMeterId, count(*) FROM batch WHERE ppmMeterId IS NOT NULL GROUP BY ppmMeterId UNION ALL SELECT phMeterId, count(*) FROM batch WHERE phMeterId IS NOT NULL GROUP BY phMeterId
     UNION ALL SELECT o.productId, count(*) FROM batch_part b JOIN bottle o ON o.id = b.bottleId GROUP BY o.productId
     UNION ALL SELECT t.value, count(*) FROM batch b, json_each(b.toolIds) t GROUP BY t.value`);
  return new Map(rows.map((row) => [row.id, row.n]));
}

function readingsOf(manager: EntityManager, waterId: string): WaterLine[] {
  return rowsFor(manager)<WaterLine>(
    `SELECT * FROM (
       SELECT * FROM (SELECT e.id AS eventId, b.waterId, e.localDate AS "on", e.at, b.ppmMeterId, json_extract(e.payload, '$.reading') AS ppm, NULL AS ph, 0 AS alone, NULL AS warm
         FROM batch b JOIN care_event e ON e.batchId = b.id AND e.kind = 'batchBase' AND e.voidedBy IS NULL WHERE b.waterId = ? ORDER BY b.startedAt DESC LIMIT ?)
       UNION ALL
       SELECT id, json_extract(payload, '$.waterId'), localDate, at, json_extract(payload, '$.ppmMeterId'), json_extract(payload, '$.ppm'), json_extract(payload, '$.ph'), 1, json_extract(payload, '$.temperatureC')
         FROM care_event WHERE kind = 'waterRead' AND voidedBy IS NULL AND json_extract(payload, '$.waterId') = ?
     ) ORDER BY at DESC LIMIT ?`,
    waterId,
    READINGS_SHOWN,
    waterId,
    READINGS_SHOWN,
  );
}

const MONTHS_SHOWN = 13;

/** Month by month, so that a slow rise shows: a membrane ages over a year. */
function monthsOf(
  manager: EntityManager,
  waterId: string,
  meters: Meters,
  scale: number,
  today: string,
): ShelfRoom['waters'][number]['months'] {
  const from = plusDays(today, -31 * MONTHS_SHOWN);
  const lines = rowsFor(manager)<WaterLine>(
    `SELECT e.localDate AS "on", e.at, b.ppmMeterId, json_extract(e.payload, '$.reading') AS ppm
       FROM batch b JOIN care_event e ON e.batchId = b.id AND e.kind = 'batchBase' AND e.voidedBy IS NULL WHERE b.waterId = ? AND b.startedOn > ?
     UNION ALL SELECT localDate, at, json_extract(payload, '$.ppmMeterId'), json_extract(payload, '$.ppm')
       FROM care_event WHERE kind = 'waterRead' AND voidedBy IS NULL AND json_extract(payload, '$.waterId') = ? AND localDate > ?`,
    waterId,
    from,
    waterId,
    from,
  );
  const months = new Map<string, number[]>();
  for (const line of lines) {
    const { ppm, tainted } = toReading(
      { ...line, ph: null, alone: 0, warm: null, eventId: '', waterId },
      meters,
      scale,
    );
    if (ppm !== null && !tainted) months.set(line.on.slice(0, 7), [...(months.get(line.on.slice(0, 7)) ?? []), ppm]);
  }
  return [...months]
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .slice(-MONTHS_SHOWN)
    .map(([month, values]) => ({ month, ppm: median(values), readings: values.length }));
}

function toReading(line: WaterLine, meters: Meters, scale: number): ShelfRoom['waters'][number]['readings'][number] {
  const middle = (json: string | null) => (json === null ? undefined : readingMiddle(JSON.parse(json) as Reading));
  const ppm = middle(line.ppm);
  return {
    eventId: line.eventId,
    on: line.on,
    at: line.at,
    ppm: ppm === undefined ? null : ppmFromEc(ecOf(ppm, meters.get(line.ppmMeterId ?? ''), line.warm), scale),
    ph: middle(line.ph) ?? null,
    from: line.alone ? 'alone' : 'mix',
    tainted: isTainted(meters.get(line.ppmMeterId ?? ''), line.at),
  };
}
