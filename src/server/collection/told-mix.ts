import { carePayloads, type CarePayload, type ToldMix } from '../../contract/care.ts';
import { ecFromPpm, readingMiddle } from '../../core/quantity/index.ts';
import { readJson } from '../database/read-json.ts';
import { labelAt, type BatchEntry, type BatchPartThen } from './batches.ts';
import { isTainted, scaleOf, trustedPh } from './meters.ts';
import type { Named } from './named.ts';
import { waterAt, type WaterThen } from './waters.ts';

/* What a pot was filled with by older records, as if it had been a mix of the bench: of its water, its feed and how it read. */

type Told = Pick<CarePayload<'potFilled'>, 'pouredMl' | 'ppmMeterId' | 'phMeterId'> & {
  readonly told?: ToldMix | undefined;
};
type Line = { readonly id: string; readonly at: string; readonly on: string };

/** A water of which nobody said what it read is taken for pure. µS/cm */
const UNREAD_US_CM = 0;

/** Undefined where nothing was told of it, or where nobody read or remembers the strength of a feed. */
export function toldBatch(line: Line, of: Told, named: Named): BatchEntry | undefined {
  const { told } = of;
  const ppm = told && readingMiddle(told.ppm);
  if (!told || (told.productId !== null && ppm === undefined && told.aboutEcUsCm === undefined)) return undefined;
  const pen = named.meters.get(of.ppmMeterId ?? '');
  const water = waterThen(told, line.at, named);
  const pouredEcUsCm = ppm === undefined ? null : ecFromPpm(ppm, scaleOf(pen));
  // Not read but remembered it stands as a mix stands that was meant to come to so much, and that nobody read.
  const came = pouredEcUsCm ?? told.aboutEcUsCm;
  const net = came === undefined ? 0 : Math.max(0, came - (water.ecUsCm ?? UNREAD_US_CM));
  return {
    ...phOf(told, of.phMeterId, line.at, named),
    told: true,
    row: rowOf(line, of, { waterId: told.waterId, net, pouredEcUsCm, ph: readingMiddle(told.ph) ?? null }),
    parts: partsOf(told, line.at, net, named),
    water,
    ...{ baseEcUsCm: undefined, firstPh: undefined },
    ppmTainted: ppm !== undefined && isTainted(pen, line.at),
    steps: { base: false, lastStrength: null, firstAcid: null },
  };
}

function waterThen({ waterId, waterEcUsCm }: ToldMix, at: string, { waters }: Named): WaterThen {
  const entry = waters.get(waterId);
  const then = entry
    ? waterAt(entry, at)
    : { waterId, kind: 'other' as const, test: null, ecUsCm: undefined, ph: null };
  return { ...then, ecUsCm: waterEcUsCm ?? then.ecUsCm };
}

function phOf({ ph: told, aboutPh }: ToldMix, phMeterId: string | null, at: string, { meters }: Named) {
  const ph = readingMiddle(told);
  const pen = meters.get(phMeterId ?? '');
  return {
    pouredPh: ph === undefined ? aboutPh : trustedPh(ph, pen, at),
    phTainted: ph !== undefined && isTainted(pen, at),
  };
}

type Came = { waterId: string; net: number; pouredEcUsCm: number | null; ph: number | null };
const rowOf = (
  { id, at, on }: Line,
  { pouredMl, ppmMeterId, phMeterId }: Told,
  { waterId, net, pouredEcUsCm, ph }: Came,
): BatchEntry['row'] => ({
  ...{ id, name: TOLD_NAME, status: 'poured', mixKey: null, startedAt: at, startedOn: on },
  ...{ waterId, vesselId: '', use: 'feed', recipeId: null, ppmMeterId, phMeterId },
  ...{ volumeL: pouredMl / 1000, netEcUsCm: net, phLow: 0, phHigh: 14, holdMinutes: null, byRecipe: false },
  ...{ pouredVolumeL: pouredMl / 1000, pouredEcUsCm, pouredPh: ph, afterAcidEcUsCm: null },
  ...{ pouredAt: at, emptied: true },
});

const TOLD_NAME = 'a mix of older records';
/** Its feed by the label of its day; nothing of one where it was plain water. */
function partsOf(told: ToldMix, at: string, netEcUsCm: number, { products }: Named): BatchPartThen[] {
  const product = told.productId === null ? undefined : products.get(told.productId);
  if (!product) return [];
  return [
    {
      ...{
        position: 0,
        bottleId: '',
        source: '',
        netEcUsCm,
        unitsPerL: null,
        mlPerUnit: 1,
        method: 'plain',
        dosedMl: 0,
      },
      ...{ productId: product.row.id, label: labelAt(product, at) },
    },
  ];
}

const toldShape = carePayloads.potFilled.shape.told;
/** The same of a line whose payload was not read whole. @param text JSON of what is told of it */
export const toldIn = (
  text: string | null,
  line: Line,
  rest: Omit<Told, 'told'>,
  named: Named,
): BatchEntry | undefined =>
  text === null ? undefined : toldBatch(line, { ...rest, told: readJson(toldShape, text) }, named);
