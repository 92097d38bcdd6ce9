import type { EntityManager } from 'typeorm';
import { waterKnown, type WaterKnown } from '../../contract/shelf.ts';
import { readingMiddle, type Reading } from '../../core/quantity/index.ts';
import { waterFromTest, type KnownWater } from '../../core/solution/index.ts';
import type { Water } from '../database/entities.ts';
import { readJson } from '../database/read-json.ts';
import { isTainted, type Meters } from '../shelf/meter-states.ts';

/** A water by all that is known of it: its analysis or kit, the reading at this mix, the last pH read of it by itself. */
export async function waterOf(manager: EntityManager, waterId: string, baseEcUsCm: number | undefined, meters: Meters): Promise<KnownWater | undefined> {
  if (baseEcUsCm === undefined) return undefined;
  const water = await manager.getRepository<Water>('water').findOneByOrFail({ id: waterId });
  const test = readJson(waterKnown, water.known) ?? null;
  const readings = await manager.query<{ ph: string; meterId: string | null; at: string }[]>(
    `SELECT json_extract(payload, '$.ph') AS ph, json_extract(payload, '$.phMeterId') AS meterId, at FROM care_event
     WHERE kind = 'waterRead' AND voidedBy IS NULL AND json_extract(payload, '$.waterId') = ? AND json_extract(payload, '$.ph.kind') <> 'notMeasured' ORDER BY at DESC LIMIT 10`,
    [waterId],
  );
  const sound = readings.find((r) => !isTainted(meters.get(r.meterId ?? ''), r.at));
  const ph = sound ? (readingMiddle(JSON.parse(sound.ph) as Reading) ?? null) : null;
  const signs = { ecUsCm: baseEcUsCm, ph, kind: water.kind };
  const key = JSON.stringify([test, signs]);
  if (!solved.has(key)) {
    if (solved.size >= MOST_KEPT) solved.clear();
    solved.set(key, solvedBy(test, signs));
  }
  return solved.get(key);
}

/** Solved once for the same test and signs: after every act each look asked it anew of each water, some milliseconds each. */
const solved = new Map<string, KnownWater | undefined>();
const MOST_KEPT = 500;

/** What contradicts the reading is let go by, one after the other: the pH first, then the test. */
function solvedBy(test: WaterKnown | null, signs: Parameters<typeof waterFromTest>[1]): KnownWater | undefined {
  for (const [known, seen] of [
    [test, signs],
    [test, { ...signs, ph: null }],
    [null, { ...signs, ph: null }],
  ] as const) {
    const made = waterFromTest(known, seen);
    if (made.ok) return made;
  }
  return undefined;
}
