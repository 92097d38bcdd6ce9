import { describe, expect, it } from 'vitest';
import {
  CLOSED,
  composition,
  DKH_PER_MEQ,
  fromMeqL,
  OPEN,
  readLabel,
  solve,
  toMeqL,
  waterFromSigns,
  type Composition,
  type Solved,
} from '../../src/core/solution/index.ts';
import { standardValue } from '../../src/core/quantity/index.ts';

function solved(c: Composition, air = CLOSED, temperatureC = 25): Solved {
  const answer = solve(c, air, temperatureC);
  if (!answer.ok) throw new Error(answer.message);
  return answer;
}
const within = (value: number, want: number, share: number) =>
  expect(Math.abs(value / want - 1), `${value} against ${want}`).toBeLessThanOrEqual(share);

describe('conductivity of one salt: CRC Handbook, equivalent conductivity of electrolytes in water at 25 °C (values from memory)', () => {
  // S·cm²/eq at mol/L of charge.
  const table: [string, (meq: number) => Composition, [number, number][], number][] = [
    [
      'KCl',
      (m) => composition({ K: m, Cl: m }),
      [
        [0.5, 147.74],
        [1, 146.88],
        [5, 143.48],
        [10, 141.2],
        [20, 138.27],
        [50, 133.3],
      ],
      0.015,
    ],
    [
      'NaCl',
      (m) => composition({ Na: m, Cl: m }),
      [
        [1, 123.7],
        [10, 118.5],
        [50, 111.01],
      ],
      0.015,
    ],
    [
      'CaCl2',
      (m) => composition({ Ca: m / 2, Cl: m }),
      [
        [1, 130.3],
        [10, 120.3],
      ],
      0.02,
    ],
    [
      'MgCl2',
      (m) => composition({ Mg: m / 2, Cl: m }),
      [
        [1, 124.15],
        [10, 114.49],
      ],
      0.02,
    ],
    [
      'Na2SO4',
      (m) => composition({ Na: m, SO4: m / 2 }),
      [
        [1, 124.09],
        [10, 112.38],
      ],
      0.02,
    ],
    [
      'KNO3',
      (m) => composition({ K: m, NO3: m }),
      [
        [1, 141.77],
        [5, 138.41],
        [20, 132.34],
      ],
      0.02,
    ],
    [
      'KHCO3',
      (m) => composition({ K: m, CO2: m }),
      [
        [1, 115.28],
        [10, 110.03],
      ],
      0.02,
    ],
    [
      'HCl',
      (m) => composition({ Cl: m }),
      [
        [1, 421.15],
        [5, 415.59],
      ],
      0.015,
    ],
    ['NaOH', (m) => composition({ Na: m }), [[1, 244.6]], 0.015],
  ];
  for (const [salt, make, points, tolerance] of table) {
    it.each(points)(`${salt} at %s meq/L`, (meq, equivalent) =>
      within(solved(make(meq)).ecUsCm, meq * equivalent, tolerance),
    );
  }
});

it('conductivity standard, 0.01 mol/L potassium chloride: 1413 µS/cm (OIML R 56; value from memory)', () => {
  within(solved(composition({ K: 10, Cl: 10 })).ecUsCm, 1413, 0.015);
});

describe('pH standards (NIST SP 260-53; values from memory)', () => {
  const phosphate = composition({ K: 25, Na: 50, PO4: 50 });
  const borax = composition({ Na: 20, borate: 40 });
  const carbonate = composition({ Na: 75, CO2: 50 });
  it.each([
    [5, 6.951],
    [10, 6.923],
    [15, 6.9],
    [20, 6.881],
    [25, 6.865],
    [30, 6.853],
    [35, 6.844],
  ])('equimolal phosphate 0.025 m at %s °C', (t, ph) =>
    expect(Math.abs(solved(phosphate, CLOSED, t).ph - ph)).toBeLessThan(0.03),
  );
  it.each([
    [5, 9.395],
    [15, 9.276],
    [25, 9.18],
    [35, 9.102],
  ])('borax 0.01 m at %s °C', (t, ph) => expect(Math.abs(solved(borax, CLOSED, t).ph - ph)).toBeLessThan(0.05));
  it.each([
    [5, 10.245],
    [15, 10.118],
    [25, 10.012],
    [35, 9.925],
  ])('carbonate 0.025 m each at %s °C', (t, ph) =>
    expect(Math.abs(solved(carbonate, CLOSED, t).ph - ph)).toBeLessThan(0.05),
  );
  it('bottles of standard agree with the solutions they are made of', () => {
    for (const t of [5, 15, 25, 35]) {
      expect(Math.abs(standardValue('ph686', t) - solved(phosphate, CLOSED, t).ph)).toBeLessThan(0.03);
      expect(Math.abs(standardValue('ph918', t) - solved(borax, CLOSED, t).ph)).toBeLessThan(0.05);
      expect(Math.abs(standardValue('ph1001', t) - solved(carbonate, CLOSED, t).ph)).toBeLessThan(0.05);
    }
  });
});

describe('equilibria with air and with solids', () => {
  it('pure water in air, pCO2 4.2e-4 atm: 5.6 (textbook; value from memory)', () =>
    expect(solved(composition({}), OPEN).ph).toBeCloseTo(5.6, 1));
  it('pure water without carbon: neutral, pKw/2 (value from memory)', () =>
    expect(solved(composition({})).ph).toBeCloseTo(6.9975, 2));
  it('calcite-saturated water in air: pH 8.2 to 8.3, about 0.5 mmol/L calcium (Plummer & Busenberg 1982; value from memory)', () => {
    let [low, high] = [0.01, 5];
    for (let i = 0; i < 40; i++) {
      const middle = (low + high) / 2;
      if ((solved(composition({ Ca: middle }), OPEN).saturation.calcite ?? 0) < 0) low = middle;
      else high = middle;
    }
    const { ph } = solved(composition({ Ca: low }), OPEN);
    expect(ph).toBeGreaterThan(8.19);
    expect(ph).toBeLessThan(8.35);
    expect(low).toBeGreaterThan(0.45);
    expect(low).toBeLessThan(0.6);
  });
  it('gypsum dissolves to about 15 mmol/L (CRC Handbook, 2.6 g/L as dihydrate; value from memory), by an activity law at its end', () => {
    let [low, high] = [1, 40];
    for (let i = 0; i < 40; i++) {
      const middle = (low + high) / 2;
      if ((solved(composition({ Ca: middle, SO4: middle })).saturation.gypsum ?? 0) < 0) low = middle;
      else high = middle;
    }
    within(low, 15.2, 0.08);
  });
  it('amorphous silica: 117 mg/L as SiO2 (value from memory)', () => {
    const at = (mg: number) => solved(composition({ SiO2: mg / 60.084 })).saturation.silica!;
    expect(at(115)).toBeLessThan(0);
    expect(at(119)).toBeGreaterThan(0);
  });
});

it('oxide factors of labels (textbook)', () => {
  const per = (percent: Parameters<typeof readLabel>[0]['percent']) => {
    const read = readLabel({ form: 'powder', basis: 'w/w', densityGMl: null, percent, thinned: 1 });
    if (!read.ok) throw new Error('label');
    return read.elements;
  };
  within(per({ P2O5: 10 }).P, 43.64, 0.001);
  within(per({ K2O: 10, Cl: 5 }).K, 83.01, 0.001);
  within(per({ CaO: 10 }).Ca, 71.47, 0.001);
  within(per({ MgO: 10 }).Mg, 60.3, 0.001);
  within(per({ SO3: 10 }).S, 40.05, 0.001);
  within(per({ SiO2: 10 }).Si, 46.74, 0.001);
});

it('alkalinity units: 1 meq/L = 50.04 mg/L CaCO3 = 2.804 °dKH (textbook)', () => {
  within(fromMeqL(1, 'mg/L CaCO3'), 50.04, 0.0002);
  within(DKH_PER_MEQ, 2.804, 0.0002);
  within(toMeqL(8, '°dKH'), 2.853, 0.001);
});

describe('common practice', () => {
  it('+100 ppm of Epsom salt on a ½-scale pen is about 0.22 g/L and 22 mg/L magnesium', () => {
    const epsom = readLabel({ form: 'powder', basis: 'w/w', densityGMl: null, percent: { Epsom: 100 }, thinned: 1 });
    if (!epsom.ok) throw new Error('label');
    const grams = 200 / epsom.ecPerUnitL;
    within(grams, 0.22, 0.03);
    within(grams * epsom.elements.Mg, 22, 0.03);
  });
  it('a tap that reads 212 at pH 7.6 and 8 °dKH holds little but calcium bicarbonate', () => {
    const tap = waterFromSigns({
      ecUsCm: 424,
      ph: 7.6,
      alkalinityMeqL: toMeqL(8, '°dKH'),
      hardnessMeqL: null,
      kind: 'tap',
    });
    if (!tap.ok) throw new Error(tap.message);
    within(solved(tap.composition).ecUsCm, 424, 0.001);
    expect(solved(tap.composition).ph).toBeCloseTo(7.6, 4);
    expect(solved(tap.composition).alkalinityMeqL).toBeCloseTo(2.853, 2);
  });
});
