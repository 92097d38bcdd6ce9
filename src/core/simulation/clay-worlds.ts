import { EigenvalueDecomposition, Matrix } from 'ml-matrix';
import { normal, type Random } from '../statistics/index.ts';

/**
 * Bags of clay of four different makes, for judging what is foretold of them: none of them is the estimator's, no prior is taken from any. Each is
 * a network of bodies of water that exchange salt, the bath among them, with dust and gypsum beside. Ranges are those of the physics
 * (diffusivity 3·10⁻¹² to 5·10⁻¹¹ m²/s, grains of 2 to 8 mm in radius, water uptake of a tenth to a third of the mass; values from memory).
 * Strengths in ppm on the pen's scale, over the water's base; amounts per litre of clay.
 */
export type ClayWorld = 'grains' | 'spectrum' | 'pools' | 'slabs';
/** The last is used for nothing but judging. */
export const CLAY_WORLDS: readonly ClayWorld[] = ['grains', 'spectrum', 'pools', 'slabs'];

type Body = { readonly capacityL: number; readonly ppm: number };
/** What passes between two bodies, L an hour; 0 is the bath, the others from 1. */
type Link = { readonly a: number; readonly b: number; readonly perHour: number };
export type WorldBag = {
  readonly world: ClayWorld;
  readonly retained: number;
  readonly bodies: readonly Body[];
  readonly links: readonly Link[];
  readonly dust: number;
  readonly dustHours: number;
  /** Gypsum: so much, dissolving towards its solubility at a rate an hour. */
  readonly gypsum: number;
  readonly gypsumPerHour: number;
  /** A bath that nobody stirs reads off by this share, 1 SD, the same for all of it. */
  readonly unstirred: number;
};
/** A bath on a litre of clay. */
export type WorldBath = {
  readonly waterL: number;
  readonly ppm: number;
  readonly bodies: readonly number[];
  readonly dust: number;
  readonly gypsum: number;
};

/** Where gypsum stops dissolving: its solubility on a half-scale pen, ppm (2.4 g/L is about 2,200 µS/cm). */
const GYPSUM_PPM = 1100;
const logUniform = (random: Random, low: number, high: number) => low * Math.pow(high / low, random());
/** The slowest rate of a grain, per hour: π² D / r². */
const slowest = (random: Random) =>
  (Math.PI ** 2 * logUniform(random, 3e-12, 5e-11) * 3600) / logUniform(random, 2e-3, 8e-3) ** 2;
const capacityOf = (random: Random) => logUniform(random, 0.08, 0.55);

/** A bag of a world. */
export function drawWorldBag(world: ClayWorld, random: Random): WorldBag {
  const load = 250 + 550 * random();
  const common = {
    world,
    retained: 0.2 + 0.2 * random(),
    dust: Math.max(0, 25 + 20 * normal(random)),
    dustHours: logUniform(random, 0.2, 6),
    gypsum: 0,
    gypsumPerHour: 0,
    unstirred: 0,
  };
  return { ...common, ...MAKES[world](random, load) };
}

type Make = Pick<WorldBag, 'bodies' | 'links'> & Partial<WorldBag>;
const SHELLS = 8;

/** Shells of a body: spheres from the outside in, or slices of a slab; the outermost gives to the bath through a skin. */
function shells(first: number, capacityL: number, ppm: number, rate: number, skin: number, slab: boolean): Make {
  const dr = 1 / SHELLS;
  const power = slab ? 1 : 3;
  const outer = (i: number) => 1 - i * dr;
  // The slowest rate is π² D/r² for a sphere and π² D/4r² for a slab: flows in units of the whole capacity.
  const d = (rate / Math.PI ** 2) * (slab ? 4 : 1);
  const flow = (i: number, distance: number) => capacityL * power * d * (slab ? 1 : outer(i) ** 2) * (1 / distance);
  const bodies = Array.from({ length: SHELLS }, (_, i) => ({
    capacityL: capacityL * (outer(i) ** power - outer(i + 1) ** power),
    ppm,
  }));
  const bare = flow(0, dr / 2);
  const links = bodies.map((_, i) =>
    i === 0
      ? { a: 0, b: first, perHour: 1 / (1 / bare + 1 / (capacityL * power * d * skin)) }
      : { a: first + i - 1, b: first + i, perHour: flow(i, dr) },
  );
  return { bodies, links };
}

const joined = (parts: readonly Make[]): Make => ({
  bodies: parts.flatMap((p) => p.bodies),
  links: parts.flatMap((p) => p.links),
});

const MAKES: Record<ClayWorld, (random: Random, load: number) => Make> = {
  /** Spheres of three sizes, each through a fired skin, unevenly loaded. */
  grains(random, load) {
    const [rate, capacity, skin] = [slowest(random), capacityOf(random), logUniform(random, 0.2, 100)];
    const sizes = [0.35 + 0.3 * random(), 1, 1.6 + 1.4 * random()];
    return joined(
      sizes.map((size, i) =>
        shells(
          1 + i * SHELLS,
          capacity * [0.25, 0.5, 0.25][i]!,
          load * (0.6 + 0.8 * random()),
          rate / size ** 2,
          skin,
          false,
        ),
      ),
    );
  },
  /** A wide spread of rates side by side, and salt that dissolves slowly. */
  spectrum(random, load) {
    const [middle, spread, capacity] = [slowest(random), 0.6 + 1.4 * random(), capacityOf(random)];
    const n = 16;
    const at = (i: number) => (2 * (i + 0.5)) / n - 1;
    const weights = Array.from({ length: n }, (_, i) => Math.exp(-((1.6 * at(i)) ** 2)));
    const sum = weights.reduce((a, b) => a + b);
    return {
      bodies: weights.map((w) => ({ capacityL: (capacity * w) / sum, ppm: load })),
      links: weights.map((w, i) => ({
        a: 0,
        b: i + 1,
        perHour: ((capacity * w) / sum) * middle * Math.exp(1.8 * spread * at(i)),
      })),
      gypsum: random() < 0.5 ? 80 * random() : 0,
      gypsumPerHour: logUniform(random, 1e-3, 1e-2),
    };
  },
  /** Two pools, one behind the other. */
  pools(random, load) {
    const capacity = capacityOf(random);
    const slow = 0.2 + 0.6 * random();
    const fast = logUniform(random, 0.05, 1.5);
    return {
      bodies: [
        { capacityL: capacity * (1 - slow), ppm: load },
        { capacityL: capacity * slow, ppm: load * (0.7 + 0.8 * random()) },
      ],
      links: [
        { a: 0, b: 1, perHour: capacity * (1 - slow) * fast },
        { a: 1, b: 2, perHour: capacity * slow * logUniform(random, 0.002, 0.08) },
      ],
    };
  },
  /** Flat chips, gypsum in half of them, and a bath nobody stirs. */
  slabs(random, load) {
    const [rate, capacity] = [slowest(random), capacityOf(random)];
    return {
      ...joined([
        shells(1, capacity * 0.6, load, rate, logUniform(random, 0.5, 200), true),
        shells(1 + SHELLS, capacity * 0.4, load * (0.5 + random()), rate * (2 + 3 * random()), 50, true),
      ]),
      gypsum: random() < 0.5 ? 150 * random() : 0,
      gypsumPerHour: logUniform(random, 5e-4, 5e-3),
      unstirred: 0.05,
    };
  },
};

/** The first still water on a litre of the bag. @param waterL L a litre of clay */
export function firstBath(bag: WorldBag, waterL: number): WorldBath {
  return { waterL, ppm: 0, bodies: bag.bodies.map((b) => b.ppm), dust: bag.dust, gypsum: bag.gypsum };
}

const STEP_H = 2;

/** Hours of standing: the network exactly, dust and gypsum between its steps of two hours. Salt is conserved to rounding. */
export function standHours(bag: WorldBag, bath: WorldBath, hours: number): WorldBath {
  const net = networkOf(bag, bath.waterL);
  let { dust, gypsum } = bath;
  let state = [bath.ppm, ...bath.bodies];
  const dissolve = (h: number) => {
    const dusty = dust * Math.exp(-h / bag.dustHours);
    const hunger = Math.max(0, 1 - state[0]! / GYPSUM_PPM);
    const left = gypsum * Math.exp(-bag.gypsumPerHour * hunger * h);
    state[0]! += (dust - dusty + gypsum - left) / bath.waterL;
    [dust, gypsum] = [dusty, left];
  };
  for (let left = hours; left > 1e-9; left -= STEP_H) {
    const h = Math.min(STEP_H, left);
    dissolve(h / 2);
    state = net(state, h);
    dissolve(h / 2);
  }
  return { ...bath, ppm: state[0]!, bodies: state.slice(1), dust, gypsum };
}

/** Pours off all but what clings, or so much, and fills with fresh still water. */
export function changeBath(bag: WorldBag, bath: WorldBath, freshL: number, pouredOffL = bath.waterL): WorldBath {
  const staysL = Math.max(bag.retained * bath.waterL, bath.waterL - pouredOffL);
  return { ...bath, waterL: staysL + freshL, ppm: (bath.ppm * staysL) / (staysL + freshL) };
}

/** Salt in the bath and the clay, ppm·L a litre of clay. */
export function saltOfBath(bag: WorldBag, bath: WorldBath): number {
  return bag.bodies.reduce(
    (sum, b, i) => sum + b.capacityL * bath.bodies[i]!,
    bath.ppm * bath.waterL + bath.dust + bath.gypsum,
  );
}

/** The network's propagator, by its eigenvalues: made symmetric by the roots of the capacities. */
function networkOf(bag: WorldBag, waterL: number): (state: readonly number[], hours: number) => number[] {
  const roots = [waterL, ...bag.bodies.map((b) => b.capacityL)].map(Math.sqrt);
  const n = roots.length;
  const m = Matrix.zeros(n, n);
  for (const { a, b, perHour } of bag.links) {
    m.set(a, a, m.get(a, a) - perHour / roots[a]! ** 2);
    m.set(b, b, m.get(b, b) - perHour / roots[b]! ** 2);
    const across = m.get(a, b) + perHour / (roots[a]! * roots[b]!);
    m.set(a, b, across);
    m.set(b, a, across);
  }
  const eigen = new EigenvalueDecomposition(m, { assumeSymmetric: true });
  const vectors = eigen.eigenvectorMatrix.to2DArray();
  const rates = eigen.realEigenvalues;
  return (state, hours) => {
    const modes = rates.map(
      (rate, j) => Math.exp(rate * hours) * state.reduce((sum, c, i) => sum + vectors[i]![j]! * roots[i]! * c, 0),
    );
    return roots.map((root, i) => modes.reduce((sum, mode, j) => sum + vectors[i]![j]! * mode, 0) / root);
  };
}

/** What the bag would come to in the standard soak: as much fresh still water as clay, four weeks. */
export function standardOf(bag: WorldBag, bath: WorldBath): number {
  const held = bag.retained * bath.waterL;
  return standHours(bag, { ...bath, waterL: 1 + held, ppm: (bath.ppm * held) / (1 + held) }, 672).ppm;
}
