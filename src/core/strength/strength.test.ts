import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { normal, seededRandom } from '../simulation/index.ts';
import {
  addPortion,
  batchStrength,
  blendReading,
  bottleStrength,
  decidePortion,
  feedAim,
  finestStepMl,
  learnedBelief,
  litresOfWaterToReach,
  litresToThin,
  oddsOf,
  openBottle,
  planThinning,
  expectedNet,
  priorBelief,
  roundDownToTool,
  scaleBelief,
  startBatch,
  strengthFromTrial,
  takeReading,
  thinBatch,
  thinningRatio,
  thinningToMeasure,
  unlabelledBelief,
  USUAL_PEN,
  type CoachSituation,
  type Tool,
} from './index.ts';

const glass: Tool = { kind: 'dropper', id: 'glass', name: 'glass dropper', dropsPerMl: 18 };
const plastic: Tool = { kind: 'dropper', id: 'plastic', name: 'plastic dropper', dropsPerMl: null };
const fine: Tool = { kind: 'syringe', id: 's1', name: '1 mL syringe', capacityMl: 1, stepMl: 0.05 };
const coarse: Tool = { kind: 'syringe', id: 's20', name: '20 mL syringe', capacityMl: 20, stepMl: 1 };
const TOOLS = [glass, fine, coarse];
const litres = fc.double({ min: 0.1, max: 50, noNaN: true });
const reading = fc.double({ min: 0, max: 2000, noNaN: true });

describe('dilution and blends', () => {
  it('conserve what is dissolved', () => {
    fc.assert(
      fc.property(litres, reading, litres, reading, (v1, r1, v2, r2) => {
        const blend = blendReading([
          { volumeL: v1, reading: r1 },
          { volumeL: v2, reading: r2 },
        ]);
        expect(blend * (v1 + v2)).toBeCloseTo(v1 * r1 + v2 * r2, 4);
        expect(blend).toBeCloseTo(
          blendReading([
            { volumeL: v2, reading: r2 },
            { volumeL: v1, reading: r1 },
          ]),
          9,
        );
        expect(blend).toBeGreaterThanOrEqual(Math.min(r1, r2) - 1e-9);
        expect(blend).toBeLessThanOrEqual(Math.max(r1, r2) + 1e-9);
      }),
    );
  });
  it('thinning lands on the target', () => {
    fc.assert(
      fc.property(
        litres,
        fc.double({ min: 20, max: 900, noNaN: true }),
        fc.double({ min: 0.2, max: 1, noNaN: true }),
        (v, net, share) => {
          const target = net * share;
          const add = litresToThin(v, net, target);
          expect((net * v) / (v + add)).toBeCloseTo(target, 6);
        },
      ),
    );
    expect(litresToThin(2, 80, 90)).toBe(0);
  });
  it('thinning with another water is exact, and refused when that water reads as much', () => {
    const add = litresOfWaterToReach(4, 200, 120, 24);
    expect(
      blendReading([
        { volumeL: 4, reading: 200 },
        { volumeL: add, reading: 24 },
      ]),
    ).toBeCloseTo(120, 9);
    expect(() => litresOfWaterToReach(4, 300, 200, 212)).toThrow(/cannot thin/);
    expect(litresOfWaterToReach(4, 100, 120, 24)).toBe(0);
  });
  it('a full vessel pours off first and ends full, on target', () => {
    fc.assert(
      fc.property(
        litres,
        fc.double({ min: 1.05, max: 4, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (v, over, room) => {
          const capacity = v * (1 + room);
          const plan = planThinning(v, 100 * over, 100, capacity);
          const pourOff = plan.kind === 'add' ? 0 : plan.pourOffL;
          const after = v - pourOff + plan.addL;
          expect(after).toBeLessThanOrEqual(capacity + 1e-9);
          expect(pourOff).toBeGreaterThanOrEqual(-1e-9);
          expect((100 * over * (v - pourOff)) / after).toBeCloseTo(100, 6);
        },
      ),
    );
  });
});

describe('measuring a dose', () => {
  it('rounds down to whole steps of a tool, by less than one step', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.06, max: 40, noNaN: true }), (ml) => {
        const dose = roundDownToTool(ml, TOOLS)!;
        expect(dose.doseMl).toBeLessThanOrEqual(ml + 1e-6);
        expect(dose.doseMl).toBeCloseTo(dose.steps * dose.stepMl, 9);
        expect(ml - dose.doseMl).toBeLessThan(dose.stepMl + 1e-6);
      }),
    );
  });
  it('takes drops up to forty, then a syringe', () => {
    expect(roundDownToTool(0.5, TOOLS)).toMatchObject({ toolId: 'glass', steps: 9 });
    expect(roundDownToTool(3, [glass, coarse])).toMatchObject({ toolId: 's20', steps: 3 });
    expect(roundDownToTool(0.3, [{ ...fine, stepMl: 0.1 }])).toMatchObject({ steps: 3 });
  });
  it('takes the fine syringe in a few fills where the coarse one’s marks would lose much of the dose', () => {
    const large: Tool = { kind: 'syringe', id: 's10', name: '10 mL syringe', capacityMl: 10, stepMl: 1 };
    const small: Tool = { kind: 'syringe', id: 's5', name: '5 mL syringe', capacityMl: 5, stepMl: 0.2 };
    expect(roundDownToTool(6.43, [large, small])).toMatchObject({ toolId: 's5', doseMl: expect.closeTo(6.4, 9) });
    expect(roundDownToTool(9.05, [large, small])).toMatchObject({ toolId: 's10', steps: 9 });
    // Not by a score of fills.
    expect(roundDownToTool(60.5, [{ ...large, capacityMl: 60, stepMl: 20 }, small])).toMatchObject({ toolId: 's10' });
  });
  it('prefers the counted tool and says how unsure a guessed drop is', () => {
    expect(roundDownToTool(0.5, [plastic, fine])).toMatchObject({ toolId: 's1', relativeSd: 0.05 });
    expect(roundDownToTool(0.5, [plastic])).toMatchObject({ toolId: 'plastic', relativeSd: 0.2, steps: 10 });
  });
  it('a spoon counts in halves, level by eye, up to as many fills as one would count', () => {
    const spoon: Tool = { kind: 'spoon', id: 'tsp', name: 'Teaspoon', holdsMl: 5 };
    expect(roundDownToTool(8.1, [spoon])).toMatchObject({ toolId: 'tsp', steps: 3, doseMl: 7.5, relativeSd: 0.1 });
    expect(roundDownToTool(2.4, [spoon])).toBeUndefined();
    // A syringe that does it in as many fills is surer.
    const five: Tool = { kind: 'syringe', id: 's5', name: '5 mL syringe', capacityMl: 5, stepMl: 0.2 };
    expect(roundDownToTool(5, [spoon, five])?.toolId).toBe('s5');
    // Thinned so far that two spoons measure it.
    expect(thinningToMeasure(1.25, [spoon])).toBe(10);
  });
  it('is nothing under one step, and an error without tools', () => {
    expect(roundDownToTool(0.001, TOOLS)).toBeUndefined();
    // A 20 L bucket and nothing but a dropper: forty drops at a time, not one.
    expect(roundDownToTool(9.5, [plastic])).toMatchObject({ toolId: 'plastic', steps: 40 });
    expect(roundDownToTool(0.9, [{ ...plastic, dropsPerMl: 60 }, coarse])).toMatchObject({
      toolId: 'plastic',
      steps: 40,
    });
    expect(roundDownToTool(9.5, [plastic, fine])?.toolId).toBe('s1');
    expect(() => roundDownToTool(1, [])).toThrow(/nothing to measure/);
    expect(finestStepMl(TOOLS)).toBe(0.05);
  });
});

describe('learned strength', () => {
  it('a trial gives the strength, linear in the dose', () => {
    expect(strengthFromTrial(2, 4, 180)).toBeCloseTo(360, 9);
    expect(() => strengthFromTrial(0, 4, 180)).toThrow(/dose/);
  });
  it('narrows on the bottle with batches and opens wide again with a new one', () => {
    const truth = 270;
    const random = seededRandom(5);
    let belief = priorBelief(360);
    for (let i = 0; i < 12; i++) {
      let batch = startBatch(belief, 3, 18, USUAL_PEN);
      batch = addPortion(batch, 1.5, 0.05);
      const read = 18 + truth * 0.5 * (1 + 0.03 * normal(random));
      batch = takeReading(batch, read, USUAL_PEN, true).batch;
      belief = learnedBelief(batch);
    }
    const known = bottleStrength(belief);
    expect(known.ecPerMlL).toBeGreaterThan(258);
    expect(known.ecPerMlL).toBeLessThan(282);
    // It never narrows to nothing: a bottle drifts.
    expect(known.sd).toBeLessThan(10);
    expect(known.sd).toBeGreaterThan(4);
    const fresh = bottleStrength(openBottle(belief));
    expect(fresh.sd).toBeGreaterThan(7 * known.sd);
    // One bottle says little of the product's mean: the new bottle starts between guess and bottle.
    expect(fresh.ecPerMlL).toBeGreaterThan(known.ecPerMlL);
    expect(fresh.ecPerMlL).toBeLessThan(360);
  });
  it('a bottle swapped unsaid: the reading that was stood by opens it, and the second batch is known again', () => {
    const random = seededRandom(9);
    let belief = priorBelief(270);
    const once = (truth: number) => {
      const batch = addPortion(startBatch(belief, 4, 18, USUAL_PEN), 2, 0.05);
      belief = learnedBelief(
        takeReading(batch, 18 + (truth * 2 * (1 + 0.02 * normal(random))) / 4, USUAL_PEN, true).batch,
      );
      return bottleStrength(belief);
    };
    for (let i = 0; i < 6; i++) once(270);
    const settled = bottleStrength(belief);
    expect(Math.abs(settled.ecPerMlL - 270)).toBeLessThan(15);
    const surprised = once(430);
    // One odd reading may be a slip of the hand: the middle stays, the doubt opens.
    expect(Math.abs(surprised.ecPerMlL - settled.ecPerMlL)).toBeLessThan(20);
    expect(surprised.sd).toBeGreaterThan(5 * settled.sd);
    expect(Math.abs(once(430).ecPerMlL - 430)).toBeLessThan(25);
  });
  it('a product with neither label nor recipe: its second bottle is like its first, not like the guess', () => {
    let belief = unlabelledBelief();
    expect(bottleStrength(belief).sd / bottleStrength(belief).ecPerMlL).toBeGreaterThan(0.8);
    for (const doseMl of [0.3, 1.2, 1.2]) {
      const batch = addPortion(startBatch(belief, 4, 18, USUAL_PEN), doseMl, 0.05);
      belief = learnedBelief(takeReading(batch, 18 + (1000 * doseMl) / 4, USUAL_PEN, true).batch);
    }
    expect(Math.abs(bottleStrength(belief).ecPerMlL - 1000)).toBeLessThan(60);
    const second = bottleStrength(openBottle(belief));
    expect(second.ecPerMlL).toBeGreaterThan(850);
    expect(second.sd).toBeGreaterThan(100);
  });
  it('thinning a product scales what is known of it, there and back', () => {
    const belief = priorBelief(300);
    const there = scaleBelief(belief, 0.1);
    expect(bottleStrength(there).ecPerMlL).toBeCloseTo(30, 9);
    expect(bottleStrength(scaleBelief(there, 10)).sd).toBeCloseTo(bottleStrength(belief).sd, 9);
  });
  it('an odd reading is flagged; confirmed, it moves the batch and leaves the strength alone', () => {
    const batch = addPortion(
      startBatch(
        scaleBelief(
          {
            mean: [300, 300],
            covariance: [
              [25, 25],
              [25, 25],
            ],
          },
          1,
        ),
        3,
        18,
        USUAL_PEN,
      ),
      2,
      0.05,
    );
    const before = batchStrength(batch).ecPerMlL;
    expect(takeReading(batch, 600, USUAL_PEN).odd).toBe(true);
    const confirmed = takeReading(batch, 600, USUAL_PEN, true).batch;
    expect(Math.abs(batchStrength(confirmed).ecPerMlL - before)).toBeLessThan(3);
    expect(expectedNet(confirmed, 0, 0).readingMean).toBeCloseTo(600, -1);
    expect(takeReading(batch, 218, USUAL_PEN).odd).toBe(false);
  });
  it('thinning a batch keeps what is dissolved', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.1, max: 5, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (addL, pourOffL) => {
          const batch = addPortion(startBatch(priorBelief(300), 3, 18, USUAL_PEN), 2, 0.05);
          const thinned = thinBatch(batch, addL, pourOffL);
          const kept = expectedNet(batch, 0, 0).mean * (3 - pourOffL);
          expect(expectedNet(thinned, 0, 0).mean * thinned.volumeL).toBeCloseTo(kept, 6);
        },
      ),
    );
    expect(() => thinBatch(startBatch(priorBelief(300), 3, 18, USUAL_PEN), 1, 3)).toThrow(/stays in the vessel/);
  });
});

describe('a batch over its band', () => {
  const aim = feedAim(200);
  const over = (net: number, capacityL: number) =>
    decidePortion({
      batch: addPortion(startBatch(priorBelief(net), 4, 0, USUAL_PEN), 4, 0.05),
      aim,
      pen: USUAL_PEN,
      tools: TOOLS,
      portionsUsed: 1,
      lastReadingEcUsCm: net,
      capacityL,
    });
  it('may be brought to the edge of its band with the least water, or to the aim with more', () => {
    // +138 ppm for an aim of 100, in 4 L: half a litre and a bit, nothing poured off, and 1.5 L to the aim.
    const found = over(276, 6);
    expect(found).toMatchObject({ kind: 'thin', pastHard: false, edge: { kind: 'add' }, plan: { kind: 'add' } });
    if (found.kind !== 'thin') return;
    expect(found.edge.addL).toBeCloseTo(4 * (276 / (0.97 * 240) - 1), 9);
    expect(found.plan.addL).toBeCloseTo(1.52, 2);
  });
  it('the edge never takes more water than the aim, nor pours off more, and lands inside', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 241, max: 2000, noNaN: true }),
        fc.double({ min: 4, max: 12, noNaN: true }),
        (net, capacityL) => {
          const found = over(net, capacityL);
          if (found.kind !== 'thin') throw new Error(found.kind);
          const poured = (plan: typeof found.plan) => (plan.kind === 'add' ? 0 : plan.pourOffL);
          expect(poured(found.edge)).toBeLessThanOrEqual(poured(found.plan) + 1e-9);
          const left = 4 - poured(found.edge);
          const lands = (net * left) / (left + found.edge.addL);
          expect(lands).toBeLessThanOrEqual(aim.highEcUsCm);
          expect(lands).toBeGreaterThanOrEqual(aim.netEcUsCm - 1e-6);
          expect(left + found.edge.addL).toBeLessThanOrEqual(capacityL + 1e-9);
        },
      ),
    );
  });
});

describe('the portion coach', () => {
  const aim = feedAim(180);
  const situation = (more: Partial<CoachSituation> = {}): CoachSituation => {
    const batch = startBatch(priorBelief(300), 2.6, 18, USUAL_PEN);
    return { batch, aim, pen: USUAL_PEN, tools: TOOLS, portionsUsed: 0, lastReadingEcUsCm: 18, capacityL: 5, ...more };
  };
  it('refuses an aim that is not above the base', () => {
    expect(() => feedAim(0)).toThrow(/at or below/);
    expect(() => feedAim(Number.NaN)).toThrow();
  });
  it('starts short of the aim with a bottle it hardly knows, and never near the limit', () => {
    const decision = decidePortion(situation());
    expect(decision.kind).toBe('add');
    if (decision.kind !== 'add') return;
    expect(decision.expected.readingEcUsCm).toBeLessThan(18 + 180);
    expect(decision.pastHard).toBeLessThan(0.01);
    expect(oddsOf(situation(), decision.dose.doseMl, 0.05).pastTop).toBeLessThan(0.02);
    expect(decision.expected.lowEcUsCm).toBeLessThan(decision.expected.readingEcUsCm);
  });
  it('goes straight for the aim with a bottle it knows', () => {
    const known = {
      mean: [300, 300],
      covariance: [
        [900, 20],
        [20, 20],
      ],
    };
    const decision = decidePortion(situation({ batch: startBatch(known, 2.6, 18, USUAL_PEN) }));
    expect(decision.kind === 'add' && decision.inBand).toBeGreaterThan(0.9);
  });
  it('stops inside, even right at the edge', () => {
    expect(decidePortion(situation({ portionsUsed: 1, lastReadingEcUsCm: 18 + 162 })).kind).toBe('inside');
    expect(decidePortion(situation({ portionsUsed: 1, lastReadingEcUsCm: 18 + 216 })).kind).toBe('inside');
  });
  it('thins when over, by the vessel', () => {
    expect(decidePortion(situation({ portionsUsed: 1, lastReadingEcUsCm: 18 + 230 }))).toMatchObject({
      kind: 'thin',
      pastHard: false,
      plan: { kind: 'add' },
    });
    expect(decidePortion(situation({ portionsUsed: 1, lastReadingEcUsCm: 18 + 400, capacityL: 3 }))).toMatchObject({
      kind: 'thin',
      pastHard: true,
      plan: { kind: 'pourOffAndReplace' },
    });
  });
  it('says when every step is too coarse', () => {
    const decision = decidePortion(
      situation({ tools: [coarse], batch: startBatch(priorBelief(3000), 0.5, 18, USUAL_PEN) }),
    );
    expect(decision).toMatchObject({ kind: 'tooCoarse', stepMl: 1 });
  });
  it('asks for the product thinned when a drop jumps half the band', () => {
    expect(thinningRatio(300, 10, aim, TOOLS)).toBe(1);
    expect(thinningRatio(3000, 0.5, aim, TOOLS)).toBeGreaterThanOrEqual(10);
  });
  it('lands ≥ 95 % of simulated batches in the band within three portions, < 1 % past the limit (400 cases)', () => {
    let inside = 0;
    let past = 0;
    for (let i = 0; i < 400; i++) {
      const random = seededRandom(9000 + i);
      const strength = 300 * Math.max(0.15, 1 + 0.3 * normal(random));
      const base = 280 * random();
      const goal = feedAim(150 + 450 * random());
      const volumeL = 1 + 9 * random();
      const pen = (ec: number) => 2 * Math.round((ec * (1 + 0.02 * normal(random))) / 2);
      const baseReading = pen(base);
      const ratio = thinningRatio(300, volumeL, goal, TOOLS);
      let batch = startBatch(priorBelief(300 / ratio), volumeL, baseReading, USUAL_PEN);
      let net = 0;
      let last = baseReading;
      let everPast = false;
      for (let portion = 0; portion < 3; portion++) {
        const decision = decidePortion({
          batch,
          aim: goal,
          pen: USUAL_PEN,
          tools: TOOLS,
          portionsUsed: portion,
          lastReadingEcUsCm: last,
          capacityL: 20,
        });
        if (decision.kind !== 'add') break;
        net += (decision.dose.doseMl * (1 + 0.05 * normal(random)) * strength) / ratio / volumeL;
        everPast ||= net > goal.hardEcUsCm;
        last = pen(base + net);
        batch = takeReading(
          addPortion(batch, decision.dose.doseMl, decision.dose.relativeSd),
          last,
          USUAL_PEN,
          true,
        ).batch;
      }
      if (last - baseReading >= goal.lowEcUsCm && last - baseReading <= goal.highEcUsCm) inside++;
      if (everPast) past++;
    }
    expect(inside).toBeGreaterThanOrEqual(380);
    expect(past).toBeLessThan(4);
  });
});
