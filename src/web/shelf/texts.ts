import type { ShelfKind, ShelfRoom, ShelfValues } from '../../contract/shelf.ts';
import { UNIT_SCALE } from '../../contract/kinds.ts';
import { ANALYSIS_ITEMS, LABEL_ITEMS } from '../../core/solution/index.ts';
import { EMPTY_LABEL, labelFrom, labelToText } from './label-texts.ts';
import { knownFrom, knownToText } from './water-texts.ts';
import { ACID_CAUTION, ALKALI_CAUTION } from '../../contract/cautions.ts';
import { inLargeUnit, readLarge } from '../shell/format.ts';
import { typedNumber } from '../shell/field-reader.ts';
import type { Texts } from './as-typed.ts';

export type { Texts } from './as-typed.ts';

export const TITLES: Record<ShelfKind, string> = {
  water: 'Water',
  meter: 'Pen',
  tool: 'Measure',
  vessel: 'Vessel',
  product: 'Product',
};
export const FIELD_NAMES: Record<ShelfKind, readonly string[]> = {
  water: [
    'name',
    'note',
    'kind',
    'tankL',
    'perDayL',
    'costPerL',
    'alkalinity.value',
    'hardness.value',
    'lines',
    'known.ph',
    ...ANALYSIS_ITEMS.map((_, i) => `lines.${i}.value`),
  ],
  meter: ['name', 'quantity', 'scale', 'scaleFrom', 'resolution', 'checkEveryDays'],
  tool: ['kind', 'name', 'dropsPerMl', 'capacityMl', 'stepMl', 'stepG'],
  vessel: ['name', 'capacityL', 'material', 'heatProof'],
  product: [
    'name',
    'shortName',
    'kind',
    'label',
    'caution',
    'recipe.amount',
    'recipe.waterL',
    'recipe.readsPpm',
    'recipe.basePpm',
    'amount',
    'waterL',
    'readsPpm',
    'basePpm',
    'analysis.densityGMl',
    'analysis.percent',
    'analysis.thinned',
    'topDoseMlL',
    'longestDays',
    ...LABEL_ITEMS.map((item) => `percent.${item}`),
  ],
};

/** What stands in an empty form. */
export const FIRST: Record<ShelfKind, Texts> = {
  water: {
    name: '',
    note: '',
    kind: 'still',
    tankL: '',
    perDayL: '',
    chlorine: 'unknown',
    costPerL: '',
    knownBy: 'none',
    kh: '',
    khUnit: '°dKH',
    gh: '',
    ghUnit: '°dKH',
    analysisPh: '',
  },
  meter: {
    name: '',
    quantity: 'ppm',
    scale: '0.5',
    scaleFrom: 'label',
    standard: '',
    resolution: '1',
    kind: 'pen',
    unit: 'ppm',
    compensated: 'yes',
    checkEveryDays: '30',
    condition: 'fine',
  },
  tool: { kind: 'dropper', name: '', dropsPerMl: '', capacityMl: '', stepMl: '', stepG: '' },
  vessel: { name: '', capacityL: '', material: 'plastic', heatProof: '' },
  product: {
    name: '',
    shortName: '',
    kind: 'feed',
    label: '',
    caution: '',
    amount: '',
    unit: 'mL',
    toolId: '',
    unitWords: '',
    waterL: '',
    readsPpm: '',
    basePpm: '',
    meterId: '',
    ...EMPTY_LABEL,
    hydroponics: 'unsaid',
    topDoseMlL: '',
    longestDays: '',
    slowsGrowth: '',
  },
};

const text = (value: number | null) => (value === null ? '' : String(value));

const typedL = (litresOf: number | null) => (litresOf === null ? '' : inLargeUnit(litresOf * 1000));

const TO_TEXT: { readonly [K in ShelfKind]: (values: ShelfValues<K>) => Texts } = {
  water: (w) => ({
    ...FIRST.water,
    name: w.name,
    note: w.note,
    kind: w.kind,
    tankL: typedL(w.tankL),
    perDayL: typedL(w.perDayL),
    chlorine: w.chlorine,
    costPerL: text(w.costPerL),
    ...knownToText(w.known),
  }),
  meter: (m) => ({
    name: m.name,
    quantity: m.quantity,
    scale: text(m.scale),
    scaleFrom: m.scaleFrom ?? '',
    standard: '',
    resolution: String(m.resolution),
    kind: m.kind,
    unit: m.unit,
    compensated: m.compensated ? 'yes' : '',
    checkEveryDays: String(m.checkEveryDays),
    condition: m.condition,
  }),
  tool: (t) => ({
    kind: t.kind,
    name: t.name,
    dropsPerMl: text(t.dropsPerMl),
    capacityMl: text(t.capacityMl),
    stepMl: text(t.stepMl),
    stepG: text(t.stepG),
  }),
  vessel: (v) => ({
    name: v.name,
    capacityL: typedL(v.capacityL),
    material: v.material,
    heatProof: v.heatProof ? 'yes' : '',
  }),
  product: (p) => ({
    ...FIRST.product,
    name: p.name,
    shortName: p.shortName,
    kind: p.kind,
    label: p.label,
    caution: p.caution,
    ...labelToText(p.analysis),
    hydroponics: p.hydroponics,
    topDoseMlL: text(p.topDoseMlL),
    longestDays: text(p.longestDays),
    slowsGrowth: p.slowsGrowth ? 'yes' : '',
    ...(p.recipe && recipeToText(p.recipe)),
  }),
};

const recipeToText = (r: NonNullable<ShelfValues<'product'>['recipe']>): Texts => ({
  amount: String(r.amount),
  unit: r.unit,
  toolId: r.toolId ?? '',
  unitWords: r.unitWords,
  waterL: typedL(r.waterL),
  readsPpm: text(r.readsPpm),
  basePpm: text(r.basePpm),
  meterId: r.meterId ?? '',
});

/** A thing as its form shows it. */
export const toText = <K extends ShelfKind>(what: K, values: ShelfValues<K>): Texts => TO_TEXT[what](values);

const litres = (typed: string) => {
  const read = readLarge(typed);
  return read.kind === 'volume' ? read.ml / 1000 : read.kind === 'empty' ? null : typed;
};

type At = (field: string) => string;
type Main = Pick<ShelfRoom, 'mainPpmMeterId'>;

const TO_VALUES: Readonly<Record<ShelfKind, (at: At, typed: Texts, room: Main) => object>> = {
  water: (at, typed) => ({
    name: at('name'),
    note: at('note'),
    kind: at('kind'),
    tankL: litres(at('tankL')),
    perDayL: litres(at('perDayL')),
    chlorine: at('chlorine') || 'unknown',
    costPerL: typedNumber(at('costPerL')),
    known: knownFrom(typed),
  }),
  meter: (at) => ({
    name: at('name'),
    kind: at('kind') || 'pen',
    quantity: at('quantity'),
    ...unitOf(at),
    resolution: typedNumber(at('resolution')),
    compensated: at('compensated') === 'yes',
    checkEveryDays: typedNumber(at('checkEveryDays')),
    condition: at('condition') || 'fine',
  }),
  tool: (at) => {
    const kind = at('kind');
    const of = (field: string, ...kinds: string[]) => (kinds.includes(kind) ? typedNumber(at(field)) : null);
    return {
      kind,
      name: at('name'),
      dropsPerMl: of('dropsPerMl', 'dropper'),
      capacityMl: of('capacityMl', 'syringe', 'spoon'),
      stepMl: of('stepMl', 'syringe'),
      stepG: of('stepG', 'scale'),
    };
  },
  vessel: (at) => ({
    name: at('name'),
    capacityL: litres(at('capacityL')),
    material: at('material'),
    heatProof: at('heatProof') === 'yes',
  }),
  product: (at, typed, room) => ({
    name: at('name'),
    shortName: at('shortName'),
    kind: at('kind'),
    label: at('label'),
    caution: at('caution') || (CAUTIONS[at('kind')] ?? ''),
    recipe: recipeFrom(at, room),
    analysis: labelFrom(typed),
    hydroponics: at('hydroponics') || 'unsaid',
    topDoseMlL: typedNumber(at('topDoseMlL')),
    longestDays: typedNumber(at('longestDays')),
    slowsGrowth: at('slowsGrowth') === 'yes',
  }),
};

const CAUTIONS: Readonly<Record<string, string>> = { acid: ACID_CAUTION, base: ALKALI_CAUTION };

/** A pen's unit and scale: pH has none, and only ppm has one that is not its unit's. */
function unitOf(at: At) {
  const unit = at('unit');
  if (at('quantity') === 'pH') return { unit: 'ppm', scale: null, scaleFrom: null };
  return unit === 'ppm'
    ? { unit, scale: typedNumber(at('scale')), scaleFrom: at('scaleFrom') || 'guess' }
    : { unit: unit || 'ppm', scale: UNIT_SCALE[unit as 'mS/cm'], scaleFrom: 'label' };
}

function recipeFrom(at: At, room: Main) {
  const kind = at('kind');
  if (kind === 'acid' || kind === 'base' || at('amount').trim() === '') return null;
  const unit = at('unit');
  return {
    amount: typedNumber(at('amount')),
    unit,
    toolId: unit === 'drops' || unit === 'spoons' ? at('toolId') || null : null,
    unitWords: at('unitWords'),
    waterL: litres(at('waterL')),
    readsPpm: typedNumber(at('readsPpm')),
    basePpm: typedNumber(at('basePpm')),
    meterId: at('meterId') || room.mainPpmMeterId,
  };
}

/** What was typed, as the act's values; what is no number goes as it was typed, for the contract's message to speak. */
export const toValues = (what: ShelfKind, typed: Texts, room: Main): object =>
  TO_VALUES[what]((field) => typed[field] ?? '', typed, room);
