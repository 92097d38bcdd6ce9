import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { makeDemo } from '../../src/demo/make-demo.ts';
import { openDatabase } from '../../src/server/database/open.ts';
import { killBursts } from './kill.ts';
import { crowd } from './crowd.ts';
import { killedAtPoints } from './crash-points.ts';
import { damagedFiles } from './damage.ts';
import { fullDisk } from './full-disk.ts';
import { fuzzed } from './fuzz.ts';
import { failingWrites } from './io-errors.ts';
import { restoresUnderWriting } from './restores.ts';
import { loginStorm, retryStorm } from './storms.ts';
import type { Fault } from './load-kit.ts';

/*
 * The bench of faults: `npm run faults` (half an hour), after a build. CI runs each in its short form (tests/load/faults.e2e.ts). `npm run faults -- fuzz` runs
 * those whose name holds the word.
 */

export type Sizes = {
  kills: number;
  points: number;
  disks: number;
  writes: number;
  restores: number;
  retries: number;
  tries: number;
  damaged: number;
  requests: number;
  seconds: number;
};
export const LONG: Sizes = {
  kills: 300,
  points: 8,
  disks: 200,
  writes: 200,
  restores: 100,
  retries: 1000,
  tries: 5000,
  damaged: 60,
  requests: 20_000,
  seconds: 600,
};

/** Every fault by its word, with the folder of a demo collection to work on. */
export const FAULTS: Record<string, (sizes: Sizes, template: string) => Promise<Fault | undefined>> = {
  kills: async ({ kills }) => {
    const report = await killBursts(kills);
    if (report.integrity !== 'ok') throw new Error(report.integrity);
    return {
      name: 'kill −9 in bursts of writes',
      cases: kills,
      acknowledged: report.acknowledged,
      lost: report.lost.length,
      doubled: report.twice.length,
      half: 0,
      unnamed: 0,
      note: `${report.killedMidWrite} in the middle of writing`,
    };
  },
  points: ({ points }) => killedAtPoints(points),
  disks: ({ disks }) => fullDisk(disks),
  writes: ({ writes }) => failingWrites(writes),
  restores: ({ restores }) => restoresUnderWriting(restores),
  retries: ({ retries }) => retryStorm(retries),
  tries: ({ tries }) => loginStorm(tries),
  damaged: ({ damaged }, template) => damagedFiles(damaged, template),
  fuzz: ({ requests }, template) => fuzzed(requests, template),
  crowd: ({ seconds }, template) => crowd(seconds, template),
};

export const isSound = (fault: Fault) => fault.lost + fault.doubled + fault.half + fault.unnamed === 0;

export function lineOf({ name, cases, acknowledged, lost, doubled, half, unnamed, longestMs, note }: Fault): string {
  const wait = longestMs === undefined ? '' : `; longest wait ${Math.round(longestMs)} ms`;
  return `${name}: ${cases} cases, ${acknowledged} acknowledged, ${lost} lost, ${doubled} doubled, ${half} half, ${unnamed} unnamed faults${wait}${note ? `; ${note}` : ''}`;
}

/** A demo collection of so many times 42 pots. */
async function makeTemplate(copies: number, weeks: number): Promise<string> {
  const folder = mkdtempSync(join(tmpdir(), 'frugal-sip-faults-'));
  const database = await openDatabase(join(folder, 'demo.sqlite'));
  await database.write.run((manager) => makeDemo(manager, { today: '2026-11-25', copies, weeks }));
  await database.close();
  return folder;
}

if (process.argv[1]?.endsWith('faults.ts')) {
  const wanted = process.argv.slice(2);
  const [small, large] = [await makeTemplate(1, 6), await makeTemplate(12, 6)];
  let sound = true;
  for (const [word, run] of Object.entries(FAULTS)) {
    if (wanted.length > 0 && !wanted.includes(word)) continue;
    const from = performance.now();
    const fault = await run(LONG, word === 'crowd' ? large : small);
    if (!fault) {
      console.log(
        `${word}: not possible on this machine (it needs to mount a small disk, or the system's file limits)`,
      );
      continue;
    }
    console.log(`${lineOf(fault)} (${Math.round((performance.now() - from) / 1000)} s)`);
    sound &&= isSound(fault);
  }
  for (const folder of [small, large]) rmSync(folder, { recursive: true, force: true });
  process.exit(sound ? 0 : 1);
}
