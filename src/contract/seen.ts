import { GROWTH_KEYS, measuredWords, type GrowthFigures, type GrowthKey } from './growth.ts';

/*
 * What is looked at when a pot is looked over. Apart from the schemas, so that the first screen need not carry them.
 */

/** Things seen as they were noted before looks had grades; looks of then are read as what they meant. */
export const SEEN = ['tips', 'crust', 'new roots', 'pests', 'loose'] as const;
export type Seen = (typeof SEEN)[number];

export type Tone = 'good' | 'soon' | 'late';
/** A cue, its grades from what is expected onwards, and what each means. The first grade is what a look that says nothing of it found. */
export const CUES = {
  tips: { label: 'leaf tips', grades: { fine: 'good', pale: 'soon', brown: 'soon', worse: 'late' } },
  crust: { label: 'crust', grades: { none: 'good', trace: 'soon', some: 'soon', ring: 'late' } },
  mould: { label: 'mould', grades: { none: 'good', fuzzy: 'soon' } },
  roots: { label: 'new roots', grades: { none: 'good', few: 'good', many: 'good' } },
  growth: { label: 'new growth', grades: { none: 'good', yes: 'good', pale: 'soon', 'below the fill': 'soon' } },
  leaves: {
    label: 'leaves',
    grades: { firm: 'good', 'old pale': 'soon', marks: 'soon', floppy: 'soon', wrinkled: 'late' },
  },
  spike: { label: 'spike', grades: { none: 'good', sheath: 'good', spike: 'good', bud: 'good' } },
  pests: { label: 'pests', grades: { none: 'good', some: 'soon', many: 'late' } },
  loose: { label: 'in the pot', grades: { firm: 'good', loose: 'soon' } },
  sun: { label: 'sun scar', grades: { none: 'good', scar: 'soon' } },
  rot: { label: 'crown and roots', grades: { sound: 'good', soft: 'late' } },
  air: { label: 'air roots', grades: { fine: 'good', 'burnt tips': 'soon' } },
} as const satisfies Record<string, { label: string; grades: Record<string, Tone> }>;

export type Cue = keyof typeof CUES;
export const CUE_NAMES = Object.keys(CUES) as Cue[];
/** Shown on the round at once; the rest behind "more". */
export const FIRST_CUES: readonly Cue[] = ['tips', 'crust', 'roots', 'growth', 'pests', 'loose'];

/** A look at a pot: what differed from the expected, a note, and what was counted and measured (new growths; thickness of a leaf, mm). */
export type Look = {
  readonly cues: Partial<Record<Cue, string>>;
  readonly note: string;
  readonly growths: number | null;
  readonly leafMm: number | null;
  readonly measured?: GrowthFigures | undefined;
};
export const NOTHING_SEEN: Look = { cues: {}, note: '', growths: null, leafMm: null };

export const gradesOf = (cue: Cue): string[] => Object.keys(CUES[cue].grades);
/** What a look says of a cue: as noted, or what is expected. */
export const gradeIn = (look: Look, cue: Cue): string => look.cues[cue] ?? gradesOf(cue)[0]!;
export const toneOf = (cue: Cue, grade: string): Tone => (CUES[cue].grades as Record<string, Tone>)[grade] ?? 'soon';

const MEANT: Record<Seen, [Cue, string]> = {
  tips: ['tips', 'brown'],
  crust: ['crust', 'some'],
  'new roots': ['roots', 'few'],
  pests: ['pests', 'some'],
  loose: ['loose', 'loose'],
};
/** A look noted before looks had grades. */
export function lookFromSeen(seen: readonly Seen[]): Look {
  return { ...NOTHING_SEEN, cues: Object.fromEntries(seen.map((what) => MEANT[what])) };
}

/** A look in words: "leaf tips brown, crust some"; "looked fine". */
export function lookWords(look: Look): string {
  const cues = CUE_NAMES.flatMap((cue) =>
    look.cues[cue] === undefined ? [] : [`${CUES[cue].label} ${look.cues[cue]}`],
  );
  const measured = [
    look.growths === null ? '' : `${look.growths} new growths`,
    look.leafMm === null ? '' : `leaf ${look.leafMm} mm`,
  ];
  return (
    [...cues, ...measured, measuredWords(look.measured ?? {}), look.note].filter(Boolean).join(', ') || 'looked fine'
  );
}

/** What was measured at a look; undefined where nothing was. */
export function measuredAt({ growths, leafMm, measured }: Look): GrowthFigures | undefined {
  const all: Partial<Record<GrowthKey, number | null | undefined>> = { growths, leafMm, ...measured };
  const found = GROWTH_KEYS.flatMap((key) => {
    const figure = all[key];
    return figure === null || figure === undefined ? [] : [[key, figure] as const];
  });
  return found.length === 0 ? undefined : Object.fromEntries(found);
}
