import { DomainError, requirePositive } from '../quantity/index.ts';
import { addComposition, composition, type Composition } from './composition.ts';
import { elementsOf, type Elements } from './elements.ts';
import { findRoot } from './find-root.ts';
import { ATOM, MOLAR } from './masses.ts';
import { CLOSED, OPEN, solve, type Outside, type Solved } from './solve.ts';

/** Acids and alkalis a grower uses. */
export const TITRANTS = [
  'nitric',
  'phosphoric',
  'citric',
  'acetic',
  'lemon',
  'KOH',
  'K2CO3',
  'KHCO3',
  'NaHCO3',
  'silicate',
] as const;
export type Titrant = (typeof TITRANTS)[number];
export const TITRANT_WORDS: Record<Titrant, { name: string; direction: 'down' | 'up'; lasts: string }> = {
  nitric: { name: 'nitric acid', direction: 'down', lasts: 'stays, and brings nitrate' },
  phosphoric: { name: 'phosphoric acid', direction: 'down', lasts: 'stays, and brings phosphate' },
  citric: { name: 'citric acid', direction: 'down', lasts: 'is eaten by microbes in days, so the pH climbs back' },
  acetic: {
    name: 'vinegar (acetic acid)',
    direction: 'down',
    lasts: 'is eaten by microbes in days, so the pH climbs back',
  },
  lemon: {
    name: 'lemon juice',
    direction: 'down',
    lasts: 'citric acid and potassium; is eaten in days, and no two lemons are alike',
  },
  KOH: { name: 'potassium hydroxide', direction: 'up', lasts: 'stays, and brings potassium' },
  K2CO3: { name: 'potassium carbonate', direction: 'up', lasts: 'stays, and brings potassium' },
  KHCO3: { name: 'potassium bicarbonate', direction: 'up', lasts: 'stays, and brings potassium' },
  NaHCO3: { name: 'bicarbonate of soda', direction: 'up', lasts: 'stays, and brings sodium: not as a habit' },
  silicate: { name: 'potassium silicate', direction: 'up', lasts: 'stays, and brings silica and potassium' },
};

/** Density of the solution, g/mL: 1 + slope × percent (CRC Handbook, to 20 %; values from memory). */
const DENSITY_SLOPE: Record<Exclude<Titrant, 'lemon'>, number> = {
  nitric: 0.0055,
  phosphoric: 0.0054,
  citric: 0.0039,
  acetic: 0.0014,
  KOH: 0.0091,
  K2CO3: 0.0091,
  KHCO3: 0.0066,
  NaHCO3: 0.0071,
  silicate: 0.009,
};
const MASS: Record<Exclude<Titrant, 'lemon' | 'silicate'>, readonly [number, Parameters<typeof composition>[0]]> = {
  nitric: [MOLAR.nitric, { NO3: 1 }],
  phosphoric: [MOLAR.phosphoric, { PO4: 1 }],
  citric: [MOLAR.citric, { citrate: 1 }],
  acetic: [MOLAR.acetic, { acetate: 1 }],
  KOH: [MOLAR.KOH, { K: 1 }],
  K2CO3: [MOLAR.K2CO3, { K: 2, CO2: 1 }],
  KHCO3: [MOLAR.KHCO3, { K: 1, CO2: 1 }],
  NaHCO3: [MOLAR.NaHCO3, { Na: 1, CO2: 1 }],
};
/** Juice of a lemon: about 5 % citric acid and 1.1 g/L potassium (kitchen tables; half as much to half as much again). */
const LEMON_CITRIC_PERCENT = 5;
const LEMON_K_MG_PER_ML = 1.1;
/** 1 SD of the strength against what is written of it: bottled within a few percent, vinegar by its labelled least, a lemon within a quarter. From memory. */
export const BOTTLED_SD = 0.05;
const VINEGAR_SD = 0.1;
const LEMON_SD = 0.25;

/** Juice of a lemon: citric acid that brings potassium. @param perMl mmol per mL */
export const isLemon = (perMl: Composition): boolean => perMl.citrate > 0 && perMl.K > 0;

/** 1 SD (log) of how strong an acid or alkali is against what it is thought to bring. @param perMl mmol per mL */
export function strengthSdOf(perMl: Composition): number {
  if (isLemon(perMl)) return LEMON_SD;
  return perMl.acetate > 0 ? VINEGAR_SD : BOTTLED_SD;
}
/** Molar SiO2 : K2O of usual potassium silicate. */
const SILICATE_RATIO = 3.3;

/**
 * What one mL of an acid or alkali brings.
 * @param percent by weight (SiO2 for silicate; not asked of lemon juice), 0 to 85
 * @param densityGMl g/mL; taken from the strength when null
 * @returns mmol per mL
 * @throws DomainError `out-of-range` for a strength outside 0 to 85 %
 * @example titrantPerMl('nitric', 10) // 1.674 mmol NO3 per mL
 */
export function titrantPerMl(titrant: Titrant, percent: number, densityGMl: number | null = null): Composition {
  if (titrant === 'lemon') {
    return composition({ citrate: (LEMON_CITRIC_PERCENT * 10 * 1.02) / MOLAR.citric, K: LEMON_K_MG_PER_ML / ATOM.K });
  }
  if (!(percent > 0 && percent <= 85)) {
    throw new DomainError(
      'out-of-range',
      'A strength lies between 0 and 85 %',
      percent,
      'Give the percent on the bottle, such as 10.',
    );
  }
  const mg = percent * 10 * (densityGMl ?? 1 + DENSITY_SLOPE[titrant] * percent);
  if (titrant === 'silicate')
    return composition({ SiO2: mg / MOLAR.SiO2, K: ((2 / SILICATE_RATIO) * mg) / MOLAR.SiO2 });
  const [molar, brings] = MASS[titrant];
  return addComposition(composition({}), composition(brings), mg / molar);
}

export type TitrantDose = {
  readonly ok: true;
  readonly mlPerL: number;
  /** Just stirred, nothing gone to the air. */
  readonly stirred: Solved;
  /** After standing open: at rest with the air. */
  readonly standing: Solved;
  /** What the dose itself brings, mg/L. */
  readonly brings: Elements;
  readonly after: Composition;
};

/** Most of an acid or alkali that is looked for, mL/L: past it one would not pour on. */
const MOST_ML_PER_L = 100;

/**
 * How much acid or alkali brings a solution to a pH, and what becomes of it.
 * @param total the solution, mmol/L @param perMl what a mL brings, from {@link titrantPerMl} or a label
 * @param targetPh wanted @param hold 'stirred': that pH now; 'standing': that pH at rest with the air
 * @returns mL per litre with both pHs and what else it brings; zero mL when it is already there or past; or why it is outside the model
 */
export function doseToPh(
  total: Composition,
  perMl: Composition,
  targetPh: number,
  direction: 'down' | 'up',
  hold: 'stirred' | 'standing' = 'stirred',
  temperatureC = 25,
): TitrantDose | Outside {
  const air = hold === 'stirred' ? CLOSED : OPEN;
  const sign = direction === 'down' ? 1 : -1;
  const failed: { outside?: Outside } = {};
  const left = (ml: number): number => {
    const solved = solve(addComposition(total, perMl, ml), air, temperatureC);
    if (solved.ok) return sign * (solved.ph - targetPh);
    // Past the end in the direction poured counts as past the target; anything else is no answer.
    if (solved.why === (direction === 'down' ? 'tooAcid' : 'tooAlkaline')) return -1;
    failed.outside = solved;
    return Number.NaN;
  };
  const start = left(0);
  if (Number.isNaN(start)) return failed.outside!;
  let ml = 0;
  if (start > 0) {
    let high = 0.01;
    while (left(high) > 0 && high < MOST_ML_PER_L) high *= 2;
    const end = left(high);
    if (Number.isNaN(end)) return failed.outside!;
    if (end > 0)
      return {
        ok: false,
        why: 'tooStrong',
        message: 'It would take more than 100 mL in a litre. Take a stronger one, or another water.',
      };
    ml = findRoot(left, 0, high, 1e-7 * Math.max(1, high)).x;
  }
  return dosed(total, perMl, ml, temperatureC);
}

/** What a given dose does: pH and reading now and after standing. */
export function dosed(
  total: Composition,
  perMl: Composition,
  mlPerL: number,
  temperatureC = 25,
): TitrantDose | Outside {
  const after = addComposition(total, perMl, mlPerL);
  const stirred = solve(after, CLOSED, temperatureC);
  const standing = solve(after, OPEN, temperatureC);
  if (!stirred.ok) return stirred;
  if (!standing.ok) return standing;
  return {
    ok: true,
    mlPerL,
    stirred,
    standing,
    brings: elementsOf(addComposition(composition({}), perMl, mlPerL)),
    after,
  };
}

/**
 * How fast a still surface and the air exchange CO2, cm/h: 2.07 where no wind blows (Cole and Caraco 1998, Limnology and Oceanography 43,
 * 647–656). Stirring and bubbling are far quicker, and a closed can has none.
 */
const STILL_SURFACE_CM_H = 2.07;
/** Share of the way in one step, and how many are taken at most. */
const STEP = 0.2;
const MOST_STEPS = 400;

/** Depth of so much in an open vessel as deep as it is wide, cm. @param volumeL > 0 */
export function openDepthCm(volumeL: number): number {
  requirePositive(volumeL, 'what stands open');
  return Math.cbrt((4 * 1000 * volumeL) / Math.PI);
}

/**
 * pH as it climbs or falls towards rest with the air: carbon leaves through the surface as fast as there is free CO2 over what the air holds
 * (film theory: dC/dt = −k/z · (CO2 − CO2 of the air)), so that hard water that holds much takes days in a deep can.
 * @param hours since stirred, ≥ 0 @param depthCm volume by open surface; see {@link openDepthCm}
 */
export function phAfterHours(total: Composition, hours: number, depthCm: number, temperatureC = 25): Solved | Outside {
  requirePositive(depthCm, 'the depth');
  const rest = solve(total, OPEN, temperatureC);
  if (!rest.ok) return rest;
  const way = (STILL_SURFACE_CM_H * hours) / depthCm;
  const steps = Math.min(MOST_STEPS, Math.ceil(way / STEP));
  let carbon = total.CO2;
  for (let i = 0; i < steps; i++) {
    const now = solve({ ...total, CO2: carbon }, CLOSED, temperatureC);
    if (!now.ok) return now;
    const left = Math.exp(-way / steps);
    carbon -= (now.species.CO2 - rest.species.CO2) * (1 - left);
    // So much came out that it is at rest.
    if ((total.CO2 - rest.carbonMmolL) * (carbon - rest.carbonMmolL) <= 0) carbon = rest.carbonMmolL;
  }
  return solve({ ...total, CO2: carbon }, CLOSED, temperatureC);
}
