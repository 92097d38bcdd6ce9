import type { DataSource, EntityManager } from 'typeorm';
import { alkaliAt, curveOf, strengthOf, type Standing, type TitrationCurve } from '../../core/drift/index.ts';
import { addComposition, anchoredAt, composition, scaleComposition, solve, type Composition } from '../../core/solution/index.ts';
import { phOffset } from '../bench/predicted.ts';
import { waterOf } from '../bench/water-known.ts';
import type { Product } from '../database/entities.ts';
import { labelOf } from '../shelf/label-of.ts';
import { isTainted, type Meters } from '../shelf/meter-states.ts';
import { lastBases } from '../shelf/shelf-reader.ts';

/** What a pot was filled with, as the reduced chemistry knows it. `phKnown`: pinned to a pH that was read. `total`: before any acid, at strength 1. */
export type Mix = {
  readonly curve: TitrationCurve;
  readonly standing: Standing;
  readonly waterId: string;
  readonly phKnown: boolean;
  readonly total: Composition;
};

/** A dilute feed where no label says what is in it, for 100 µS/cm over its water: nitrate with potassium and some calcium, a tenth of it phosphate. */
const UNNAMED_PER_100 = composition({ Ca: 0.12, Mg: 0.05, K: 0.55, NH4: 0.06, NO3: 0.62, PO4: 0.12, SO4: 0.05 });

type Row = {
  id: string;
  waterId: string;
  phMeterId: string | null;
  pouredEcUsCm: number | null;
  afterAcidEcUsCm: number | null;
  netEcUsCm: number;
  pouredPh: number | null;
  at: string;
  parts: string | null;
};
type Part = { productId: string; netEcUsCm: number | null; unitsPerL: number | null };

/** Curves are made once for what is the same mix: a curve takes two full solves, a collection pours a few mixes all year. */
const caches = new WeakMap<DataSource, Map<string, { total: Composition; curve: TitrationCurve }>>();

/**
 * The mixes that were poured, by batch. A batch whose strength nobody read is taken at what was planned.
 * @param batchIds poured batches
 */
export async function mixesOf(manager: EntityManager, meters: Meters, batchIds: readonly string[]): Promise<Map<string, Mix>> {
  const rows = await manager.query<Row[]>(
    `SELECT b.id, b.waterId, b.phMeterId, b.pouredEcUsCm, b.afterAcidEcUsCm, b.netEcUsCm, b.pouredPh, coalesce(b.pouredAt, b.startedAt) AS at,
       (SELECT json_group_array(json_object('productId', o.productId, 'netEcUsCm', p.netEcUsCm, 'unitsPerL', p.unitsPerL)) FROM batch_part p JOIN bottle o ON o.id = p.bottleId
        WHERE p.batchId = b.id) AS parts
     FROM json_each(?) j JOIN batch b ON b.id = j.value`,
    [JSON.stringify([...new Set(batchIds)])],
  );
  const products = new Map((await manager.query<Product[]>('SELECT * FROM product')).map((p) => [p.id, p]));
  const waters = await waterCurves(manager, meters);
  const cache = caches.get(manager.connection) ?? new Map<string, { total: Composition; curve: TitrationCurve }>();
  caches.set(manager.connection, cache);
  const mixes = new Map<string, Mix>();
  for (const row of rows) {
    const water = waters.get(row.waterId);
    if (!water) continue;
    const parts = JSON.parse(row.parts ?? '[]') as Part[];
    const key = JSON.stringify([
      row.waterId,
      Math.round(water.curve.ecUsCm),
      parts.map((p) => [p.productId, Math.round((p.netEcUsCm ?? 0) / 10), p.unitsPerL]),
    ]);
    const kept = cache.get(key) ?? made(inModel(addComposition(water.composition, partsOf(parts, products, row.netEcUsCm))));
    cache.set(key, kept);
    const { total, curve } = kept;
    const ecUsCm = row.afterAcidEcUsCm ?? row.pouredEcUsCm ?? curve.ecUsCm;
    const strength = strengthOf(curve, ecUsCm);
    const ph = pouredPh(row, meters);
    mixes.set(row.id, {
      curve,
      waterId: row.waterId,
      phKnown: ph !== undefined,
      total,
      standing: { strength, carbonMmolL: curve.carbonMmolL, alkaliMeqL: ph === undefined ? 0 : alkaliAt(curve, strength, curve.carbonMmolL, ph) },
    });
  }
  return mixes;
}

/** The pH a batch was poured at, put right by what its pen is known to be off; undefined where it was not read, or by a pen off by nobody knows how much. */
function pouredPh(row: Row, meters: Meters): number | undefined {
  if (row.pouredPh === null) return undefined;
  const meter = row.phMeterId === null ? undefined : meters.get(row.phMeterId);
  const offset = phOffset(meter, row.at);
  return isTainted(meter, row.at) && offset === 0 ? undefined : row.pouredPh - offset;
}

const made = (total: Composition) => ({ total, curve: curveOf(total) });

function partsOf(parts: readonly Part[], products: ReadonlyMap<string, Product>, netEcUsCm: number): Composition {
  let sum = composition({});
  for (const part of parts) {
    const product = products.get(part.productId);
    const label = product && labelOf(product);
    const units = part.unitsPerL ?? (label && label.ecPerUnitL > 0 && part.netEcUsCm !== null ? part.netEcUsCm / label.ecPerUnitL : undefined);
    sum =
      label && units !== undefined
        ? addComposition(sum, label.perUnit, units)
        : addComposition(sum, UNNAMED_PER_100, (part.netEcUsCm ?? netEcUsCm / parts.length) / 100);
  }
  return sum;
}

/** Past what the chemistry reaches it is thinned until it is within: a guard, for what a label got wrong. */
function inModel(total: Composition): Composition {
  return solve(total).ok ? total : inModel(scaleComposition(total, 0.5));
}

export type PlainWater = { readonly composition: Composition; readonly curve: TitrationCurve };
const USUAL_STILL = anchoredAt(composition({ Na: 0.1, Cl: 0.06, CO2: 0.1 }), 6.5);

/** A water's curve, made once as long as what is known of it stands. */
const curves = new WeakMap<Composition, PlainWater>();
function curveFor(known: Composition): PlainWater {
  let water = curves.get(known);
  if (!water) {
    const made = solve(known).ok ? known : USUAL_STILL;
    curves.set(known, (water = { composition: made, curve: curveOf(made) }));
  }
  return water;
}

/** Every water as it was last read, or a usual still water where nothing is known of it. */
export async function waterCurves(manager: EntityManager, meters: Meters): Promise<Map<string, PlainWater>> {
  const bases = await lastBases(manager, meters);
  const rows = await manager.query<{ id: string }[]>('SELECT id FROM water');
  const waters = new Map<string, PlainWater>();
  for (const { id } of rows) {
    const known = await waterOf(manager, id, bases.get(id), meters);
    waters.set(id, curveFor(known?.composition ?? USUAL_STILL));
  }
  return waters;
}
