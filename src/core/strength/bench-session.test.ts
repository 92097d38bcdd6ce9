import { describe, expect, it } from 'vitest';
import {
  adviseBench,
  bottleStrength,
  feedAim,
  learnedFrom,
  priorBelief,
  replayBench,
  USUAL_PEN,
  type BenchAct,
  type BenchPart,
  type BenchSetup,
  type Tool,
} from './index.ts';

const aim = feedAim(180);
const bottle = priorBelief(300);
const feed: BenchPart = { belief: bottle, mlPerUnit: 1, aim: { by: 'pen', aim } };
const setup: BenchSetup = { volumeL: 2.6, parts: [feed], pen: USUAL_PEN };
const replay = (acts: BenchAct[]) => replayBench(setup, acts);
const base: BenchAct = { kind: 'base', readingEcUsCm: 18 };
const portion = (doseMl: number, readingEcUsCm: number | null): BenchAct => ({
  kind: 'portion',
  doseMl,
  relativeSd: 0.05,
  readingEcUsCm,
  confirmedOdd: false,
});

describe('replaying a batch from its acts', () => {
  it('before the water is read there is nothing to coach', () => {
    expect(replay([])).toMatchObject({ batch: undefined, portionsUsed: 0, strengthReached: false });
    expect(replay([{ kind: 'base', readingEcUsCm: null }]).batch).toBeUndefined();
  });
  it('follows portions and readings, and stops at strength', () => {
    const session = replay([base, portion(1, 130), portion(0.5, 190)]);
    expect(session).toMatchObject({
      portionsUsed: 2,
      parts: [{ totalMl: 1.5, state: 'inside' }],
      lastReadingEcUsCm: 190,
      strengthReached: true,
      awaitingReading: false,
    });
    expect(session.snapshots.at(-1)).toMatchObject({ netEcUsCm: 172, readingEcUsCm: 190 });
  });
  it('waits for the reading of a portion that went in unread', () => {
    expect(replay([base, portion(1, null)])).toMatchObject({ awaitingReading: true, strengthReached: false });
    expect(
      replay([base, portion(1, null), { kind: 'reading', readingEcUsCm: 190, confirmedOdd: false }]),
    ).toMatchObject({
      awaitingReading: false,
      strengthReached: true,
    });
  });
  it('taking the last act back is replaying without it', () => {
    const acts = [base, portion(1, 130), portion(0.5, 190)];
    expect(replay(acts.slice(0, -1))).toEqual(replay([base, portion(1, 130)]));
  });
  it('thinning changes the volume and keeps the product in it', () => {
    const session = replay([base, portion(2, 300), { kind: 'thin', pourOffL: 0, addL: 1, readingEcUsCm: 220 }]);
    expect(session.volumeL).toBeCloseTo(3.6, 9);
    expect(session.parts[0]?.totalMl).toBe(2);
    const poured = replay([base, portion(2, 300), { kind: 'thin', pourOffL: 1.3, addL: 1.3, readingEcUsCm: 160 }]);
    expect(poured.volumeL).toBeCloseTo(2.6, 9);
    expect(poured.parts[0]?.totalMl).toBeCloseTo(1, 9);
  });
  it('counts corrections and judges drops by the reading before and after', () => {
    const acts: BenchAct[] = [
      base,
      portion(1.5, 190),
      { kind: 'ph', ph: 6.8 },
      { kind: 'correction', steps: 2, ph: 6.2 },
    ];
    expect(replay(acts)).toMatchObject({ corrections: 1, latestPh: 6.2 });
    expect(replay(acts).phPerStep).toBeCloseTo(-0.3, 9);
    const later = replay([...acts.slice(0, 3), { kind: 'correction', steps: 2, ph: null }]);
    expect(later).toMatchObject({ corrections: 1, latestPh: undefined, phPerStep: undefined });
    expect(
      replay([...acts.slice(0, 3), { kind: 'correction', steps: 2, ph: null }, { kind: 'ph', ph: 6.4 }]).phPerStep,
    ).toBeCloseTo(-0.2, 9);
  });
  it('teaches the undiluted product even when it was thinned first', () => {
    const thinned: BenchSetup = { ...setup, parts: [{ ...feed, mlPerUnit: 10 }] };
    const session = replayBench(thinned, [base, portion(15, 18 + (27 * 15) / 2.6)]);
    const learned = bottleStrength(learnedFrom(session, thinned));
    expect(learned.ecPerMlL).toBeGreaterThan(260);
    expect(learned.ecPerMlL).toBeLessThan(280);
    expect(learnedFrom(replay([base]), setup)).toBe(bottle);
  });
});

const TOOLS: Tool[] = [
  { kind: 'dropper', id: 'd', name: 'glass dropper', dropsPerMl: 18 },
  { kind: 'syringe', id: 's5', name: '5 mL syringe', capacityMl: 5, stepMl: 0.2 },
];

describe('a batch of several parts', () => {
  const calmag: BenchPart = { belief: priorBelief(400), mlPerUnit: 1, aim: { by: 'pen', aim: feedAim(100) } };
  const silicate: BenchPart = { belief: priorBelief(150), mlPerUnit: 1, aim: { by: 'measure', unitsPerL: 0.5 } };
  const three: BenchSetup = { volumeL: 4, parts: [silicate, calmag, feed], pen: USUAL_PEN };
  const of = (part: number, doseMl: number, readingEcUsCm: number | null): BenchAct => ({
    kind: 'portion',
    part,
    doseMl,
    relativeSd: 0.05,
    readingEcUsCm,
    confirmedOdd: false,
  });
  const say = (acts: BenchAct[], byRecipe = false) =>
    adviseBench(three, replayBench(three, acts), () => TOOLS, 10, byRecipe);

  it('takes them in turn, each counted over what the pen read before it', () => {
    expect(say([])).toEqual({ kind: 'readBase' });
    expect(say([base])).toMatchObject({ kind: 'measure', part: 0, dose: { doseMl: 2 } });
    const one = [base, of(0, 2, 95)];
    expect(replayBench(three, one)).toMatchObject({
      at: 1,
      parts: [{ state: 'measured', netEcUsCm: 77 }, { state: 'now' }, { state: 'waiting' }],
    });
    expect(say(one)).toMatchObject({ kind: 'add', part: 1 });
    const two = [...one, of(1, 1, 195)];
    expect(replayBench(three, two)).toMatchObject({
      at: 2,
      parts: [{}, { state: 'inside', overEcUsCm: 95, netEcUsCm: 100 }, { state: 'now' }],
    });
    const all = [...two, of(2, 2.4, 380)];
    expect(replayBench(three, all)).toMatchObject({
      at: 3,
      strengthReached: true,
      parts: [{}, {}, { state: 'inside', netEcUsCm: 185 }],
    });
    expect(say(all)).toEqual({ kind: 'inside' });
  });
  it('learns each product by its own readings', () => {
    const session = replayBench(three, [base, of(0, 2, 95), of(1, 1, 195), of(2, 2.4, 340)]);
    expect(bottleStrength(learnedFrom(session, three, 1)).ecPerMlL).toBeCloseTo(400, -1);
    expect(bottleStrength(learnedFrom(session, three, 2)).ecPerMlL).toBeLessThan(270);
  });
  it('a part may be left short; the next is counted over it', () => {
    const left = replayBench(three, [base, of(0, 2, 95), of(1, 0.5, 150), { kind: 'leave', part: 1 }]);
    expect(left).toMatchObject({ at: 2, parts: [{}, { state: 'left', netEcUsCm: 55 }, { state: 'now' }] });
    expect(say([base, of(0, 2, 95), of(1, 0.5, 150), { kind: 'leave', part: 1 }])).toMatchObject({
      kind: 'add',
      part: 2,
    });
  });
  it('a dead pen: what was not read stays not measured, and the next part is counted over what is thought', () => {
    const acts: BenchAct[] = [base, of(0, 2, null), { kind: 'leave', part: 0 }];
    const session = replayBench(three, acts);
    expect(session).toMatchObject({
      unread: true,
      awaitingReading: false,
      at: 1,
      parts: [{ netEcUsCm: undefined }, {}, {}],
    });
    const next = replayBench(three, [...acts, of(1, 1, 195)]);
    expect(next.parts[1]?.overEcUsCm).toBeCloseTo(18 + 75, 6);
  });
  it('by recipe each goes in whole and unread, and says so', () => {
    expect(say([base], true)).toMatchObject({ kind: 'measure', part: 0, byRecipe: false });
    const first: BenchAct[] = [base, { ...of(0, 2, null), byRecipe: true } as BenchAct];
    expect(say(first, true)).toMatchObject({ kind: 'measure', part: 1, byRecipe: true, dose: { doseMl: 1 } });
    const all: BenchAct[] = [
      ...first,
      { ...of(1, 1, null), byRecipe: true } as BenchAct,
      { ...of(2, 2.4, null), byRecipe: true } as BenchAct,
    ];
    expect(replayBench(three, all)).toMatchObject({
      strengthReached: true,
      unread: true,
      parts: [{}, { state: 'byRecipe' }, { state: 'byRecipe' }],
    });
  });
  it('thins the whole back to what was planned, and every part with it', () => {
    const over = [base, of(0, 2, 95), of(1, 1, 195), of(2, 3.4, 440)];
    const advice = say(over);
    // Planned: what the silicate brought, 100 and 180.
    expect(advice).toMatchObject({ kind: 'thin', part: 2 });
    const addL = advice.kind === 'thin' ? advice.plan.addL : 0;
    expect(addL).toBeCloseTo(4 * (422 / (77 + 280) - 1), 0);
    const thinned = replayBench(three, [...over, { kind: 'thin', pourOffL: 0, addL, readingEcUsCm: 375 }]);
    expect(thinned).toMatchObject({ at: 3, parts: [{}, { state: 'left' }, { state: 'inside' }] });
  });
  it('plain water is a batch too', () => {
    const plain: BenchSetup = { volumeL: 4, parts: [], pen: USUAL_PEN };
    expect(adviseBench(plain, replayBench(plain, []), () => TOOLS, 10)).toEqual({ kind: 'readBase' });
    expect(replayBench(plain, [base])).toMatchObject({ strengthReached: true, at: 0 });
    expect(adviseBench(plain, replayBench(plain, [base]), () => TOOLS, 10)).toEqual({ kind: 'inside' });
  });
});
