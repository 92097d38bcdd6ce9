/** Reading the round, a pot, the book and a batch on collections of 42 and 500 pots. Prints medians and their ratio. */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { median } from 'simple-statistics';
import { makeDemo } from '../src/demo/make-demo.ts';
import { readBatchView } from '../src/server/bench/bench-view.ts';
import { readBook } from '../src/server/book/book-view.ts';
import { openDatabase } from '../src/server/database/open.ts';
import { readPot } from '../src/server/pots/pots-view.ts';
import { readRound } from '../src/server/round/round-view.ts';

const TODAY = '2026-11-25';
const ZONE = 'Europe/London';
const SETTINGS = { zone: ZONE, units: 'metric' as const };
const results = new Map<string, number[]>();
for (const copies of [1, 12]) {
  const folder = mkdtempSync(join(tmpdir(), 'frugal-sip-bench-'));
  const database = await openDatabase(join(folder, 'x.sqlite'));
  const from = performance.now();
  await database.write.run((manager) => makeDemo(manager, { today: TODAY, copies }));
  console.log(`${copies * 42} pots, 52 weeks: made in ${((performance.now() - from) / 1000).toFixed(1)} s`);
  const manager = database.read.manager;
  const [pot] = await manager.query<{ id: string }[]>(`SELECT id FROM pot WHERE code = 'R-07'`);
  const [batch] = await manager.query<{ id: string }[]>(`SELECT id FROM batch ORDER BY startedAt DESC LIMIT 1`);
  const reads: [string, () => Promise<unknown>][] = [
    ['round', () => readRound(manager, TODAY, ZONE)],
    ['pot', () => readPot(manager, pot!.id, TODAY, SETTINGS)],
    ['book', () => readBook(manager, { at: new Date(`${TODAY}T09:00:00Z`), localDate: TODAY }, SETTINGS, undefined)],
    ['batch', () => readBatchView(manager, batch!.id, ZONE, { at: new Date(`${TODAY}T09:00:00Z`), localDate: TODAY })],
  ];
  for (const [name, read] of reads) {
    const times: number[] = [];
    for (let i = 0; i < 15; i++) {
      const start = performance.now();
      await read();
      times.push(performance.now() - start);
    }
    results.set(name, [...(results.get(name) ?? []), median(times)]);
  }
  await database.close();
  rmSync(folder, { recursive: true, force: true });
}
for (const [name, [small = 0, large = 0]] of results)
  console.log(`${name.padEnd(6)} 42 pots ${small.toFixed(1)} ms · 504 pots ${large.toFixed(1)} ms · ratio ${(large / small).toFixed(1)}`);
