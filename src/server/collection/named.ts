import type { BatchEntry, ProductEntry } from './batches.ts';
import type { Meters } from './meters.ts';
import type { WaterEntry } from './waters.ts';

/** What a pot's lines are read with: what they name, as it is known. */
export type Named = {
  readonly meters: Meters;
  readonly waters: ReadonlyMap<string, WaterEntry>;
  readonly batches: ReadonlyMap<string, BatchEntry>;
  readonly products: ReadonlyMap<string, ProductEntry>;
};
