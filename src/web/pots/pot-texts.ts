import type { PotValues } from '../../contract/pots.ts';
import { typedNumber } from '../shell/field-reader.ts';
import { inSmallUnit, readSmall } from '../shell/format.ts';

/** The pot form as typed. */
export type PotTexts = Record<Exclude<keyof PotValues, never>, string> & { regimenId: string };

export const EMPTY_POT: PotTexts = {
  code: '',
  plant: '',
  name: '',
  placeId: '',
  spot: '',
  medium: 'clay',
  stage: 'growth',
  clay: '',
  clayL: '',
  brimMl: '',
  reservoirMl: '',
  fillMl: '',
  heightCm: '',
  habit: '',
  sensitivity: 'usual',
  grows: 'houseplant',
  origin: '',
  acquiredOn: '',
  repottedOn: '',
  note: '',
  regimenId: '',
};

export function toPotTexts(values: PotValues): PotTexts {
  const volume = (ml: number | null) => (ml === null ? '' : inSmallUnit(ml));
  const text = (value: string | number | null) => (value === null ? '' : String(value));
  return {
    ...values,
    clay: text(values.clay),
    clayL: text(values.clayL),
    brimMl: volume(values.brimMl),
    reservoirMl: volume(values.reservoirMl),
    fillMl: volume(values.fillMl),
    heightCm: text(values.heightCm),
    habit: text(values.habit),
    acquiredOn: text(values.acquiredOn),
    repottedOn: text(values.repottedOn),
    regimenId: '',
  };
}

/** What was typed as the act's values. An empty fill limit is the reservoir; what is no figure goes as typed, to be refused with its message. */
export function toPotValues(t: PotTexts): object {
  const volume = (typed: string) => {
    const read = readSmall(typed);
    return read.kind === 'volume' ? read.ml : read.kind === 'empty' ? null : typed;
  };
  const { regimenId: _regimenId, ...rest } = t;
  const reservoirMl = volume(t.reservoirMl);
  return {
    ...rest,
    clay: t.clay.trim() || null,
    clayL: typedNumber(t.clayL),
    brimMl: volume(t.brimMl),
    reservoirMl,
    fillMl: volume(t.fillMl) ?? reservoirMl,
    heightCm: typedNumber(t.heightCm),
    habit: t.habit || null,
    acquiredOn: t.acquiredOn || null,
    repottedOn: t.repottedOn || null,
  };
}

/** The code after the last one of its kind: A-07 after A-06. */
export function nextCode(codes: readonly string[]): string {
  const last = codes.at(-1);
  const match = last === undefined ? null : /^(.*?)(\d+)$/.exec(last);
  if (!match) return last === undefined ? 'A-01' : '';
  const [, stem = '', digits = ''] = match;
  const taken = new Set(codes.map((code) => code.toLowerCase()));
  for (let n = Number(digits) + 1; ; n++) {
    const code = `${stem}${String(n).padStart(digits.length, '0')}`;
    if (!taken.has(code.toLowerCase())) return code;
  }
}
