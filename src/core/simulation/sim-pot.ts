import { normal, type Random } from '../statistics/index.ts';
import { concentrateSim, doseSim, isAbovePh, mixSim, type SimSolution } from './sim-solution.ts';

/** The hidden nature of a pot. */
export type SimPotNature = {
  readonly reservoirMl: number;
  /** Water held in the pores of the clay after draining, mL. */
  readonly poreMl: number;
  /** Water that leaves the reservoir a day: evaporated, and drunk with its share of salts. */
  readonly evaporatedMlDay: number;
  readonly drunkMlDay: number;
  /** Share of the salts in the water drunk that the roots keep. */
  readonly uptakeShare: number;
  /** Alkalinity the clay gives less what the roots take (ammonium uptake), µeq a day, and conductivity it gives, µS·L/cm a day. */
  readonly alkalinityUeqDay: number;
  readonly clayEcUsLDay: number;
  /** Alkalinity the clay gives at once whenever the pot is filled, µeq. */
  readonly quickUeq?: number;
  /** Share of the pore salts one reservoir-volume of flush leaves behind (0 clean, 1 untouched). */
  readonly flushLeaves: number;
};

/** Where a pot stands: reservoir and pores. */
export type SimPot = {
  readonly volumeMl: number;
  readonly reservoir: SimSolution;
  readonly pores: SimSolution;
  readonly quickLeftUeq?: number;
};

const CO2_OPEN_MMOL = 0.014;
const PK_CARBONIC = 6.35;
const PK_BICARBONATE = 10.33;

/**
 * Lets days pass: water leaves, salts stay (less what roots take), some wick into the pores, the clay gives alkalinity, CO2 goes half
 * way to the air's each half day. Day-to-day noise of 15 % on the losses.
 */
export function passDays(pot: SimPot, nature: SimPotNature, days: number, random: Random): SimPot {
  let { volumeMl, reservoir, pores, quickLeftUeq = 0 } = pot;
  for (let day = 0; day < days; day++) {
    const step = Math.min(1, days - day);
    const noise = Math.max(0.3, 1 + 0.15 * normal(random)) * step;
    const available = Math.max(0, volumeMl - 0.08 * nature.reservoirMl);
    const evaporated = Math.min(nature.evaporatedMlDay * noise, available);
    const drunk = Math.min(nature.drunkMlDay * noise, available - evaporated);
    const after = Math.max(0.05 * nature.reservoirMl, volumeMl - evaporated - drunk);
    const kept = (volumeMl - drunk * nature.uptakeShare) / after;
    reservoir = concentrateSim(reservoir, Math.max(1, kept));
    volumeMl = after;
    // Wicking: reservoir and pores creep towards each other.
    const share = 0.08 * step;
    const oldReservoir = reservoir;
    reservoir = mixSim(reservoir, volumeMl, pores, share * nature.poreMl);
    pores = mixSim(pores, nature.poreMl, oldReservoir, share * nature.poreMl);
    const litres = (volumeMl + nature.poreMl) / 1000;
    const alkalinity = (nature.alkalinityUeqDay * step + quickLeftUeq) / 1000 / litres;
    quickLeftUeq = 0;
    const ec = (nature.clayEcUsLDay * step) / litres;
    reservoir = doseSim(reservoir, {
      alkalinityMeqL: alkalinity,
      idealEcUsCm: ec,
      carbonMmolL: breathe(reservoir, alkalinity, step),
    });
    pores = doseSim(pores, {
      alkalinityMeqL: alkalinity,
      idealEcUsCm: ec * 1.1,
      carbonMmolL: breathe(pores, alkalinity, step),
    });
  }
  return { volumeMl, reservoir, pores, quickLeftUeq };
}

/** Flushes from the top: the reservoir is gone, the pores move towards the flush water. */
export function flushSim(
  pot: SimPot,
  nature: SimPotNature,
  water: SimSolution,
  volumeMl: number,
  random: Random,
): SimPot {
  const rounds = volumeMl / nature.reservoirMl;
  const leaves = Math.min(1, nature.flushLeaves ** rounds * (1 + 0.05 * normal(random)));
  return { ...pot, volumeMl: 0, pores: mixSim(pot.pores, leaves, water, 1 - leaves) };
}

/** Fills the drained pot: the pores' water mixes with a part of the pour. */
export function fillSim(pot: SimPot, nature: SimPotNature, mix: SimSolution, volumeMl: number): SimPot {
  const touched = 0.3 * nature.poreMl;
  const reservoir = mixSim(mix, volumeMl, pot.pores, touched);
  const pores = mixSim(pot.pores, nature.poreMl - touched, mix, touched);
  return { volumeMl, reservoir, pores, quickLeftUeq: nature.quickUeq ?? 0 };
}

/** Change of inorganic carbon in a step: half way, each half day, to what it is at rest with the air at the new alkali. */
function breathe(s: SimSolution, addedAlkalinity: number, step: number): number {
  return (openCarbon(doseSim(s, { alkalinityMeqL: addedAlkalinity })) - s.carbonMmolL) * (1 - 0.25 ** step);
}

/** Inorganic carbon at rest with the air, by taking it at the pH it makes until both stand. */
function openCarbon(s: SimSolution): number {
  let [low, high] = [3, 10];
  for (let i = 0; i < 40; i++) {
    const ph = (low + high) / 2;
    if (isAbovePh({ ...s, carbonMmolL: atAir(ph) }, ph)) low = ph;
    else high = ph;
  }
  return atAir((low + high) / 2);
}

/** Of each mmol of dissolved CO2 so much is carbonate in all at a pH. */
function atAir(ph: number): number {
  return CO2_OPEN_MMOL * (1 + 10 ** (ph - PK_CARBONIC) + 10 ** (2 * ph - PK_CARBONIC - PK_BICARBONATE));
}

/** A solution stirred and left open for a day: its carbon is at rest with the air. */
export function openedSim(s: SimSolution): SimSolution {
  return { ...s, carbonMmolL: openCarbon(s) };
}
