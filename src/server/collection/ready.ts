import type { EntityManager } from 'typeorm';
import type { Collection } from './collection.ts';
import { collectionOf, foldAhead, foldedNow, rowsFor, versionSeen } from './holder.ts';
import { learnAll, reckoned } from './knowledge.ts';
import { lessonsOf } from './kept-lessons.ts';
import { memo } from './memo.ts';
import { potState, potStates, type PotState } from './pot-state.ts';
import { atOnce, inSlices, slices } from './slices.ts';

/**
 * The collection with everything a room wants of its pots worked out, while every other device goes on being served: folding and the pots' states slice by
 * slice, learning in threads. What comes back is what is committed now, not when it was asked for.
 * @param manager of the reading connection as it is at the moment
 * @param each what the room makes of each pot, kept by its arguments
 */
export async function ready(
  manager: () => EntityManager,
  today: string,
  each?: (collection: Collection, state: PotState, today: string) => unknown,
): Promise<Collection> {
  for (let tries = 1; ; tries++) {
    await foldAhead(manager());
    const collection = collectionOf(manager());
    const { done, of } = reckoned(collection);
    if (done < of) await learnAll(collection, lessonsOf(manager().connection));
    const work = workOn(collection, today, each);
    if (work.done) return collection;
    const pause = slices();
    for (const [id, entry] of collection.pots) {
      if (entry.pot.retiredOn !== null) continue;
      const state = potState(collection, id, today);
      if (state) each?.(collection, state, today);
      await pause();
    }
    // Written meanwhile: what came since is little. Where others write without a pause, it is what was committed a moment ago.
    if (collectionOf(manager()) !== collection && tries < MOST_TRIES) continue;
    potStates(collection, today);
    work.done = true;
    return collection;
  }
}

const MOST_TRIES = 3;

/** Whether the pots of a collection were gone through already. */
const workOn = memo((_collection: Collection, _today: string, _each: unknown): { done: boolean } => ({ done: false }));

/** Fewer pots than this are not worth a word. */
const WORTH_A_WORD = 10;

/** How far the reckoning of what is committed has come, while that takes long; null where it is done, or nearly. Begins it. */
export function reckoningNow(manager: EntityManager): { done: number; of: number } | null {
  void foldAhead(manager).catch(() => undefined);
  const collection = foldedNow(manager);
  const { done, of } = collection
    ? reckoned(collection)
    : { done: 0, of: rowsFor(manager)<{ n: number }>('SELECT count(*) AS n FROM pot WHERE retiredOn IS NULL')[0]!.n };
  return of - done < WORTH_A_WORD ? null : { done, of };
}

/**
 * What a room reads of the file itself, slice by slice: begun again where something was committed meanwhile, so that it is still of one piece; the third time
 * at once.
 */
export async function inOnePiece<T>(
  manager: () => EntityManager,
  steps: (manager: EntityManager) => Generator<void, T>,
): Promise<T> {
  for (let tries = 0; tries < 2; tries++) {
    await foldAhead(manager());
    const asked = manager();
    const before = versionSeen(asked);
    const made = await inSlices(steps(asked));
    if (manager() === asked && versionSeen(asked) === before) return made;
  }
  return atOnce(steps(manager()));
}
