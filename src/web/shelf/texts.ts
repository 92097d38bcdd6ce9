import type { ShelfKind, ShelfRoom, ShelfValues } from '../../contract/shelf.ts';
import { ACID_CAUTION, ALKALI_CAUTION } from '../../contract/cautions.ts';
import { inLargeUnit, readLarge } from '../shell/format.ts';
import { typedNumber } from '../shell/field-reader.ts';

/** A form as typed: everything is text until it is kept. */
export type Texts = Record<string, string>;

export const TITLES: Record<ShelfKind, string> = { water: 'Water', meter: 'Pen', tool: 'Measure', vessel: 'Vessel', product: 'Product' };
export const FIELD_NAMES: Record<ShelfKind, readonly string[]> = {
  water: ['name', 'note', 'kind', 'tankL', 'perDayL'],
  meter: ['name', 'quantity', 'scale', 'scaleFrom', 'resolution'],
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
  ],
};

/** What stands in an empty form. */
export const FIRST: Record<ShelfKind, Texts> = {
  water: { name: '', note: '', kind: 'still', tankL: '', perDayL: '' },
  meter: { name: '', quantity: 'ppm', scale: '0.5', scaleFrom: 'label', standard: '', resolution: '1' },
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
        name: w.name,
        note: w.note,
        kind: w.kind,
        tankL: w.tankL === null ? '' : inLargeUnit(w.tankL * 1000),
        perDayL: w.perDayL === null ? '' : inLargeUnit(w.perDayL * 1000),
      };
    }
    case 'meter': {
      const m = values as ShelfValues<'meter'>;
      return { name: m.name, quantity: m.quantity, scale: text(m.scale), scaleFrom: m.scaleFrom ?? '', standard: '', resolution: String(m.resolution) };
    }
    case 'tool': {
      const t = values as ShelfValues<'tool'>;
      return { kind: t.kind, name: t.name, dropsPerMl: text(t.dropsPerMl), capacityMl: text(t.capacityMl), stepMl: text(t.stepMl), stepG: text(t.stepG) };
    }
    case 'vessel': {
      const s = values as ShelfValues<'vessel'>;
      return { name: s.name, capacityL: inLargeUnit(s.capacityL * 1000), material: s.material, heatProof: s.heatProof ? 'yes' : '' };
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
      return { name: at('name'), note: at('note'), kind: at('kind'), tankL: litres(at('tankL')), perDayL: litres(at('perDayL')) };
    case 'meter':
      return at('quantity') === 'pH'
        ? { name: at('name'), quantity: 'pH', scale: null, scaleFrom: null, resolution: typedNumber(at('resolution')) }
        : {
            name: at('name'),
            quantity: 'ppm',
            scale: typedNumber(at('scale')),
            scaleFrom: at('scaleFrom') || 'guess',
            resolution: typedNumber(at('resolution')),
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
      return { name: at('name'), capacityL: litres(at('capacityL')), material: at('material'), heatProof: at('heatProof') === 'yes' };
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
      return { name: at('name'), shortName: at('shortName'), kind, label: at('label'), caution: at('caution') || caution, recipe };
    }
  }
}
