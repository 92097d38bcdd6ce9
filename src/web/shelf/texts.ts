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

/** A thing as its form shows it. */
export function toText<K extends ShelfKind>(what: K, values: ShelfValues<K>): Texts {
  const v = values as Record<string, unknown>;
  switch (what) {
    case 'water': {
      const w = values as ShelfValues<'water'>;
      return {
        ...FIRST.water,
        name: w.name,
        note: w.note,
        kind: w.kind,
        tankL: w.tankL === null ? '' : inLargeUnit(w.tankL * 1000),
        perDayL: w.perDayL === null ? '' : inLargeUnit(w.perDayL * 1000),
        chlorine: w.chlorine,
        costPerL: text(w.costPerL),
        ...knownToText(w.known),
      };
    }
    case 'meter': {
      const m = values as ShelfValues<'meter'>;
      return {
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
      };
    }
    case 'tool': {
      const t = values as ShelfValues<'tool'>;
      return {
        kind: t.kind,
        name: t.name,
        dropsPerMl: text(t.dropsPerMl),
        capacityMl: text(t.capacityMl),
        stepMl: text(t.stepMl),
        stepG: text(t.stepG),
      };
    }
    case 'vessel': {
      const s = values as ShelfValues<'vessel'>;
      return {
        name: s.name,
        capacityL: inLargeUnit(s.capacityL * 1000),
        material: s.material,
        heatProof: s.heatProof ? 'yes' : '',
      };
    }
    case 'product': {
      const p = values as ShelfValues<'product'>;
      const r = p.recipe;
      return {
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
        ...(r && {
          amount: String(r.amount),
          unit: r.unit,
          toolId: r.toolId ?? '',
          unitWords: r.unitWords,
          waterL: r.waterL === null ? '' : inLargeUnit(r.waterL * 1000),
          readsPpm: text(r.readsPpm),
          basePpm: text(r.basePpm),
          meterId: r.meterId ?? '',
        }),
      };
    }
    default:
      return v as Texts;
  }
}

const litres = (typed: string) => {
  const read = readLarge(typed);
  return read.kind === 'volume' ? read.ml / 1000 : read.kind === 'empty' ? null : typed;
};

/** What was typed, as the act's values; what is no number goes as it was typed, for the contract's message to speak. */
export function toValues(what: ShelfKind, t: Texts, room: Pick<ShelfRoom, 'mainPpmMeterId'>): object {
  const at = (key: string) => t[key] ?? '';
  switch (what) {
    case 'water':
      return {
        name: at('name'),
        note: at('note'),
        kind: at('kind'),
        tankL: litres(at('tankL')),
        perDayL: litres(at('perDayL')),
        chlorine: at('chlorine') || 'unknown',
        costPerL: typedNumber(at('costPerL')),
        known: knownFrom(t),
      };
    case 'meter':
      return {
        name: at('name'),
        kind: at('kind') || 'pen',
        quantity: at('quantity'),
        unit: at('quantity') === 'pH' ? 'ppm' : at('unit') || 'ppm',
        scale:
          at('quantity') === 'pH'
            ? null
            : at('unit') === 'ppm'
              ? typedNumber(at('scale'))
              : UNIT_SCALE[at('unit') as 'mS/cm'],
        scaleFrom: at('quantity') === 'pH' ? null : at('unit') === 'ppm' ? at('scaleFrom') || 'guess' : 'label',
        resolution: typedNumber(at('resolution')),
        compensated: at('compensated') === 'yes',
        checkEveryDays: typedNumber(at('checkEveryDays')),
        condition: at('condition') || 'fine',
      };
    case 'tool': {
      const kind = at('kind');
      return {
        kind,
        name: at('name'),
        dropsPerMl: kind === 'dropper' ? typedNumber(at('dropsPerMl')) : null,
        capacityMl: kind === 'syringe' || kind === 'spoon' ? typedNumber(at('capacityMl')) : null,
        stepMl: kind === 'syringe' ? typedNumber(at('stepMl')) : null,
        stepG: kind === 'scale' ? typedNumber(at('stepG')) : null,
      };
    }
    case 'vessel':
      return {
        name: at('name'),
        capacityL: litres(at('capacityL')),
        material: at('material'),
        heatProof: at('heatProof') === 'yes',
      };
    case 'product': {
      const kind = at('kind');
      const caution = kind === 'acid' ? ACID_CAUTION : kind === 'base' ? ALKALI_CAUTION : '';
      const recipe =
        kind === 'acid' || kind === 'base' || at('amount').trim() === ''
          ? null
          : {
              amount: typedNumber(at('amount')),
              unit: at('unit'),
              toolId: at('unit') === 'drops' || at('unit') === 'spoons' ? at('toolId') || null : null,
              unitWords: at('unitWords'),
              waterL: litres(at('waterL')),
              readsPpm: typedNumber(at('readsPpm')),
              basePpm: typedNumber(at('basePpm')),
              meterId: at('meterId') || room.mainPpmMeterId,
            };
      return {
        name: at('name'),
        shortName: at('shortName'),
        kind,
        label: at('label'),
        caution: at('caution') || caution,
        recipe,
        analysis: labelFrom(t),
        hydroponics: at('hydroponics') || 'unsaid',
        topDoseMlL: typedNumber(at('topDoseMlL')),
        longestDays: typedNumber(at('longestDays')),
        slowsGrowth: at('slowsGrowth') === 'yes',
      };
    }
  }
}
