import { daysBetween, type LocalDate } from '../regimen/index.ts';
import type { PotFacts } from './facts.ts';
import { phs, ratios } from './measures.ts';
import { dryBeforeItsDay, EDGING, GATHERING, PH_DRIFTING, PH_LOW, RAN_DRY, TAKES, saltsRise } from './thresholds.ts';

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

type Ratios = ReturnType<typeof ratios>;
const latest = (all: Ratios, count: number, test: (ratio: number) => boolean) =>
  all.length >= count && all.slice(-count).every((r) => test(r.ratio));
const isGrowing = ({ stage }: Pick<PotFacts, 'stage'>) => stage === 'growth' || stage === 'rooting';

const isSalting = ({ plainOnly }: Pick<PotFacts, 'plainOnly'>, all: Ratios) =>
  !plainOnly && (latest(all, 2, (r) => r >= GATHERING) || saltsRise(all.map((r) => r.ratio)));

/** What was seen of the plant and its top. */
function looksTell(f: Pick<PotFacts, 'stage' | 'looks'>) {
  const look = f.looks.at(-1);
  const has = (cue: string, ...grades: string[]) => grades.includes(look?.cues[cue] ?? '');
  const lately = f.looks.slice(-LOOKS_WITHOUT_GROWTH);
  const noGrowth =
    lately.length === LOOKS_WITHOUT_GROWTH && lately.every((l) => (l.cues['growth'] ?? 'none') === 'none');
  return {
    rot: has('rot', 'soft'),
    pests: has('pests', 'some', 'many'),
    crust: has('crust', 'some', 'ring'),
    stalled: isGrowing(f) && noGrowth && has('leaves', 'floppy', 'wrinkled', 'marks'),
    tips: has('tips', 'brown', 'worse'),
  };
}

function waterTells(
  f: Pick<PotFacts, 'today' | 'visits' | 'reservoirMl' | 'dueOn'> & { readonly daysUntilDry?: number | undefined },
) {
  const last = f.visits.at(-1);
  return {
    ranDry: last?.leftMl !== undefined && last.days > 1 && last.leftMl <= RAN_DRY * f.reservoirMl,
    drySoon: f.daysUntilDry !== undefined && dryBeforeItsDay(f.daysUntilDry, daysBetween(f.today, f.dueOn)),
  };
}

const saltsTell = (f: Pick<PotFacts, 'stage' | 'plainOnly'>, all: Ratios, salting: boolean) => ({
  salting,
  edging: !salting && !f.plainOnly && (all.at(-1)?.ratio ?? 0) >= EDGING,
  takesAll: isGrowing(f) && latest(all, 2, (r) => r < TAKES),
});

const phTells = (lastPh: number | undefined) => ({
  drifting: lastPh !== undefined && lastPh > PH_DRIFTING,
  low: lastPh !== undefined && lastPh < PH_LOW,
});

/** How a pot stands. One reading is shown for what it is here; what to do about it, judgement says, on more than one. */
export function standingOf(
  f: Pick<PotFacts, 'today' | 'stage' | 'visits' | 'looks' | 'reservoirMl' | 'dueOn' | 'plainOnly'> & {
    readonly daysUntilDry?: number | undefined;
  },
): Standing {
  const all = ratios(f).filter((r) => r.visit.pouredEcUsCm! >= NOTHING_POURED_EC);
  const last = all.at(-1);
  const ph = phs(f);
  const salting = isSalting(f, all);
  const tests: Record<Sign, boolean> = {
    ...looksTell(f),
    ...waterTells(f),
    ...saltsTell(f, all, salting),
    ...phTells(ph.at(-1)?.ph),
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
