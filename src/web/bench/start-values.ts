import { inSentence } from '../../core/quantity/words.ts';
import type { FieldErrors } from 'react-hook-form';
import type { StartBatch } from '../../contract/bench.ts';
import { AIM_ITEMS, type PartAimWire, type RecipeBook, type RecipeValues, type Use } from '../../contract/recipes.ts';
import type { RoundView, RoundMix } from '../../contract/round.ts';
import type { ShelfView } from '../../contract/shelf.ts';
import { inLargeUnit, ppmText, readLarge } from '../shell/format.ts';

/** One part of the form, as typed. */
export type PartFields = {
  productId: string;
  aimKind: PartAimWire['kind'];
  amount: string;
  element: (typeof AIM_ITEMS)[number];
  solid: 'stock' | 'large' | 'made' | 'granules';
};
/** The form that starts a batch, all as typed. */
export type Fields = {
  recipeId: string;
  use: Use;
  name: string;
  waterId: string;
  vesselId: string;
  parts: PartFields[];
  ppmMeterId: string;
  phMeterId: string;
  toolIds: string[];
  litres: string;
  phLow: string;
  phHigh: string;
  hold: string;
  /** A place whose pots it is for, or nothing. */
  placeId: string;
  byRecipe: boolean;
  /** The parts go in as they stand here, and why. */
  keepOrder: boolean;
  ownOrder: string;
};

export const asNumber = (text: string) => (text.trim() === '' ? NaN : Number(text.trim().replace(',', '.')));
export const asLitres = (text: string) => {
  const typed = readLarge(text);
  return typed.kind === 'volume' ? typed.ml / 1000 : NaN;
};

export function freshPart(productId: string, amount: string): PartFields {
  return { productId, aimKind: 'net', amount, element: 'Mg', solid: 'stock' };
}

/** What another room asks for: the pH to pour at and with which acid, and of a mix that is not on today's round its litres and strength. */
export type Wanted = {
  readonly ph: number | undefined;
  readonly litres: number | undefined;
  /** Of its feed. */
  readonly aim: RoundMix['parts'][number]['aim'] | undefined;
  readonly acid: string | undefined;
};
/** Where the acid that was chosen for a batch is kept until its pH is corrected, on this device. */
export const acidKey = (batchId: string) => `bench-acid:${batchId}`;

/** Either side of a pH that is aimed at: what a drop in soft water can hit. */
const AIM_PH = 0.1;

export function wantedFrom(params: URLSearchParams): Wanted {
  const figure = (name: string) => {
    const value = Number(params.get(name) ?? NaN);
    return value > 0 ? value : undefined;
  };
  const [ppm, units, share] = [figure('net'), figure('perL'), figure('label')];
  const dose: Wanted['aim'] = units ? { kind: 'perL', units } : share ? { kind: 'label', share } : undefined;
  const aim = ppm ? ({ kind: 'net', ppm } as const) : dose;
  return { ph: figure('ph'), litres: figure('litres'), aim, acid: params.get('acid') ?? undefined };
}

/** A narrow stretch round a pH, as typed. */
export function stretchAt(ph: number): { phLow: string; phHigh: string } {
  return { phLow: (ph - AIM_PH).toFixed(1), phHigh: (ph + AIM_PH).toFixed(1) };
}

/** What stands in the form at first: from the round's mix where it came from one, and as another room asked for it. */
export function firstValues(shelf: ShelfView, mix: RoundMix | undefined, wanted?: Wanted): Fields {
  const litresWanted = (mix?.litresToMix || wanted?.litres) ?? 2;
  const parts = firstParts(shelf, mix, wanted?.aim);
  const measured = parts.map((part) => byLabel(part, shelf));
  const asLabelled = measured.some((part, i) => part !== parts[i]);
  return {
    recipeId: '',
    use: mix?.use ?? 'feed',
    name: nameOf(asLabelled, mix),
    waterId: waterFor(shelf, mix),
    vesselId: fittingVessel(shelf, litresWanted),
    parts: measured,
    ...instruments(shelf),
    litres: inLargeUnit(litresWanted * 1000),
    ...stretchOf(mix, wanted?.ph),
    hold: typedMinutes(mix?.holdMinutes),
    placeId: '',
    byRecipe: false,
    keepOrder: false,
    ownOrder: '',
  };
}

/** What goes in by its label says nothing of a strength. */
const nameOf = (asLabelled: boolean, mix: RoundMix | undefined) =>
  asLabelled ? 'Feed, by its label' : (mix?.name ?? 'Feed');
const typedMinutes = (minutes: number | null | undefined) => (minutes == null ? '' : String(minutes));

/** What is taken of a label's dose. */
export const LABEL_SHARES = [
  [1, 'all of it'],
  [0.5, 'half'],
  [0.25, 'a quarter'],
] as const;
/** A dose a litre, as typed. */
export const perL = (units: number): string => String(Number(units.toPrecision(3)));

/** A feed whose strength nobody knows, and no pen to find it: a quarter of its label, what most begin with who feed at every watering (common practice). */
function byLabel(part: PartFields, shelf: ShelfView): PartFields {
  const bottle = shelf.bottles.find((b) => b.productId === part.productId);
  if (!bottle || bottle.strengthKnown || part.aimKind !== 'net' || shelf.meters.some((m) => m.quantity === 'ppm'))
    return part;
  return { ...part, aimKind: 'perL', amount: bottle.labelDose === null ? '' : perL(bottle.labelDose / 4) };
}

/** The parts of a mix; a plain feed, or none, is a part of the feed in use. */
function firstParts(shelf: ShelfView, mix: RoundMix | undefined, wanted: Wanted['aim']): PartFields[] {
  if (mix && !isPlainFeed(mix)) return mix.parts.map((part) => partOfMix(shelf, part));
  if (!mix && wanted && wanted.kind !== 'net') return [partOfMix(shelf, { kind: 'feed', aim: wanted })];
  const feed = shelf.bottles.find((b) => b.kind === 'feed') ?? shelf.bottles[0];
  const netPpm = mix?.netPpm ?? (wanted?.kind === 'net' ? wanted.ppm : undefined);
  return [freshPart(feed?.productId ?? '', netPpm === undefined ? '90' : ppmText(netPpm))];
}
const isPlainFeed = ({ use, parts: [part, ...more] }: RoundMix) =>
  use === 'feed' && more.length === 0 && part?.kind === 'feed' && part.aim.kind === 'net';

/** The pens at hand, and every tool whose steps are known. */
function instruments(shelf: ShelfView): Pick<Fields, 'ppmMeterId' | 'phMeterId' | 'toolIds'> {
  return {
    ppmMeterId: shelf.meters.find((m) => m.quantity === 'ppm')?.id ?? '',
    phMeterId: shelf.meters.find((m) => m.quantity === 'pH')?.id ?? '',
    toolIds: sureTools(shelf).map((t) => t.id),
  };
}

/** Syringes and counted droppers; for want of them spoons, and last a dropper nobody counted. */
function sureTools({ tools }: Pick<ShelfView, 'tools'>): ShelfView['tools'] {
  const sure = tools.filter((t) => t.kind === 'syringe' || t.dropsPerMl !== null);
  const spoons = tools.filter((t) => t.kind === 'spoon');
  return sure.length > 0 ? sure : spoons.length > 0 ? spoons : tools;
}

/** The stretch of pH of a mix, or round a pH that is asked for. */
function stretchOf(mix: RoundMix | undefined, ph: number | undefined): { phLow: string; phHigh: string } {
  if (ph !== undefined) return stretchAt(ph);
  return { phLow: String(mix?.phLow ?? 5.5), phHigh: String(mix?.phHigh ?? 6.5) };
}

/** The bottle in use of a kind, with its aim; a kind that is not on the Shelf leaves its product to be chosen. */
function partOfMix(shelf: ShelfView, { kind, aim }: RoundMix['parts'][number]): PartFields {
  const bottle = shelf.bottles.find((b) => b.kind === kind);
  const part = freshPart(bottle?.productId ?? '', '');
  if (aim.kind === 'net') return { ...part, amount: ppmText(aim.ppm) };
  if (aim.kind === 'label') {
    const whole = bottle?.labelDose ?? null;
    return { ...part, aimKind: 'perL', amount: whole === null ? '' : perL(whole * aim.share) };
  }
  return aim.kind === 'perL'
    ? { ...part, aimKind: 'perL', amount: perL(aim.units) }
    : { ...part, aimKind: 'element', element: aim.element, amount: String(Math.round(aim.mgL)) };
}

/** The first water, or of the kind the mix is made with. */
function waterFor(shelf: ShelfView, mix: RoundMix | undefined): string {
  return (mix?.fillWith && shelf.waters.find((w) => w.kind === mix.fillWith)?.id) || (shelf.waters[0]?.id ?? '');
}

/** The smallest vessel with room to thin in. */
function fittingVessel(shelf: ShelfView, litresWanted: number): string {
  const fitting = [...shelf.vessels]
    .sort((a, b) => a.capacityL - b.capacityL)
    .find((v) => v.capacityL >= litresWanted * 1.25);
  return (fitting ?? shelf.vessels[0])?.id ?? '';
}

/** A recipe's values in the form; the rest stays as it was typed. */
export function withRecipe(fields: Fields, id: string, recipe: RecipeValues, shelf: ShelfView): Fields {
  return {
    ...fields,
    recipeId: id,
    use: recipe.use,
    name: recipe.name,
    waterId: recipe.waterId ?? fields.waterId,
    parts: recipe.parts.map((part) => ({
      productId: shelf.bottles.some((b) => b.productId === part.productId) ? part.productId : '',
      aimKind: part.aim.kind,
      amount: String(part.aim.kind === 'net' ? part.aim.ppm : part.aim.kind === 'perL' ? part.aim.units : part.aim.mgL),
      element: part.aim.kind === 'element' ? part.aim.element : 'Mg',
      solid: part.solid,
    })),
    phLow: String(recipe.phLow),
    phHigh: String(recipe.phHigh),
    hold: typedMinutes(recipe.holdMinutes),
    byRecipe: false,
  };
}

/** What a use starts from in the form: strength of its first part, pH, hold. */
export function withUse(fields: Fields, use: Use, rules: RecipeBook['rules']): Fields {
  const rule = rules.find((r) => r.use === use)?.values;
  const name = { feed: 'Feed', soak: 'Soak', spray: 'Leaf spray', water: 'Plain water' };
  return {
    ...fields,
    use,
    recipeId: '',
    byRecipe: false,
    name: Object.values(name).includes(fields.name) ? name[use] : fields.name,
    parts:
      use === 'water'
        ? []
        : fields.parts.map((part, i) =>
            i === 0 && part.aimKind === 'net' && rule ? { ...part, amount: String(rule.netPpm) } : part,
          ),
    phLow: rule ? String(rule.phLow) : fields.phLow,
    phHigh: rule ? String(rule.phHigh) : fields.phHigh,
    hold: rule?.holdMinutes ? String(rule.holdMinutes) : '',
  };
}

/** pH a soak wants: held and drained, or staying in the pot where the clay lifts it. */
export function phOfSoak(rules: RecipeBook['rules'], stays: boolean): { phLow: string; phHigh: string } {
  const rule = rules.find((r) => r.use === 'soak');
  const wanted = (stays ? rule?.staying : rule?.values) ?? { phLow: 6.5, phHigh: 7 };
  return { phLow: String(wanted.phLow), phHigh: String(wanted.phHigh) };
}

export function toAim(part: PartFields): PartAimWire {
  const amount = asNumber(part.amount);
  if (part.aimKind === 'net') return { kind: 'net', ppm: amount };
  return part.aimKind === 'perL'
    ? { kind: 'perL', units: amount }
    : { kind: 'element', element: part.element, mgL: amount };
}

/** The form as the bench takes it. */
export function toRequest(
  fields: Fields,
  mixKey: string | null,
  round: Pick<RoundView, 'places'>,
  shelf: Pick<ShelfView, 'bottles'>,
): StartBatch {
  return {
    mixKey,
    recipeId: fields.recipeId || null,
    use: fields.use,
    name: fields.name.trim(),
    waterId: fields.waterId,
    vesselId: fields.vesselId,
    parts: fields.parts.map((part) => ({
      bottleId: shelf.bottles.find((b) => b.productId === part.productId)?.id ?? '',
      aim: toAim(part),
      solid: part.solid,
    })),
    ppmMeterId: fields.ppmMeterId || null,
    phMeterId: fields.phMeterId || null,
    toolIds: fields.toolIds,
    volumeL: asLitres(fields.litres),
    phLow: asNumber(fields.phLow),
    phHigh: asNumber(fields.phHigh),
    holdMinutes: fields.hold.trim() === '' ? null : asNumber(fields.hold),
    byRecipe: fields.byRecipe,
    ownOrder: fields.keepOrder && fields.parts.length > 1 ? fields.ownOrder.trim() || '…' : null,
    forPots: round.places.find((p) => p.id === fields.placeId)?.pots.map((p) => p.id) ?? [],
  };
}

/** What was typed before leaving the page; of another shape (an earlier version's), nothing. */
export function keptDraft(key: string): Partial<Fields> {
  const kept = sessionStorage.getItem(key);
  const draft = kept ? (JSON.parse(kept) as Partial<Fields>) : {};
  return Array.isArray(draft.parts) ? draft : {};
}

/** True, or why the vessel will not do. */
export function tooSmall(shelf: ShelfView, vesselId: string, volumeL: number): true | string {
  const vessel = shelf.vessels.find((v) => v.id === vesselId);
  if (!vessel) return 'Choose what to mix in.';
  return (
    !(volumeL > vessel.capacityL) ||
    `The ${inSentence(vessel.name)} holds ${vessel.capacityL} L, and this is ${volumeL} L. Take a larger vessel or make two batches.`
  );
}

/** True, or what is wrong with a part's amount. */
export function amountProblem(text: string, kind: PartAimWire['kind']): true | string {
  const value = asNumber(text);
  const say = {
    net: 'The aim is counted over the water. Give more than zero, such as 90.',
    perL: 'Give the mL (g) a litre, such as 0.5.',
    element: 'Give mg/L, such as 22.',
  };
  const most = { net: 5000, perL: 100, element: 2000 };
  const beyond = {
    net: 'Past 5,000 ppm over base nothing here can live. Check the figure.',
    perL: 'More than 100 mL a litre is no dose.',
    element: 'More than 2,000 mg/L is a concentrate.',
  };
  if (!(value > 0)) return say[kind];
  return value <= most[kind] || beyond[kind];
}

/** True, or what is wrong with the stretch of pH. */
export function phWindow(low: number, high: number): true | string {
  if (![low, high].every((ph) => ph >= 3 && ph <= 9)) return 'Give a pH between 3 and 9, such as 5.5 to 6.5.';
  return low < high || 'The lower pH is above the upper. Swap them.';
}

/** The message of either end of the stretch. */
export function phError(errors: FieldErrors<Fields>): string | undefined {
  return errors.phLow?.message ?? errors.phHigh?.message;
}
