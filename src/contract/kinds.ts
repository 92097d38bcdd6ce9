/*
 * The closed lists of the trade that tables, forms and pictures share. Each has its words beside it where the code is not the word.
 */

export const STAGES = ['rooting', 'growth', 'rest', 'spike', 'bloom'] as const;
export type Stage = (typeof STAGES)[number];

export const MEDIA = ['clay', 'water', 'bark', 'basket'] as const;
export type Medium = (typeof MEDIA)[number];
export const MEDIUM_WORDS: Record<Medium, string> = {
  clay: 'clay',
  water: 'water only',
  bark: 'bark',
  basket: 'basket',
};

/** How it grows, which says what must be kept dry: crowns, sheaths, new growths. */
export const HABITS = ['clump', 'creeping', 'crown', 'cane', 'vine', 'bushy'] as const;
export type Habit = (typeof HABITS)[number];
export const HABIT_WORDS: Record<Habit, string> = {
  clump: 'clump of bulbs',
  creeping: 'creeping',
  crown: 'single crown',
  cane: 'canes',
  vine: 'vine',
  bushy: 'bushy',
};

export const SENSITIVITIES = ['tender', 'usual', 'hardy'] as const;
export type Sensitivity = (typeof SENSITIVITIES)[number];

/** What kind of grower's figures apply: strength by height is for vegetables and herbs only. */
export const GROWS = ['orchid', 'houseplant', 'crop'] as const;
export type Grows = (typeof GROWS)[number];
export const GROWS_WORDS: Record<Grows, string> = {
  orchid: 'orchid',
  houseplant: 'houseplant',
  crop: 'fast vegetable or herb',
};

export const LIGHTS = ['bright', 'medium', 'low', 'lamps', 'outdoors'] as const;
export type Light = (typeof LIGHTS)[number];
export const LIGHT_WORDS: Record<Light, string> = {
  bright: 'bright window',
  medium: 'medium light',
  low: 'low light',
  lamps: 'under lamps',
  outdoors: 'outdoors',
};

export const WATER_KINDS = ['still', 'tap', 'rain', 'other'] as const;
export type WaterKind = (typeof WATER_KINDS)[number];
export const WATER_KIND_WORDS: Record<WaterKind, string> = {
  still: 'still water (reverse osmosis, distilled)',
  tap: 'tap',
  rain: 'rain',
  other: 'another water',
};

export const SCALE_SOURCES = ['label', 'standard', 'guess'] as const;
export type ScaleSource = (typeof SCALE_SOURCES)[number];

export const CHLORINES = ['unknown', 'none', 'chlorine', 'chloramine'] as const;
export type Chlorine = (typeof CHLORINES)[number];
export const CHLORINE_WORDS: Record<Chlorine, string> = {
  unknown: 'not known',
  none: 'none',
  chlorine: 'chlorine',
  chloramine: 'chloramine',
};

export const METER_KINDS = ['pen', 'kit'] as const;
/** What a meter's display counts in; a pen's ppm needs its scale beside it. */
export const METER_UNITS = ['ppm', 'mS/cm', 'µS/cm'] as const;
export type MeterUnit = (typeof METER_UNITS)[number];
/** Display per µS/cm of the units that need no scale. */
export const UNIT_SCALE: Record<Exclude<MeterUnit, 'ppm'>, number> = { 'mS/cm': 0.001, 'µS/cm': 1 };
export const METER_CONDITIONS = ['fine', 'battery', 'probe'] as const;
export type MeterCondition = (typeof METER_CONDITIONS)[number];
export const METER_CONDITION_WORDS: Record<MeterCondition, string> = {
  fine: 'fine',
  battery: 'battery low',
  probe: 'probe old or dry',
};

export const HYDROPONICS = ['yes', 'unsaid', 'no'] as const;

export const METER_DEVICES = ['typed', 'simulated'] as const;

export const TOOL_KINDS = ['dropper', 'syringe', 'spoon', 'scale'] as const;
export type ToolKind = (typeof TOOL_KINDS)[number];

export { PRODUCT_KIND, PRODUCT_KINDS, type ProductKind } from '../core/solution/product-kind.ts';

/** How a batch of clay came: to be leached here, leached before, or planted as it came. */
export const CLAY_PREPS = ['new', 'leached', 'unleached'] as const;
export type ClayPrep = (typeof CLAY_PREPS)[number];
export const CLAY_PREP_WORDS: Record<ClayPrep, string> = {
  new: 'new: to be leached here',
  leached: 'leached before',
  unleached: 'never leached, planted as it came',
};
export const CLAY_WAYS = ['litres', 'days', 'own'] as const;
export type ClayWay = (typeof CLAY_WAYS)[number];

/** What a plan or a clock is about. */
export const SUBJECT_KINDS = ['pot', 'batch', 'water', 'collection'] as const;
export type SubjectKind = (typeof SUBJECT_KINDS)[number];
/** Who put an act on the list: the grower, or a room of the app. */
export const ORIGINS = ['grower', 'round', 'bench', 'clay', 'drift', 'season', 'shelf'] as const;
export type Origin = (typeof ORIGINS)[number];

/** What is tried against a clay that pushes. None is proven. */
export const TREATMENTS = ['acidSoak', 'feedSoak', 'wet', 'peat', 'buffered', 'otherClay', 'lowerPour'] as const;
export type TreatmentKind = (typeof TREATMENTS)[number];
export const TREATMENT_WORDS: Record<TreatmentKind, string> = {
  acidSoak: 'Acid soak',
  feedSoak: 'Soak in feed',
  wet: 'Always wet',
  peat: 'Peat granules in the pot',
  buffered: 'Buffered water',
  otherClay: 'Another clay',
  lowerPour: 'Poured lower',
};
