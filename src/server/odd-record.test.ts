import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { PotsView } from '../contract/pots.ts';
import type { RoundView } from '../contract/round.ts';
import { oddAnswers, routeBook } from '../../tests/every-answer.ts';
import { serverKit, type Kit } from '../../tests/server-kit.ts';

/* A line nobody can read any more (an old version's, a hand's in the file): its pot or thing is shown as such, and every room stands. */

let kit: Kit;
let book: ReturnType<typeof routeBook>;
beforeEach(async () => {
  book = routeBook();
  kit = await serverKit(5, { onRoute: book.onRoute });
});
afterEach(() => kit.close());

const inParts = <T>(all: readonly T[], n: number): T[][] =>
  Array.from({ length: Math.ceil(all.length / n) }, (_, i) => all.slice(i * n, (i + 1) * n));
const spoil = async (sql: string) => {
  await kit.database.write.run((manager) => manager.query(sql));
  // As the server does beside its start.
  await kit.database.checkLines();
};
const pot = async (code: string) =>
  (await kit.rows<{ id: string }>('SELECT id FROM pot WHERE code = ?', [code]))[0]!.id;
const codes = async () =>
  (await kit.call<PotsView>('GET', '/api/pots')).body.places.flatMap((p) => p.pots.map((x) => x.code));
const onRound = async () => (await kit.call<RoundView>('GET', '/api/round')).body.places.flatMap((p) => p.pots);

describe('a record that cannot be understood', () => {
  const cases: Record<string, string> = {
    'fillings without figures': `UPDATE care_event SET payload = '{}' WHERE kind = 'potFilled' AND potId = :pot`,
    'fillings that are no object': `UPDATE care_event SET payload = '[1]' WHERE kind = 'potFilled' AND potId = :pot`,
    'a reading that is a word': `UPDATE care_event SET payload = json_set(payload, '$.oldReservoir.ppm.value', 'many', '$.pouredMl', 'much') WHERE kind = 'potFilled' AND potId = :pot`,
    'a look of another make': `UPDATE care_event SET payload = json_set(payload, '$.look', json('{"cues":7}')) WHERE kind = 'potFilled' AND potId = :pot`,
    'a day that is none': `UPDATE care_event SET localDate = 'yesterday' WHERE kind = 'potFilled' AND potId = :pot`,
    'a kind nobody knows': `UPDATE care_event SET kind = 'potDanced' WHERE kind = 'potFilled' AND potId = :pot`,
    'a day of repotting that is none': `UPDATE pot SET repottedOn = 'once' WHERE id = :pot`,
    'a reservoir of next to nothing': `UPDATE pot SET reservoirMl = 0.000001, fillMl = 0.000001 WHERE id = :pot`,
  };
  // Several at once, each of a pot of its own: every room is asked after each look.
  for (const some of inParts(Object.entries(cases), 4))
    it(`${some.map(([what]) => what).join('; ')}: those pots stand aside, the rest stands`, async () => {
      const before = await codes();
      for (const [i, [, sql]] of some.entries()) await spoil(sql.replaceAll(':pot', `'${await pot(before[i]!)}'`));
      expect(await codes()).toEqual(before);
      expect((await onRound()).map((p) => p.code).sort()).toEqual(before.sort());
      expect(await oddAnswers(kit, book.routes, 60)).toEqual([]);
    });
  const wider: Record<string, string> = {
    'a regimen': `UPDATE regimen SET params = '{}' WHERE rowid = (SELECT min(rowid) FROM regimen)`,
    'what is known of a water': `UPDATE water SET known = '{"method":"tasted"}' WHERE kind = 'tap'`,
    'a label': `UPDATE product SET label = '{"a":1}' WHERE kind = 'feed'`,
    'an aim of a recipe': `UPDATE recipe SET parts = '[{}]'`,
    'a year of a place': `UPDATE place SET year = '{}'`,
    'a batch': `UPDATE care_event SET payload = '{}' WHERE batchId = (SELECT id FROM batch ORDER BY startedAt DESC LIMIT 1)`,
    'a check of a pen': `UPDATE care_event SET payload = '{}' WHERE kind = 'meterChecked'`,
    'a soak of clay': `UPDATE care_event SET payload = json_set(payload, '$.freshL', 'lots') WHERE kind = 'clayFilled' AND seq = (SELECT max(seq) FROM care_event WHERE kind = 'clayFilled')`,
    'what days were foretold to take': `INSERT INTO season (id, aim, madeAt, clay, foretold) VALUES ('plan', 'nobodyLate', '2026-11-20T08:00:00.000Z', '{}', '[{"on":7}]')`,
    'what wears in making still water': `INSERT INTO water_part (id, name, everyDays, changed) VALUES ('p', 'membrane', 700, '{"a":1}')`,
    'a setting': `INSERT OR REPLACE INTO setting (key, value) VALUES ('workingDays', 'never'), ('zone', 'Nowhere/Land')`,
  };
  for (const some of inParts(Object.entries(wider), 3))
    it(`${some.map(([what]) => what).join('; ')}: every room stands`, async () => {
      for (const [, sql] of some) await spoil(sql);
      expect(await oddAnswers(kit, book.routes, 60)).toEqual([]);
    });
});
