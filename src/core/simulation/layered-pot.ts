import { normal, type Random } from '../statistics/index.ts';
import { openedSim } from './sim-pot.ts';
import { simPh, type SimSolution } from './sim-solution.ts';

/*
 * Pots as bodies of water (reservoir, layers of pores, the water inside the grains beside each) that exchange what is dissolved; water rises and
 * leaves, salts stay where it leaves; clay, roots and microbes move the alkali. Ranges are those of the physics and of common practice (values
 * from memory). Volumes in units of the fill, days, mmol and meq a litre.
 */

/** Four makes of them: how many layers, whether water leaves at the top, microbes that rest in acid or grow. */
export type LayeredWorld = 'stirred' | 'layers' | 'ions' | 'crust';

/** What is dissolved in a body: ideal µS/cm, and mmol or meq a litre. */
type Content = {
  readonly ec: number;
  readonly alkali: number;
  readonly carbon: number;
  readonly phosphate: number;
  readonly ammonium: number;
};
const KEYS = ['ec', 'alkali', 'carbon', 'phosphate', 'ammonium'] as const;

/** A mix with the ammonium in it, mmol/L. */
export type WorldMix = SimSolution & { readonly ammoniumMmolL: number };

/** The hidden make of a pot. Rates a day. */
export type LayeredPot = {
  readonly world: LayeredWorld;
  readonly layers: number;
  readonly pores: number;
  readonly grains: number;
  /** Water that leaves, share of the fill, and how much of it as vapour; from the reservoir's own surface, or from the top of the clay. */
  readonly loses: number;
  readonly vapour: number;
  readonly fromTop: boolean;
  /** Salts that roots take with the water they take, against what stands in it. */
  readonly uptake: number;
  readonly exchange: { readonly reservoir: number; readonly layers: number; readonly grains: number };
  readonly flush: { readonly efficiency: number; readonly bypass: number };
  /** Share of a pour that goes through the pores. */
  readonly through: number;
  readonly clay: { readonly meqL: number; readonly order: number; readonly endsAtPh: number };
  /** meq of alkali for each meq of nitrate taken; nitrogen that is taken or changed, share a day; acid for each ammonium. */
  readonly roots: number;
  readonly nitrogen: { readonly perDay: number; readonly acid: number; readonly grows: boolean };
  /** CO2 in the pot's air against the open air's. */
  readonly co2: number;
  /** 1 SD of a day's thirst, ln. */
  readonly weather: number;
};

export type LayeredNow = {
  readonly free: number;
  /** Reservoir, layers from the bottom, the grains of each. */
  readonly bodies: readonly Content[];
  /** Microbes that change ammonium, against the usual. */
  readonly microbes: number;
};

const spread = (random: Random, middle: number, sd: number) => middle * Math.exp(sd * normal(random));
const share = (random: Random, logit: number, sd: number) => 1 / (1 + Math.exp(-(logit + sd * normal(random))));

/** A pot of a world. @param weather 1 SD of a day's thirst where it stands */
export function drawLayered(world: LayeredWorld, random: Random, weather: number): LayeredPot {
  return {
    world,
    layers: { stirred: 1, layers: 5, ions: 2, crust: 4 }[world],
    pores: spread(random, 0.5, 0.45),
    grains: world === 'stirred' ? 0.02 : spread(random, 0.45, 0.6),
    loses: spread(random, 0.075, 0.4),
    vapour: share(random, 0, 0.9),
    fromTop: world !== 'stirred',
    uptake: Math.min(1.3, spread(random, 0.65, 0.45)),
    exchange: {
      reservoir: spread(random, 0.6, 0.8),
      layers: spread(random, 0.8, 0.6),
      grains: spread(random, world === 'crust' ? 0.1 : 0.3, 0.8),
    },
    flush: { efficiency: spread(random, 0.7, 0.35), bypass: share(random, -0.7, 0.7) },
    through: share(random, -1, 0.7),
    clay: {
      meqL: spread(random, 0.02, 1),
      order: Math.max(0, 0.15 + 0.12 * normal(random)),
      endsAtPh: 8.7 + 0.3 * normal(random),
    },
    roots: 0.2 + 0.3 * normal(random),
    nitrogen: { perDay: spread(random, 0.15, 0.7), acid: 1.4 + 0.3 * normal(random), grows: world === 'crust' },
    co2: spread(random, 2.5, 0.5),
    weather,
  };
}

/** What a layer of pores holds at first: pure water in air. */
const WET: Content = { ec: 4, alkali: 0.02, carbon: 0.05, phosphate: 0, ammonium: 0 };

/** A pot newly set up in clay that was leached. */
export const setUpLayered = (pot: LayeredPot): LayeredNow => ({
  free: 0,
  bodies: new Array<Content>(1 + 2 * pot.layers).fill(WET),
  microbes: pot.nitrogen.grows ? 0.3 : 1,
});

const contentOf = (mix: WorldMix): Content => ({
  ec: mix.idealEcUsCm,
  alkali: mix.alkalinityMeqL,
  carbon: mix.carbonMmolL,
  phosphate: mix.phosphateMmolL,
  ammonium: mix.ammoniumMmolL,
});
const simOf = (c: Content): SimSolution => ({
  idealEcUsCm: c.ec,
  alkalinityMeqL: c.alkali,
  carbonMmolL: c.carbon,
  phosphateMmolL: c.phosphate,
});
const blend = (a: Content, b: Content, shareOfB: number): Content => {
  const of = (key: keyof Content) => a[key] + (b[key] - a[key]) * shareOfB;
  return {
    ec: of('ec'),
    alkali: of('alkali'),
    carbon: of('carbon'),
    phosphate: of('phosphate'),
    ammonium: of('ammonium'),
  };
};
const times = (c: Content, factor: number): Content => blend(NOTHING, c, factor);
const NOTHING: Content = { ec: 0, alkali: 0, carbon: 0, phosphate: 0, ammonium: 0 };

/** Whatever stands in the reservoir, as a pen would find it. */
export const layeredReservoir = (now: LayeredNow): SimSolution => simOf(now.bodies[0]!);

/** Amounts of everything dissolved, times litres of the fill: for checks of conservation. */
export function dissolvedIn(pot: LayeredPot, now: LayeredNow): Record<keyof Content, number> {
  const sum = { ec: 0, alkali: 0, carbon: 0, phosphate: 0, ammonium: 0 };
  for (const [i, body] of now.bodies.entries())
    for (const key of KEYS) sum[key] += body[key] * (i === 0 ? now.free : volumeOf(pot, i));
  return sum;
}

/** Volume of a layer or of its grains. */
const volumeOf = (pot: LayeredPot, body: number) => (body <= pot.layers ? pot.pores : pot.grains) / pot.layers;

/** A film that nothing gets out. */
const FLOOR = 0.05;
const STEPS = 2;

/** A day goes by. @param thirst against the pot's usual day: season, heat and chance together */
export function layeredDay(pot: LayeredPot, now: LayeredNow, thirst: number): LayeredNow {
  let { free, microbes } = now;
  const bodies = [...now.bodies];
  for (let s = 0; s < STEPS; s++) {
    const step = 1 / STEPS;
    const drying = Math.min(1, Math.max(0, (free - FLOOR) / 0.15));
    const leaves = Math.min(Math.max(0, free - FLOOR), pot.loses * thirst * drying * step);
    free = waterLeaves(pot, bodies, free, leaves);
    exchangeAll(pot, bodies, free, step);
    microbes = reactAll(pot, bodies, microbes, step);
  }
  return { free, bodies, microbes };
}

/** Water rises and leaves; what is dissolved stays where it leaves, less what roots take. */
function waterLeaves(pot: LayeredPot, bodies: Content[], free: number, leaves: number): number {
  const drunk = leaves * (1 - pot.vapour);
  const rest = free - leaves;
  if (!pot.fromTop) {
    const kept = (free - drunk * Math.min(1, pot.uptake)) / rest;
    bodies[0] = {
      ...times(bodies[0]!, kept),
      alkali: bodies[0]!.alkali * kept + rootsGive(pot, bodies[0]!, drunk) / rest,
    };
    return rest;
  }
  const volume = volumeOf(pot, 1);
  const each = drunk / pot.layers;
  let rises = leaves;
  let from = bodies[0]!;
  for (let i = 1; i <= pot.layers; i++) {
    const here = bodies[i]!;
    const on = i === pot.layers ? 0 : rises - each;
    const takes = Math.min(each * pot.uptake, 0.5 * volume);
    const of = (key: keyof Content) => here[key] + (rises * from[key] - on * here[key] - takes * here[key]) / volume;
    bodies[i] = {
      ec: of('ec'),
      alkali: of('alkali') + rootsGive(pot, here, each) / volume,
      carbon: Math.max(0, of('carbon')),
      phosphate: of('phosphate'),
      ammonium: Math.max(0, of('ammonium')),
    };
    [rises, from] = [rises - each, here];
  }
  return rest;
}

/** meq of nitrate for each µS/cm of a feed: half of its anions. */
const NITRATE_PER_US = 0.5 / 120;
const rootsGive = (pot: LayeredPot, at: Content, drunk: number) =>
  pot.roots * pot.uptake * drunk * at.ec * NITRATE_PER_US;

/** Neighbouring bodies go towards each other. */
function exchangeAll(pot: LayeredPot, bodies: Content[], free: number, step: number): void {
  const layer = volumeOf(pot, 1);
  const meet = (a: number, volumeA: number, b: number, volumeB: number, rate: number) => {
    const small = Math.min(volumeA, volumeB);
    const passes = small * (1 - Math.exp(-rate * step)) * 0.5;
    const [of, other] = [bodies[a]!, bodies[b]!];
    bodies[a] = blend(of, other, passes / volumeA);
    bodies[b] = blend(other, of, passes / volumeB);
  };
  meet(0, free, 1, layer, 2 * pot.exchange.reservoir);
  for (let i = 1; i < pot.layers; i++) meet(i, layer, i + 1, layer, pot.exchange.layers);
  for (let i = 1; i <= pot.layers; i++)
    meet(i, layer, i + pot.layers, volumeOf(pot, i + pot.layers), 2 * pot.exchange.grains);
}

const MICROBES_GROW = 0.12;
const MICROBES_DIE = 0.04;
const HALF_FED = 0.05;

/** Clay, ammonium and carbon in every body. @returns microbes after it */
function reactAll(pot: LayeredPot, bodies: Content[], microbes: number, step: number): number {
  const fed = bodies[0]!.ammonium / (bodies[0]!.ammonium + HALF_FED);
  for (const [i, body] of bodies.entries()) {
    const ph = simPh(simOf(body));
    const { meqL, order, endsAtPh } = pot.clay;
    const clay = meqL * 10 ** (order * (7 - ph)) * (1 - 10 ** Math.min(0.5, ph - endsAtPh));
    // In a world without layers the clay gives to all there is; elsewhere where it stands, half inside its grains.
    const gives = pot.fromTop ? (i === 0 ? 0 : i <= pot.layers ? 2 : 1) : 1;
    // Two worlds have microbes that rest in acid, and two that do not.
    const works = pot.world === 'ions' || pot.world === 'crust' ? Math.min(1, Math.max(0.15, (ph - 4.5) / 1.5)) : 1;
    const lost = body.ammonium * (1 - Math.exp(-pot.nitrogen.perDay * microbes * works * step));
    const alkali = body.alkali + gives * clay * step - pot.nitrogen.acid * lost;
    const moved = { ...body, alkali, ammonium: body.ammonium - lost };
    const rest = openedSim(simOf(moved)).carbonMmolL * (i === 0 ? 1 + (pot.co2 - 1) / 2 : pot.co2);
    bodies[i] = { ...moved, carbon: rest + (moved.carbon - rest) * 0.25 ** step };
  }
  if (!pot.nitrogen.grows) return microbes;
  return Math.min(2.5, Math.max(0.1, microbes * Math.exp((MICROBES_GROW * fed - MICROBES_DIE) * step)));
}

/** The reservoir is tipped out and the clay flushed from the top, layer after layer. @param flush in fills; none: only tipped out */
export function flushLayered(
  pot: LayeredPot,
  now: LayeredNow,
  water: WorldMix,
  flush: number,
): { readonly now: LayeredNow; readonly runOff: SimSolution } {
  const bodies = [...now.bodies];
  const volume = volumeOf(pot, 1);
  const parts = Math.max(1, Math.ceil(8 * flush));
  let runOff = bodies[0]!;
  for (let n = 0; n < parts && flush > 0; n++) {
    let comes = contentOf(water);
    const passes = (flush / parts) * (1 - pot.flush.bypass);
    for (let i = pot.layers; i >= 1; i--) {
      const mixes = 1 - Math.exp((-pot.flush.efficiency * passes) / volume);
      const here = bodies[i]!;
      bodies[i] = blend(here, comes, mixes);
      // What comes out carries what this layer lost.
      comes = blend(comes, here, Math.min(1, (mixes * volume) / Math.max(passes, 1e-9)));
    }
    runOff = blend(comes, contentOf(water), pot.flush.bypass);
    exchangeAll(pot, bodies, FLOOR, 0.01);
  }
  const film = flush > 0 ? blend(bodies[0]!, runOff, 0.7) : bodies[0]!;
  bodies[0] = film;
  return { now: { ...now, free: 0.03, bodies }, runOff: simOf(runOff) };
}

/** Fills the tipped pot: part of the pour goes through the pores and brings their water down. @param fill in fills, > 0 */
export function fillLayered(pot: LayeredPot, now: LayeredNow, mix: WorldMix, fill = 1): LayeredNow {
  const bodies = [...now.bodies];
  const poured = contentOf(mix);
  const through = pot.through * fill;
  let comes = poured;
  for (let i = pot.layers; i >= 1; i--) {
    const volume = volumeOf(pot, i);
    const mixes = 1 - Math.exp(-through / volume);
    const here = bodies[i]!;
    bodies[i] = blend(here, comes, mixes);
    comes = blend(comes, here, Math.min(1, (mixes * volume) / through));
  }
  const straight = blend(comes, poured, 1 - pot.through);
  bodies[0] = blend(straight, bodies[0]!, now.free / (now.free + fill));
  return { ...now, free: now.free + fill, bodies };
}
