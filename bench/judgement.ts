/**
 * Judgement on simulated collections with planted troubles, and how fast it is. Pots are played by a simulator of their own make (its own
 * structure and constants); judgement sees readings (2 %, 0.05 pH), leftovers and looks whose cues are missed 20 % and false 2 % of the time,
 * each cue by itself. Pots that are well are those most growers would call so.
 * Counted: troubles raised within three rounds of being visible, and newly opened cards on pots that are well.
 * `npx tsx bench/judgement.ts [collections of twenty pots]`
 */
import { CUE_NAMES, gradesOf, type Cue } from '../src/contract/seen.ts';
import {
  alkaliAt,
  asMade,
  courseOf,
  curveOf,
  DRY_SHARE,
  filledPot,
  liveInterval,
  natureOf,
  playPot,
  POTS_AT_LARGE,
  restCarbon,
  type PotBelief,
  type PotWater,
  type PotSolution,
  type TitrationCurve,
} from '../src/core/drift/index.ts';
import {
  judge,
  watchPen,
  type GivenMonth,
  type LookFact,
  type PenMiss,
  type PotFacts,
  type VisitFact,
} from '../src/core/judgement/index.ts';
import { plusDays } from '../src/core/regimen/index.ts';
import { FLUSH_EFFICIENCY, PORES_PER_RESERVOIR } from '../src/core/reservoir/index.ts';
import {
  fillSim,
  flushSim,
  passDays,
  simEc,
  simPh,
  type SimPotNature,
  type SimSolution,
} from '../src/core/simulation/index.ts';
import { anchoredAt, composition } from '../src/core/solution/index.ts';
import { normal, seededRandom, type Crowd, type Random } from '../src/core/statistics/index.ts';

const MADE: SimSolution = { idealEcUsCm: 200, alkalinityMeqL: 0.15, carbonMmolL: 0.15, phosphateMmolL: 0.28 };
const RAIN: SimSolution = { idealEcUsCm: 48, alkalinityMeqL: 0.05, carbonMmolL: 0.107, phosphateMmolL: 0 };
/** What the grower's label and water say of the feed: an eighth less phosphate than there is. */
const THOUGHT = composition({
  Ca: 0.2,
  Mg: 0.08,
  K: 1.1,
  NO3: 1.15,
  NH4: 0.12,
  PO4: 0.25,
  CO2: 0.15,
  SO4: 0.05,
});
const RAIN_CURVE = curveOf(
  anchoredAt(composition({ Ca: 0.1, Na: 0.1, Cl: 0.1, NO3: 0.05, SO4: 0.02, CO2: 0.107 }), simPh(RAIN))!,
);
const FLUSH_TIMES = 2;

type Trouble = 'well' | 'salts' | 'clay' | 'dry' | 'calcium';
/** Pens a collection is read with: off by so much from a round on. */
type Pens = { readonly ec: (round: number) => number; readonly ph: (round: number) => number };
const TRUE_PENS: Pens = { ec: () => 1, ph: () => 0 };
const ROUNDS = 24;
/** The trouble begins in this round. */
const BEGINS = 12;
const WITHIN = 3;
const MISSED = 0.2;
const FALSE = 0.02;
const FIRST = '2026-01-07';
const WEEK = 7;
const AIM = 200;

/** Which rules speak of a trouble. */
const SPEAKS: Record<Exclude<Trouble, 'well'>, readonly string[]> = {
  salts: ['salts', 'crust', 'overloaded'],
  clay: ['clayGives', 'overloaded'],
  dry: ['dry'],
  calcium: ['calcium'],
};

/** The feed brought to pH 5.6. */
const FEED = { ...MADE, alkalinityMeqL: 0.03 };

/** Pots a week suits: they drink more than they lose, and keep most salts they drink. */
function natureOfPot(reservoirMl: number, random: Random): SimPotNature {
  return {
    reservoirMl,
    poreMl: reservoirMl * (0.2 + 0.15 * random()),
    evaporatedMlDay: 0.015 * reservoirMl * Math.exp(0.3 * normal(random)),
    drunkMlDay: 0.065 * reservoirMl * Math.exp(0.2 * normal(random)),
    uptakeShare: Math.min(1, 0.85 + 0.1 * normal(random)),
    alkalinityUeqDay: (reservoirMl / 250) * (-0.3 + 0.7 * normal(random)),
    clayEcUsLDay: 0.2 * random(),
    flushLeaves: 0.2 + 0.3 * random(),
  };
}

type Round = { readonly ec: number; readonly ph: number; readonly volumeMl: number };
/** A pot as it truly goes, its trouble with water apart. Played once, read many times: it is the costly part. */
type Truth = { readonly id: string; readonly reservoirMl: number; readonly rounds: readonly Round[] };

/** Those that are not well are drawn again. */
function truthOf(id: string, seed: number, weather: readonly number[], thirsty: (round: number) => number): Truth {
  for (let again = 0; ; again++) {
    const random = seededRandom(seed + 7919 * again);
    const reservoirMl = 150 + 250 * random();
    const nature = natureOfPot(reservoirMl, random);
    const rounds: Round[] = [];
    let pot = { volumeMl: 0, reservoir: FEED, pores: FEED };
    for (let round = 0; round < ROUNDS; round++) {
      if (round > 0) {
        const times = weather[round]! * thirsty(round);
        pot = passDays(
          pot,
          { ...nature, evaporatedMlDay: nature.evaporatedMlDay * times, drunkMlDay: nature.drunkMlDay * times },
          WEEK,
          random,
        );
      }
      rounds.push({ ec: simEc(pot.reservoir), ph: simPh(pot.reservoir), volumeMl: pot.volumeMl });
      pot = fillSim(flushSim(pot, nature, RAIN, FLUSH_TIMES * reservoirMl, random), nature, FEED, reservoirMl);
      if (round === 5 && !isWell(rounds.slice(2), reservoirMl)) break;
    }
    if (rounds.length === ROUNDS) return { id, reservoirMl, rounds };
  }
}

/** Where most growers want it (common practice): 0.8 to 1.4 times the pour, pH 5.3 to 6.8, a quarter left at its day. */
function isWell(rounds: readonly Round[], reservoirMl: number): boolean {
  const mean = (of: (r: Round) => number) => rounds.reduce((sum, r) => sum + of(r), 0) / rounds.length;
  const [times, ph, left] = [mean((r) => r.ec) / simEc(FEED), mean((r) => r.ph), mean((r) => r.volumeMl) / reservoirMl];
  return times > 0.8 && times < 1.4 && ph > 5.3 && ph < 6.8 && left > 0.25;
}

type Played = {
  /** Rules that were open after each round. */
  readonly open: readonly (readonly string[])[];
  /** The round in which the trouble could first be seen. */
  readonly visible: number | undefined;
  readonly misses: readonly (PenMiss & { readonly what: 'ppm' | 'pH' })[];
};

/** What is read of a pot, what it teaches, and what is advised on it, round after round. */
function play({ id, reservoirMl, rounds }: Truth, seed: number, trouble: Trouble, pens: Pens = TRUE_PENS): Played {
  const random = seededRandom(seed);
  let belief: PotBelief = POTS_AT_LARGE;
  let pores: { curve: TitrationCurve; standing: PotSolution } | undefined;
  let old: Crowd | undefined;
  let before: { water: PotWater; ec: number; ph: number } | undefined;
  const visits: VisitFact[] = [];
  const looks: LookFact[] = [];
  const given: GivenMonth[] = [];
  const open: string[][] = [];
  const misses: Played['misses'][number][] = [];
  let visible: number | undefined;
  let gap = 0;
  for (const [round, truth] of rounds.entries()) {
    const on = plusDays(FIRST, WEEK * round);
    const begun = round >= BEGINS;
    if (before) {
      // What gathers in salts a round, and what an unleached clay gives at once.
      if (trouble === 'salts' && begun) gap += 0.2 * AIM;
      const extra = extraEc(trouble, begun, gap);
      const ec = Math.round(pens.ec(round) * (truth.ec + extra) * (1 + 0.02 * normal(random)));
      const ph = Math.round(10 * (truth.ph + pens.ph(round) + 0.05 * normal(random))) / 10;
      // The wick reaches the last of it: so little is nothing to tip out.
      const dry = truth.volumeMl <= 0.1 * reservoirMl;
      const leftMl = dry ? 0 : Math.round((truth.volumeMl * (1 + 0.05 * normal(random))) / 10) * 10;
      const interval = { water: before.water, days: WEEK, season: 1, leftMl, cameOutEcUsCm: ec, cameOutPh: ph };
      const lived = liveInterval(belief, interval);
      const { knowingLeft: likely } = lived;
      const weight = Math.min(1, (round - 1) / 4);
      if (round > 1)
        misses.push(
          { what: 'ppm', potId: id, on, miss: Math.log(ec / likely.ecUsCm), weight },
          { what: 'pH', potId: id, on, miss: ph - likely.ph, weight },
        );
      ({ belief, old } = lived);
      visits.push({
        eventId: `${id}-${round}`,
        on,
        days: WEEK,
        pouredEcUsCm: before.ec,
        pouredPh: before.ph,
        cameOutEcUsCm: ec,
        cameOutPh: ph,
        leftMl,
        flushMl: FLUSH_TIMES * reservoirMl,
        ecTainted: false,
        phTainted: false,
      });
      const strength = ec / before.water.curve.ecUsCm;
      const carbonMmolL = restCarbon(before.water.curve, ph);
      pores = {
        curve: before.water.curve,
        standing: { strength, alkaliMeqL: alkaliAt(before.water.curve, strength, carbonMmolL, ph), carbonMmolL },
      };
      if (begun && isVisible(trouble, round, gap, dry)) visible ??= round;
    }
    looks.push({ eventId: `${id}-l${round}`, on, cues: cuesOf(trouble, round, gap, random) });
    give(given, on, trouble === 'calcium' && begun ? 0.5 : 1, random);
    const mixEc = Math.round(pens.ec(round) * simEc(FEED) * (1 + 0.02 * normal(random)));
    const mixPh = Math.round(10 * (simPh(FEED) + pens.ph(round) + 0.05 * normal(random))) / 10;
    const water = filledWater(mixPh, mixEc, reservoirMl, { pores, old, fresh: false }, belief);
    before = { water, ec: mixEc, ph: mixPh };
    const course = courseOf(21);
    playPot(water, natureOf(belief, water, 1), course);
    const dryDay = [...course.freeMl].findIndex((ml) => ml <= DRY_SHARE * reservoirMl);
    open.push(
      judge(
        factsOf({ on, reservoirMl, visits, looks, given, trouble, daysUntilDry: dryDay < 0 ? undefined : dryDay }),
      ).map((a) => a.rule),
    );
  }
  return { open, visible, misses };
}

/** What a trouble adds to what comes out, µS/cm. */
function extraEc(trouble: Trouble, begun: boolean, gap: number): number {
  if (trouble === 'salts') return gap;
  return trouble === 'clay' && begun ? 300 : 0;
}

/** Salts past what readings scatter by; a clay's giving at once; a pot once it stood dry; calcium once two mixes had half of it. */
function isVisible(trouble: Trouble, round: number, gap: number, dry: boolean): boolean {
  return { well: false, salts: gap >= 0.4 * AIM, clay: true, dry, calcium: round >= BEGINS + 1 }[trouble];
}

function filledWater(
  ph: number,
  ecUsCm: number,
  reservoirMl: number,
  before: Parameters<typeof filledPot>[1],
  belief: PotBelief,
): PotWater {
  const curve = curveOf(anchoredAt(THOUGHT, ph)!);
  const mix = { curve, standing: { ...asMade(curve), strength: ecUsCm / curve.ecUsCm } };
  const flushed = [{ water: RAIN_CURVE, ml: FLUSH_TIMES * reservoirMl }];
  const poreMl = PORES_PER_RESERVOIR * reservoirMl;
  return filledPot({ pouredMl: reservoirMl, mix, flushed }, before, poreMl, FLUSH_EFFICIENCY.mean, belief);
}

/** What a look notes: what is there is missed now and then, and now and then something is noted that is not there. */
function cuesOf(trouble: Trouble, round: number, gap: number, random: Random): Record<string, string> {
  const truly: Partial<Record<Cue, string>> = { growth: 'yes' };
  if (trouble === 'salts' && gap >= 0.8 * AIM) truly.crust = gap >= 1.4 * AIM ? 'ring' : 'some';
  if (trouble === 'calcium' && round >= BEGINS + 4) truly.tips = 'brown';
  const cues: Record<string, string> = {};
  for (const cue of CUE_NAMES) {
    const [expected, ...others] = gradesOf(cue);
    const there = truly[cue];
    if (there !== undefined) cues[cue] = random() < MISSED ? expected! : there;
    else cues[cue] = random() < FALSE ? others[Math.floor(random() * others.length)]! : expected!;
  }
  return cues;
}

/** A week's feed, by the month: some 4 mg of nitrogen and as much calcium, a little more or less each time. */
function give(given: GivenMonth[], on: string, calcium: number, random: Random): void {
  const month = on.slice(0, 7);
  const last = given.at(-1)?.month === month ? given.pop()! : { month, mg: {}, stillL: 0 };
  const n = 4 * (1 + 0.05 * normal(random));
  const mg = { ...last.mg, N: (last.mg.N ?? 0) + n, Ca: (last.mg.Ca ?? 0) + n * calcium * (1 + 0.05 * normal(random)) };
  given.push({ ...last, mg });
}

function factsOf(of: {
  on: string;
  reservoirMl: number;
  visits: readonly VisitFact[];
  looks: readonly LookFact[];
  given: readonly GivenMonth[];
  trouble: Trouble;
  daysUntilDry: number | undefined;
}): PotFacts {
  const begins = plusDays(FIRST, WEEK * BEGINS);
  return {
    today: of.on,
    stage: 'growth',
    medium: 'clay',
    tender: false,
    orchid: true,
    site: { southern: false, lamps: false, warm: true },
    reservoirMl: of.reservoirMl,
    fillMl: of.reservoirMl,
    aimEcUsCm: AIM,
    plainOnly: false,
    pourPh: { low: 5.5, high: 6.5 },
    everyDays: WEEK,
    dueOn: plusDays(of.on, WEEK),
    // A clay that was just planted in: what was read before it says nothing of it.
    visits: of.visits.filter((v) => !(of.trouble === 'clay' && of.on >= begins && v.on < begins)).slice(-8),
    looks: of.looks.slice(-6),
    daysUntilDry: of.daysUntilDry,
    soaks: [],
    given: of.given,
    ...(of.trouble === 'clay' && of.on >= begins
      ? { repottedOn: plusDays(FIRST, WEEK * BEGINS - 1), unleached: true }
      : {}),
  };
}

/** A collection of twenty, its weather shared: some weeks a pot loses an eighth more. */
function collection(seed: number): Truth[] {
  const random = seededRandom(seed);
  const weather = Array.from({ length: ROUNDS }, () => Math.exp(0.12 * normal(random)));
  return Array.from({ length: POTS }, (_, i) => truthOf(`p${seed}-${i}`, 1000 * seed + i, weather, () => 1));
}

/** Raised within three rounds of being visible, of those that became visible. */
function caught(trouble: Exclude<Trouble, 'well'>, truths: readonly Truth[]): string {
  const played = truths.map((truth, i) => play(truth, 5000 + i, trouble)).filter((p) => p.visible !== undefined);
  const raised = played.filter(({ open, visible }) =>
    open.slice(BEGINS, visible! + WITHIN).some((rules) => rules.some((rule) => SPEAKS[trouble].includes(rule))),
  ).length;
  return `${trouble}: raised within ${WITHIN} rounds in ${share(raised, played.length)} of ${played.length}`;
}

function penCaught(what: 'ppm' | 'pH', by: number, collections: readonly (readonly Truth[])[]): string {
  const from = (round: number) => round >= BEGINS;
  const pens: Pens =
    what === 'ppm' ? { ...TRUE_PENS, ec: (r) => (from(r) ? by : 1) } : { ...TRUE_PENS, ph: (r) => (from(r) ? by : 0) };
  const raised = collections.filter((truths, c) => {
    const misses = truths.flatMap((truth, i) =>
      play(truth, 90000 + 100 * c + i, 'well', pens).misses.filter((m) => m.what === what),
    );
    return [0, 1, 2].some((k) => {
      const today = plusDays(FIRST, WEEK * (BEGINS + k));
      const upTo = misses.filter((m) => m.on <= today);
      const off = watchPen(upTo, what, today);
      return off !== undefined && off.round.on >= plusDays(FIRST, WEEK * BEGINS);
    });
  }).length;
  const words = what === 'ppm' ? `${Math.round(100 * (by - 1))} %` : `${by} pH`;
  return `pen off by ${words}: raised within ${WITHIN} rounds in ${share(raised, collections.length)} of ${collections.length} collections of ${POTS}`;
}

const share = (n: number, of: number) => `${((100 * n) / Math.max(1, of)).toFixed(1)} %`;

const POTS = 20;
const count = Number(process.argv[2] ?? 20);
const collections = Array.from({ length: count }, (_, i) => collection(1 + i));
const truths = collections.flat();
for (const trouble of ['salts', 'clay', 'calcium'] as const) console.log(caught(trouble, truths));
const calm = Array.from({ length: ROUNDS }, () => 1);
const thirsty = truths
  .slice(0, 160)
  .map((t, i) => truthOf(t.id, 700000 + i, calm, (round) => (round >= BEGINS ? 2.4 : 1)));
console.log(caught('dry', thirsty));
for (const by of [1.12, 0.88]) console.log(penCaught('ppm', by, collections));
for (const by of [0.3, -0.3]) console.log(penCaught('pH', by, collections));

const well = collections.map((pots, c) => ({
  played: pots.map((truth, i) => play(truth, 40000 + 100 * c + i, 'well')),
}));
const opened = new Map<string, number>();
let weeks = 0;
let pots = 0;
let penCards = 0;
let penWeeks = 0;
for (const { played } of well) {
  for (const { open } of played) {
    pots++;
    for (let round = 4; round < ROUNDS; round++) {
      weeks++;
      for (const rule of open[round]!)
        if (!open[round - 1]!.includes(rule)) opened.set(rule, (opened.get(rule) ?? 0) + 1);
    }
  }
  for (const what of ['ppm', 'pH'] as const) {
    const misses = played.flatMap((p) => p.misses.filter((m) => m.what === what));
    let was: string | undefined;
    for (let round = 4; round < ROUNDS; round++) {
      const today = plusDays(FIRST, WEEK * round);
      const off = watchPen(
        misses.filter((m) => m.on <= today),
        what,
        today,
      )?.round.on;
      penWeeks++;
      if (off !== undefined && off !== was) penCards++;
      was = off;
    }
  }
}
const cards = [...opened.values()].reduce((a, b) => a + b, 0);
console.log(
  `well: ${pots} pots, ${weeks} pot-weeks, ${cards} newly opened false cards, one in ${(weeks / Math.max(1, cards)).toFixed(1)} pot-weeks (${[
    ...opened,
  ]
    .sort((a, b) => b[1] - a[1])
    .map(([r, n]) => `${r} ${n}`)
    .join(', ')})`,
);
console.log(`well: ${penCards} false alarms of a pen in ${penWeeks} rounds of a pen`);
