import { EntitySchema } from 'typeorm';
import { CLAY_PREPS, CLAY_WAYS, type ClayPrep, type ClayWay } from '../../../contract/kinds.ts';
import { check, int, oneOf, pk, real, realNull, text, textNull } from './columns.ts';

/** A bag of clay on its way to the pots. What was soaked, read and drained is in the log; pots name it in `clay`. */
export interface ClayBatch {
  id: string;
  name: string;
  grainLowMm: number | null;
  grainHighMm: number | null;
  volumeL: number;
  /** What the bag says of where it comes from. */
  origin: string;
  price: number | null;
  openedOn: string | null;
  prep: ClayPrep;
  rinsedOn: string | null;
  boiledOn: string | null;
  /** The flat reading over the water's base at which it is fit to plant, µS/cm. */
  gateEcUsCm: number;
  /** Least water that covers it, L; null: by rule of thumb. */
  coverL: number | null;
  lookEveryHours: number;
  /** Which way to the gate is followed. */
  way: ClayWay;
  note: string;
  /** What other growers' bags of this clay were found to do, JSON of `toldBag`s; null for none. */
  told: string | null;
  position: number;
  retiredOn: string | null;
}

export const ClayBatchEntity = new EntitySchema<ClayBatch>({
  name: 'clay_batch',
  tableName: 'clay_batch',
  columns: {
    id: pk,
    name: text,
    grainLowMm: realNull,
    grainHighMm: realNull,
    volumeL: real,
    origin: text,
    price: realNull,
    openedOn: textNull,
    prep: text,
    rinsedOn: textNull,
    boiledOn: textNull,
    gateEcUsCm: real,
    coverL: realNull,
    lookEveryHours: int,
    way: text,
    note: text,
    told: textNull,
    position: int,
    retiredOn: textNull,
  },
  checks: [
    check('clay_volume', `"volumeL" > 0 AND "volumeL" <= 1000`),
    check('clay_prep', oneOf('prep', CLAY_PREPS)),
    check('clay_way', oneOf('way', CLAY_WAYS)),
    check('clay_gate', `"gateEcUsCm" > 0`),
    check('clay_looks', `"lookEveryHours" IN (12, 24)`),
    check('clay_cover', `"coverL" IS NULL OR "coverL" > 0`),
    check('clay_grain', `"grainLowMm" IS NULL OR "grainHighMm" IS NULL OR "grainLowMm" <= "grainHighMm"`),
    check('clay_price', `"price" IS NULL OR "price" >= 0`),
    check('clay_told', `"told" IS NULL OR json_valid("told")`),
  ],
});
