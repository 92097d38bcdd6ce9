import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { oddAnswers, routeBook } from '../../tests/every-answer.ts';
import { serverKit, type Kit } from '../../tests/server-kit.ts';

/* Still water that reads 0 is what a good unit makes. Nothing may divide by it. */

let kit: Kit;
let book: ReturnType<typeof routeBook>;
beforeEach(async () => {
  book = routeBook();
  kit = await serverKit(8, { onRoute: book.onRoute });
}, 120_000);
afterEach(() => kit.close());

const zero = `json('{"kind":"value","value":0}')`;
const rewrite = (...statements: string[]) =>
  kit.database.write.run(async (manager) => {
    for (const sql of statements) await manager.query(sql);
  });

describe('a reading of 0', () => {
  it('of still water goes through every room and every pot', async () => {
    const still = (await kit.rows<{ id: string }>(`SELECT id FROM water WHERE kind = 'still'`))[0]!.id;
    await rewrite(
      `UPDATE care_event SET payload = json_set(payload, '$.reading', ${zero}) WHERE kind = 'batchBase' AND batchId IN (SELECT id FROM batch WHERE waterId = '${still}')`,
      `UPDATE care_event SET payload = json_set(payload, '$.ppm', ${zero}) WHERE kind = 'waterRead' AND json_extract(payload, '$.waterId') = '${still}'`,
      `UPDATE care_event SET payload = json_set(payload, '$.waterEcUsCm', 0) WHERE kind = 'potFilled' AND json_extract(payload, '$.waterId') = '${still}'`,
      `UPDATE care_event SET payload = json_set(payload, '$.baseEcUsCm', 0) WHERE kind = 'clayFilled'`,
    );
    expect(await oddAnswers(kit, book.routes)).toEqual([]);
  });
  it('of mixes, old reservoirs, run-offs and soaks of clay does too', async () => {
    await rewrite(
      `UPDATE care_event SET payload = json_set(payload, '$.oldReservoir.ppm', ${zero}, '$.oldReservoir.leftMl', 0, '$.runOffPpm', ${zero}) WHERE kind = 'potFilled' AND seq % 3 = 0`,
      `UPDATE care_event SET payload = json_set(payload, '$.ppm', ${zero}) WHERE kind IN ('clayRead', 'potReread', 'soakRead', 'waterRead') AND seq % 2 = 0`,
      `UPDATE batch SET pouredEcUsCm = 0, afterAcidEcUsCm = NULL WHERE rowid % 3 = 0`,
      `UPDATE batch SET pouredEcUsCm = 0, afterAcidEcUsCm = 0 WHERE rowid % 5 = 0`,
    );
    expect(await oddAnswers(kit, book.routes)).toEqual([]);
  });
});
