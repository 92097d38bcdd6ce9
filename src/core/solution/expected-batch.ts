import { addComposition, composition, type Composition } from './composition.ts';
import { findRoot } from './find-root.ts';
import { openDepthCm, phAfterHours } from './titrate.ts';
import { CLOSED, solve, type Outside, type Solved } from './solve.ts';
import type { KnownWater } from './waters.ts';

/** What went into a batch, for each litre of it. */
export type BatchMake = {
  readonly water: KnownWater;
  /** mmol per mL of what is in the dropper, mL per litre; `gap` of its label's charges. */
  readonly products: readonly { readonly perUnit: Composition; readonly doseMlL: number; readonly gap: number }[];
  /** What the pen read over base when they were all in, µS/cm; null where nothing was read. The products are taken so strong that it is met. */
  readonly netEcUsCm: number | null;
  /** Of it all, in an open bucket: how deep it stands decides how fast its carbon leaves. */
  readonly volumeL: number;
};

export type ExpectedBatch = {
  readonly ok: true;
  readonly ph: number;
  /** 90 % of what it may be: unknown alkalinity of the water, rounding of the label, carbon lost in stirring. */
  readonly lowPh: number;
  readonly highPh: number;
  readonly ecUsCm: number;
  /** pH after standing open for a day. */
  readonly tomorrowPh: number;
  readonly total: Composition;
};

/** What no pen shows. */
const ANCHORED_WITHIN = 0.005;
const Z90 = 1.645;
/** Alkali or acid that a label does not tell, as a share of the charge it brings, 1 SD: figures are rounded to a tenth of a percent. */
const LABEL_ALKALINITY_SD = 0.03;
/** Carbon moves by a tenth of its way to rest with air while a bucket is filled and stirred; 1 SD of pH for what that leaves unknown. */
const STIRRED_SD = 0.08;

/**
 * What a batch reads and its pH before any acid.
 * @returns the prediction with its 90 % range, or why it is outside the model
 */
export function expectedBatch(make: BatchMake): ExpectedBatch | Outside {
  const base = solve(make.water.composition);
  if (!base.ok) return base;
  const dose = make.products.reduce((sum, p) => addComposition(sum, p.perUnit, p.doseMlL), composition({}));
  const strength = strengthMeeting(make.water.composition, dose, base.ecUsCm, make.netEcUsCm);
  const total = addComposition(make.water.composition, dose, strength);
  const solved = solve(total);
  if (!solved.ok) return solved;
  const charge = 2 * (dose.Ca + dose.Mg) + dose.K + dose.Na + dose.NH4;
  const gap = Math.max(0, ...make.products.map((p) => p.gap));
  const alkalinitySd = Math.hypot(make.water.alkalinitySd, strength * charge * Math.max(LABEL_ALKALINITY_SD, gap / 2));
  const at = (sd: number) => phOf(shiftAlkalinity(total, sd * alkalinitySd));
  const [low, high] = [at(-Z90) ?? solved.ph, at(Z90) ?? solved.ph];
  const tomorrow = phAfterHours(total, 24, openDepthCm(make.volumeL));
  const stirred = Z90 * Math.hypot(STIRRED_SD, make.water.phGuessSd ?? 0);
  return {
    ok: true,
    ph: solved.ph,
    lowPh: solved.ph - Math.hypot(solved.ph - low, stirred),
    highPh: solved.ph + Math.hypot(high - solved.ph, stirred),
    ecUsCm: solved.ecUsCm,
    tomorrowPh: tomorrow.ok ? tomorrow.ph : solved.ph,
    total,
  };
}

/** How many times its label's strength the dose shows: the pen's net met exactly, within a third to three times. */
function strengthMeeting(water: Composition, dose: Composition, baseEc: number, net: number | null): number {
  if (net === null || !(net > 0)) return 1;
  const off = (times: number) => {
    const solved = solve(addComposition(water, dose, times));
    return solved.ok ? solved.ecUsCm - baseEc - net : Number.POSITIVE_INFINITY;
  };
  return findRoot(off, 0.33, 3, 1e-4).x;
}

/**
 * The batch as a pH reading shows it to be: so much strong alkali (potassium) or strong acid (chloride) more than was thought, little enough
 * that nothing else is noticed. What the reading leaves unknown is then how it is buffered, not where it stands.
 * @param ph as read, closed @returns the composition that has it; undefined where none near it has, or the model does not reach so far
 */
export function anchoredAt(total: Composition, ph: number): Composition | undefined {
  const most = 1 + 0.5 * (total.Ca + total.Mg + total.K + total.CO2 + total.PO4);
  const off = (shift: number) => {
    const found = phOf(shiftAlkalinity(total, shift));
    return found === undefined ? (shift > 0 ? 12 - ph : 2 - ph) : found - ph;
  };
  const root = findRoot(off, -most, most, 1e-7);
  const there = shiftAlkalinity(total, root.x);
  // Outside the model the search is led by its ends, and may settle where no pH was found.
  return root.converged && Math.abs((phOf(there) ?? 0) - ph) < ANCHORED_WITHIN ? there : undefined;
}

function shiftAlkalinity(c: Composition, meqL: number): Composition {
  return addComposition(c, composition(meqL > 0 ? { K: meqL } : { Cl: -meqL }));
}

function phOf(c: Composition, air = CLOSED): number | undefined {
  const solved: Solved | Outside = solve(c, air);
  return solved.ok ? solved.ph : undefined;
}
