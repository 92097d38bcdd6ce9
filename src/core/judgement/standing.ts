import { daysBetween, type LocalDate } from '../regimen/index.ts';
import type { PotFacts } from './facts.ts';
import { phs, ratios } from './measures.ts';
import { dryBeforeItsDay, EDGING, GATHERING, RAN_DRY, TAKES, saltsRise } from './thresholds.ts';

/** What a collection's list says of a pot at a glance. */
export const SIGNS = [
  'rot',
  'ranDry',
  'drySoon',
  'pests',
  'salting',
  'crust',
  'stalled',
  'drifting',
  'low',
  'edging',
  'tips',
  'takesAll',
] as const;
export type Sign = (typeof SIGNS)[number];

/** How a pot stands, from its last visits and looks and its own course. Conductivity in µS/cm, days from today. */
export type Standing = {
  /** Come-out against the pour before it, at the last visit where both were read; not of plain water, which has nothing to be measured against. */
  readonly ratio?: number;
  readonly pouredEcUsCm?: number;
  readonly cameOutEcUsCm?: number;
  readonly ratioOn?: LocalDate;
  /** As it came out, oldest first. */
  readonly phs: readonly { readonly on: LocalDate; readonly ph: number }[];
  readonly daysUntilDry?: number;
  /** Most pressing first. */
  readonly signs: readonly Sign[];
  /** What orders the worst first: larger is worse, 0 for nothing. */
  readonly trouble: number;
};

/** Poured weaker than this it was water, µS/cm: a ratio to it says nothing. */
const NOTHING_POURED_EC = 60;
/** How much each sign weighs against the others where the worst come first. House order, in the order of judgement's priorities. */
const WEIGHTS: Readonly<Record<Sign, number>> = {
  rot: 12,
  ranDry: 9,
  drySoon: 8,
  pests: 7,
  salting: 6,
  crust: 5,
  stalled: 4,
  drifting: 4,
  low: 3,
  edging: 2,
  tips: 2,
  takesAll: 1,
};
/** Growth that was not seen at so many looks running has stalled. */
const LOOKS_WITHOUT_GROWTH = 3;

/** How a pot stands. One reading is shown for what it is here; what to do about it, judgement says, on more than one. */
export function standingOf(
  f: Pick<PotFacts, 'today' | 'stage' | 'visits' | 'looks' | 'reservoirMl' | 'dueOn' | 'plainOnly'> & {
    readonly daysUntilDry?: number | undefined;
  },
): Standing {
  const all = ratios(f).filter((r) => r.visit.pouredEcUsCm! >= NOTHING_POURED_EC);
  const last = all.at(-1);
  const ph = phs(f);
  const look = f.looks.at(-1);
  const lastVisit = f.visits.at(-1);
  const has = (cue: string, ...grades: string[]) => grades.includes(look?.cues[cue] ?? '');
  const latest = (count: number, test: (ratio: number) => boolean) =>
    all.length >= count && all.slice(-count).every((r) => test(r.ratio));
  const salting = !f.plainOnly && (latest(2, (r) => r >= GATHERING) || saltsRise(all.map((r) => r.ratio)));
  const growing = f.stage === 'growth' || f.stage === 'rooting';
  const lastPh = ph.at(-1)?.ph;
  const tests: Record<Sign, boolean> = {
    rot: has('rot', 'soft'),
    ranDry: lastVisit?.leftMl !== undefined && lastVisit.days > 1 && lastVisit.leftMl <= RAN_DRY * f.reservoirMl,
    drySoon: f.daysUntilDry !== undefined && dryBeforeItsDay(f.daysUntilDry, daysBetween(f.today, f.dueOn)),
    pests: has('pests', 'some', 'many'),
    salting,
    crust: has('crust', 'some', 'ring'),
    stalled:
      growing &&
      f.looks.length >= LOOKS_WITHOUT_GROWTH &&
      f.looks.slice(-LOOKS_WITHOUT_GROWTH).every((l) => (l.cues['growth'] ?? 'none') === 'none') &&
      has('leaves', 'floppy', 'wrinkled', 'marks'),
    drifting: lastPh !== undefined && lastPh > 7,
    low: lastPh !== undefined && lastPh < 5.2,
    edging: !salting && !f.plainOnly && (last?.ratio ?? 0) >= EDGING,
    tips: has('tips', 'brown', 'worse'),
    takesAll: growing && latest(2, (r) => r < TAKES),
  };
  const signs = SIGNS.filter((sign) => tests[sign]);
  const dryNow = f.daysUntilDry === 0 ? 2 : 0;
  return {
    ...(last === undefined
      ? {}
      : {
          ratio: last.ratio,
          pouredEcUsCm: last.visit.pouredEcUsCm!,
          cameOutEcUsCm: last.visit.cameOutEcUsCm!,
          ratioOn: last.visit.on,
        }),
    phs: ph.map(({ visit, ph: value }) => ({ on: visit.on, ph: value })),
    ...(f.daysUntilDry === undefined ? {} : { daysUntilDry: f.daysUntilDry }),
    signs,
    trouble:
      signs.reduce((sum, sign) => sum + WEIGHTS[sign], 0) +
      (salting ? (last?.ratio ?? 0) : 0) +
      dryNow +
      0.5 * Math.max(0, daysBetween(f.dueOn, f.today)),
  };
}
