import type { ShelfRoom } from '../../contract/shelf.ts';
import {
  costOf10L,
  readLabel,
  scaleComposition,
  waterFromTest,
  type CostOf10L,
  type Composition,
  type Elements,
  type KnownWater,
  type ReadLabel,
  type WaterIssue,
} from '../../core/solution/index.ts';

import { scaled } from './scaled.ts';

/* What stands on the Shelf, handed to the chemistry: no chemistry is done here. */

export type RoomWater = ShelfRoom['waters'][number];
export type RoomMeter = ShelfRoom['meters'][number];
export type RoomTool = ShelfRoom['tools'][number];
export type RoomVessel = ShelfRoom['vessels'][number];
export type RoomProduct = ShelfRoom['products'][number];

/** What a product's label means, where it has one. */
export function labelOf(product: RoomProduct): ReadLabel | undefined {
  if (!product.values.analysis) return undefined;
  const read = readLabel(product.values.analysis);
  return read.ok ? read : undefined;
}

/** The newest reading of a water whose pen can be trusted. */
export function soundReading(water: RoomWater): RoomWater['readings'][number] | undefined {
  return water.readings.find((r) => r.ppm !== null && !r.tainted);
}

/** A water by all that is known of it; why it is not where what is known contradicts itself; undefined where nobody read it. */
export function waterOf(water: RoomWater, scale: number): KnownWater | WaterIssue | undefined {
  const last = soundReading(water);
  if (last?.ppm == null) return undefined;
  const ph = water.readings.find((r) => r.ph !== null && !r.tainted)?.ph ?? null;
  return waterFromTest(water.values.known, { ecUsCm: last.ppm / scale, ph, kind: water.values.kind });
}

/** The first water in use that is known well enough to reckon with: still water before others. */
export function firstWater(room: ShelfRoom): RoomWater | undefined {
  const inUse = room.waters.filter((w) => w.retiredOn === null && waterOf(w, room.scale)?.ok);
  return inUse.find((w) => w.values.kind === 'still') ?? inUse[0];
}

/** What 1 mL (g) of the bottle in use brings: the label's proportions, so strong as the bench found it; by the label before the first batch. */
export function inBottle(
  product: RoomProduct,
  label: ReadLabel,
  scale: number,
): { perUnit: Composition; elements: Elements; ecPerUnitL: number } {
  if (!product.learned || !(label.ecPerUnitL > 0)) return label;
  const ecPerUnitL = product.learned.ppmPerMlL / scale;
  const times = ecPerUnitL / label.ecPerUnitL;
  return { perUnit: scaleComposition(label.perUnit, times), elements: scaled(label.elements, times), ecPerUnitL };
}

/** mL or g. */
export const unitOf = (product: RoomProduct) => (product.values.analysis?.form === 'powder' ? 'g' : 'mL');

/** What one mL (g) costs, by the bottle in use; undefined where its price or size is not known. */
export function costPerUnit(product: RoomProduct): number | undefined {
  const { bottle } = product;
  return bottle?.price != null && bottle.sizeMl ? bottle.price / bottle.sizeMl : undefined;
}

/** Ten litres with a product at a dose in the water one feeds with, with the acid they then need to pH 6; undefined where a price or a water is not known. */
export function costAt(
  room: ShelfRoom,
  product: RoomProduct,
  perUnit: Composition,
  doseMlL: number | undefined,
): (CostOf10L & { waterName: string }) | undefined {
  const per = costPerUnit(product);
  const water = firstWater(room);
  const known = water && waterOf(water, room.scale);
  if (per === undefined || doseMlL === undefined || !known?.ok) return undefined;
  const acid = room.products.find(
    (p) => p.retiredOn === null && p.values.kind === 'acid' && labelOf(p) && costPerUnit(p) !== undefined,
  );
  const cost = costOf10L(
    { composition: known.composition, costPerL: water!.values.costPerL ?? 0 },
    { perUnit, costPerUnit: per },
    doseMlL,
    acid ? { perUnit: labelOf(acid)!.perUnit, costPerUnit: costPerUnit(acid)! } : null,
    6,
  );
  return cost && { ...cost, waterName: water!.values.name };
}
