import 'reflect-metadata';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { natureOf, potPath, weekUeqOf, type PotKnowledge } from '../../core/drift/index.ts';
import { makeDemo } from '../../demo/make-demo.ts';
import { openDatabase, type Database } from '../database/open.ts';
import { collectionOf, potStates, type PotState } from './index.ts';

const TODAY = '2026-11-25';
const folder = mkdtempSync(join(tmpdir(), 'frugal-sip-drift-'));
let database: Database;
let states: readonly PotState[];
beforeAll(async () => {
  database = await openDatabase(join(folder, 'demo.sqlite'));
  await database.write.run((manager) => makeDemo(manager, { today: TODAY, copies: 1, weeks: 26 }));
  states = potStates(collectionOf(database.read.manager), TODAY);
});
afterAll(async () => {
  await database.close();
  rmSync(folder, { recursive: true, force: true });
});
const of = (code: string): PotKnowledge => states.find((s) => s.pot.code === code)!.known!;
const weekly = (code: string) => weekUeqOf(of(code)).mean;

describe('what a year of rounds says of each pot', () => {
  it('knows every pot that was filled, and which clay pushes hardest', () => {
    expect(states.every((s) => s.known !== undefined)).toBe(true);
    const order = states.map((s) => s.pot.code).sort((a, b) => weekly(b) - weekly(a));
    expect(order[0]).toBe('L-03');
    // Of the others in its clay some were hardly read: nothing but their mates speaks for them.
    expect(order.slice(1, 4)).toContain('P-04');
    expect(weekly('P-04')).toBeGreaterThan(20);
  });
  it('a calm pot’s feed comes out near where it comes out, by its own readings', () => {
    const { belief, water } = of('R-03');
    expect(belief.seen.alkali).toBeGreaterThan(3);
    const last = states.find((s) => s.pot.code === 'R-03')!.fills.findLast((f) => f.cameOutPh !== undefined)!;
    const week = potPath(water, natureOf(belief, water, 1), 7).at(-1)!;
    expect(Math.abs(week.ph - last.cameOutPh!)).toBeLessThan(0.6);
    expect(Math.abs(Math.log(week.ecUsCm / last.cameOutEcUsCm!))).toBeLessThan(0.3);
  });
  it('fresh mix and what stood in the pores make the body up', () => {
    for (const { known } of states) {
      const { water } = known!;
      const { ecUsCm } = water.curve;
      const first = potPath(water, natureOf(known!.belief, water, 1), 0)[0]!;
      expect(ecUsCm).toBeGreaterThan(0);
      expect(Math.abs(Math.log(first.ecUsCm / ecUsCm))).toBeLessThan(0.5);
    }
  });
});
