/*
 * What is measured of a plant as it grows. Apart from the schemas, so that the first screen need not carry them.
 */

export const ROOT_GRADES = ['none', 'a few', 'some', 'many', 'full of them'] as const;

type Growth = {
  readonly label: string;
  /** Behind the figure; empty where it is counted or graded. */
  readonly unit: string;
  readonly most: number;
  readonly whole: boolean;
  readonly ask: string;
};
export const GROWTH = {
  leaves: { label: 'leaves', unit: '', most: 2000, whole: true, ask: 'Count the leaves, such as 7.' },
  leafCm: {
    label: 'longest leaf',
    unit: 'cm',
    most: 300,
    whole: false,
    ask: 'Give the longest leaf in cm, such as 18.5.',
  },
  leafMm: {
    label: 'leaf thickness',
    unit: 'mm',
    most: 50,
    whole: false,
    ask: 'Give the leaf in mm, such as 1.6.',
  },
  growths: {
    label: 'new growths',
    unit: '',
    most: 200,
    whole: true,
    ask: 'Count the new growths, such as 2.',
  },
  spikes: { label: 'spikes', unit: '', most: 200, whole: true, ask: 'Count the spikes, such as 1.' },
  flowers: {
    label: 'open flowers',
    unit: '',
    most: 2000,
    whole: true,
    ask: 'Count the open flowers, such as 3; 0 once they are over.',
  },
  roots: { label: 'roots', unit: '', most: ROOT_GRADES.length - 1, whole: true, ask: 'Choose a grade.' },
  potG: {
    label: 'pot, weighed',
    unit: 'g',
    most: 100_000,
    whole: false,
    ask: 'Give the weight in g, such as 640.',
  },
  plantG: {
    label: 'plant, weighed',
    unit: 'g',
    most: 100_000,
    whole: false,
    ask: 'Give the weight in g, such as 85.',
  },
} as const satisfies Record<string, Growth>;
export type GrowthKey = keyof typeof GROWTH;
export const GROWTH_KEYS = Object.keys(GROWTH) as GrowthKey[];
export type GrowthFigures = Partial<Record<GrowthKey, number>>;

/** A figure in words: "7 leaves", "longest leaf 18.5 cm", "roots many". */
export function growthWords(key: GrowthKey, figure: number): string {
  const { label, unit } = GROWTH[key];
  if (key === 'roots') return `roots ${ROOT_GRADES[figure] ?? ''}`;
  return unit === ''
    ? `${figure} ${figure === 1 ? label.replace(/ves$/, 'f').replace(/s$/, '') : label}`
    : `${label} ${figure} ${unit}`;
}

/** "7 leaves, longest leaf 18.5 cm" */
export const measuredWords = (figures: GrowthFigures): string =>
  GROWTH_KEYS.flatMap((key) => (figures[key] === undefined ? [] : [growthWords(key, figures[key])])).join(', ');
