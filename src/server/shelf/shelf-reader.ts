import type { EntityManager } from 'typeorm';
import { keptRows } from '../database/kept-rows.ts';
import type { ShelfView } from '../../contract/shelf.ts';
import { GUESSED_DROPS_PER_ML, ppmFromEc } from '../../core/quantity/index.ts';
import type { Tool } from '../../core/strength/index.ts';
import { isSolid } from './label-of.ts';
import { readMeterLog, withTaints, type KnownMeter, type Meters } from './meter-states.ts';
import { stockLeft } from './stocks.ts';
import type { Bottle, Meter, Product, ToolRow, Vessel, Water } from '../database/entities.ts';

/** Meters by id, with their taints; the pens at hand first, those out of use last. */
export async function readMeters(manager: EntityManager): Promise<Map<string, KnownMeter>> {
  const meters = await manager.query<Meter[]>(
    `SELECT * FROM meter ORDER BY id IN (SELECT value FROM setting WHERE key IN ('mainPpmMeter', 'mainPhMeter')) DESC, retiredOn IS NOT NULL, position`,
  );
  return withTaints(meters, await readMeterLog(manager));
}

/** Whether a meter can be the one at hand: everything is shown in its ppm, which a conductivity meter does not have. A drop kit may be all there is for pH. */
export function canBeAtHand(meter: Meter): boolean {
  return meter.quantity === 'pH' || meter.unit === 'ppm';
}

/** The pen at hand of a kind: the one chosen, or else the first in use. */
export function mainMeter(meters: Meters, quantity: Meter['quantity']): KnownMeter | undefined {
  return [...meters.values()].find((meter) => meter.quantity === quantity && meter.retiredOn === null && canBeAtHand(meter));
}

/** The pen at hand as pages name it; null where there is none. */
export function penAtHand(meters: Meters, quantity: Meter['quantity']): { id: string; name: string; simulated: boolean } | null {
  const meter = mainMeter(meters, quantity);
  return meter ? { id: meter.id, name: meter.name, simulated: meter.device === 'simulated' } : null;
}

/** Scale of the grower's own pen, on which everything is shown; ½ until there is a pen. */
export function growersScale(meters: Meters): number {
  return (mainMeter(meters, 'ppm') ?? [...meters.values()].find((meter) => meter.quantity === 'ppm' && canBeAtHand(meter)))?.scale ?? 0.5;
}

/** Droppers and syringes: what the coach can dose with. */
export function isDosingTool(row: ToolRow): row is ToolRow & { kind: 'dropper' | 'syringe' } {
  return row.kind === 'dropper' || row.kind === 'syringe';
}

/** A tool row as the core knows tools. */
export function toTool(row: ToolRow): Tool {
  return row.kind === 'dropper'
    ? { kind: 'dropper', id: row.id, name: row.name, dropsPerMl: row.dropsPerMl }
    : { kind: 'syringe', id: row.id, name: row.name, capacityMl: row.capacityMl ?? 1, stepMl: row.stepMl ?? 0.1 };
}

/** The wire shape of a tool. */
export function toToolView(row: ToolRow): ShelfView['tools'][number] {
  const stepMl = row.kind === 'syringe' ? (row.stepMl ?? 0.1) : 1 / (row.dropsPerMl ?? GUESSED_DROPS_PER_ML);
  return { id: row.id, name: row.name, kind: row.kind === 'syringe' ? 'syringe' : 'dropper', dropsPerMl: row.dropsPerMl, stepMl, capacityMl: row.capacityMl };
}

/** Everything the bench can choose from, each water with the reading it last showed. */
export async function readShelf(manager: EntityManager, today: string): Promise<ShelfView> {
  const [waters, vessels, products, bottles, tools, meters] = await Promise.all([
    manager.query<Water[]>('SELECT * FROM water WHERE retiredOn IS NULL ORDER BY position'),
    manager.query<Vessel[]>('SELECT * FROM vessel WHERE retiredOn IS NULL ORDER BY position'),
    manager.query<Product[]>('SELECT * FROM product WHERE retiredOn IS NULL ORDER BY position'),
    manager.query<Bottle[]>('SELECT * FROM bottle WHERE finishedOn IS NULL ORDER BY position'),
    manager.query<ToolRow[]>('SELECT * FROM tool WHERE retiredOn IS NULL ORDER BY position'),
    readMeters(manager),
  ]);
  const product = new Map(products.map((p) => [p.id, p]));
  const bases = await lastBases(manager, meters);
  const scale = growersScale(meters);
  return {
    waters: waters.map((w) => {
      const ec = bases.get(w.id);
      return { id: w.id, name: w.name, note: w.note, kind: w.kind, lastBasePpm: ec === undefined ? null : Math.round(ppmFromEc(ec, scale)) };
    }),
    vessels: vessels.map(({ id, name, capacityL, material }) => ({ id, name, capacityL, material })),
    bottles: await Promise.all(
      bottles.flatMap(({ id, productId, note }) => {
        const known = product.get(productId);
        if (!known) return [];
        const { name, kind } = known;
        const solid = isSolid(known);
        return [
          (solid ? stockLeft(manager, id, today) : Promise.resolve(undefined)).then((stock) => ({
            id,
            productId,
            name,
            kind,
            unit: solid ? ('g' as const) : ('mL' as const),
            note,
            stock: stock ?? null,
          })),
        ];
      }),
    ),
    tools: tools.filter(isDosingTool).map(toToolView),
    meters: [...meters.values()]
      .filter((m) => m.retiredOn === null && canBeAtHand(m))
      .map((m) => ({ id: m.id, name: m.name, quantity: m.quantity, scale: m.scale, simulated: m.device === 'simulated' })),
  };
}

/** Last base reading of each water, µS/cm: before a mix or by itself, whichever is newer. */
export async function lastBases(manager: EntityManager, meters: Meters): Promise<Map<string, number>> {
  // The newest mix of each water by the index on batches' time, and what was read of it alone: few lines each, however long the log.
  const rows = await keptRows<{ waterId: string; ppmMeterId: string; ppm: number | null; at: string }>(
    manager,
    `SELECT w.id AS waterId, b.ppmMeterId, json_extract(e.payload, '$.reading.value') AS ppm, e.at
       FROM water w JOIN care_event e ON e.seq = (
         SELECT x.seq FROM batch y JOIN care_event x ON x.batchId = y.id AND x.kind = 'batchBase' AND x.voidedBy IS NULL
         WHERE y.waterId = w.id ORDER BY y.startedAt DESC LIMIT 1)
       JOIN batch b ON b.id = e.batchId
     UNION ALL
     SELECT json_extract(payload, '$.waterId'), json_extract(payload, '$.ppmMeterId'), json_extract(payload, '$.ppm.value'), at
       FROM care_event WHERE kind = 'waterRead' AND voidedBy IS NULL AND json_extract(payload, '$.ppm.value') IS NOT NULL
     ORDER BY at`,
  );
  const bases = new Map<string, number>();
  for (const row of rows) if (row.ppm !== null) bases.set(row.waterId, row.ppm / (meters.get(row.ppmMeterId)?.scale ?? 0.5));
  return bases;
}
