import { existsSync, mkdirSync, statSync, truncateSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { serverKit, TODAY, type Kit } from '../../../tests/server-kit.ts';
import { openDatabase } from '../database/open.ts';
import { collectionOf } from './holder.ts';
import { keepLessons, lessonsOf } from './kept-lessons.ts';
import { knownAlone, logOf } from './knowledge.ts';
import { ready } from './ready.ts';

/* What is learned is kept beside the collection: a start finds it again, and nothing depends on it. */

let kit: Kit;
let file: string;
beforeEach(async () => {
  kit = await serverKit(6);
  file = join(kit.folder, 'copy.sqlite');
  await kit.database.copyTo(file);
});
afterEach(() => kit.close());

/** A server newly started on the copy: how many pots it found learned, and what it then knows of each. */
async function start(program = 'one', act?: string) {
  const database = await openDatabase(file);
  try {
    if (act) await database.write.run((manager) => manager.query(act));
    keepLessons(database, program);
    const kept = lessonsOf(database.read)!;
    const entries = [...collectionOf(database.read.manager).pots.values()];
    const found = kept.recall(entries.map((e) => ({ potId: e.pot.id, key: kept.keyOf(logOf(e)) })));
    await ready(() => database.read.manager, TODAY);
    return { found: found.size, known: entries.map(knownAlone) };
  } finally {
    await database.close();
  }
}

describe('what is learned of pots', () => {
  it('is found again at the next start, to the last digit', async () => {
    const first = await start();
    expect(first.found).toBe(0);
    const second = await start();
    expect(second.found).toBe(42);
    expect(second.known).toEqual(first.known);
  });
  it('counts only for the log it was learned from: one reading more, and that pot is learned anew', async () => {
    await start();
    const other = await start(
      'one',
      `UPDATE care_event SET payload = json_set(payload, '$.oldReservoir.leftMl', 33) WHERE seq =
         (SELECT max(seq) FROM care_event WHERE kind = 'potFilled' AND voidedBy IS NULL)`,
    );
    expect(other.found).toBe(41);
    expect((await start()).known).toEqual(other.known);
  });
  it('counts only for the program that learned it', async () => {
    const { known } = await start('one');
    const other = await start('two');
    expect(other.found).toBe(0);
    expect(other.known).toEqual(known);
  });
  const kept = () => `${file}.learned`;
  it.each<[string, () => void]>([
    ['is no file of ours', () => writeFileSync(kept(), 'rubbish'.repeat(5000))],
    ['is cut off', () => truncateSync(kept(), statSync(kept()).size / 2)],
    ['is a folder', () => mkdirSync(kept())],
  ])('is learned anew where the file %s', async (what, spoil) => {
    if (what === 'is cut off') await start();
    spoil();
    const { known } = await start();
    expect(known.filter(Boolean).length).toBeGreaterThan(30);
    expect(existsSync(file)).toBe(true);
    expect((await start()).known).toEqual(known);
  });
});
