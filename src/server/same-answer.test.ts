import { isDeepStrictEqual } from 'node:util';
import fc from 'fast-check';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { ANY_ACT } from '../../tests/any-act.ts';
import { pathsOfEveryLook, routeBook } from '../../tests/every-answer.ts';
import { newlyStarted, serverKit, type Kit } from '../../tests/server-kit.ts';
import { collectionOf } from './collection/index.ts';

/*
 * Same data, same answer: whatever was done, and whatever was looked at before, a server says what one newly started on the same file says.
 */

/** Hundreds of answers each: a busy machine is slow, not wrong. */
const PATIENCE_MS = 600_000;

let routes: { method: string; url: string }[];
let kit: Kit;
beforeEach(async () => {
  // Every room is asked after every act.
  process.env['FRUGAL_SIP_REQUESTS'] = '1000000';
  const book = routeBook();
  kit = await serverKit(4, { onRoute: book.onRoute });
  routes = book.routes;
});
afterEach(() => kit.close());

const names = Object.keys(ANY_ACT);
/** What an act is about where it may be about several things: tried until one is not refused. */
const WAYS = [
  [3, 1, 4, 1, 5, 9],
  [0, 0, 0, 0, 0, 0],
  [1, 2, 0, 3, 1, 2],
  [2, 3, 1, 0, 2, 1],
];
const ACTS_A_LOOK = 3;
/** A name of an act, and what its maker chooses by. */
const step = fc.record({
  name: fc.constantFrom(...names, 'undo', 'undo', 'correct', 'filled', 'readWater'),
  picks: fc.array(fc.nat({ max: 997 }), { minLength: 6, maxLength: 6 }),
});

/** @returns whether it was carried out: an act may be refused, as in life */
async function carryOut(name: string, picks: readonly number[]): Promise<boolean> {
  let i = 0;
  const made = await ANY_ACT[name]!(kit, (n) => picks[i++ % picks.length]! % n);
  if (!made) return false;
  const { status, body } = await kit.call<{ code?: string }>('PUT', made.url, made.body);
  // Not understood would be a fault of this test, and 500 one of ours.
  expect([200, 400, 404, 409], `${name}: ${JSON.stringify(body)}`).toContain(status);
  return status === 200;
}

/** Every part of the collection that differs from one folded anew: which of its entries, in which field. */
function partsThatDiffer(fresh: Kit): string[] {
  const [mine, theirs] = [collectionOf(kit.database.read.manager), collectionOf(fresh.database.read.manager)];
  const turned = (Object.keys(mine) as (keyof typeof mine)[]).filter((part) => !inOneOrder(mine[part], theirs[part]));
  return [
    ...fieldsThatDiffer({ ...mine, commit: 0 }, { ...theirs, commit: 0 }, 'collection', 0),
    ...turned.map((part) => `collection.${part}: in another order`),
  ];
}

const MOST_DEEP = 5;
/** What is told one after the other is in the same order too. */
const inOneOrder = (a: unknown, b: unknown) =>
  !(a instanceof Map && b instanceof Map) || isDeepStrictEqual([...a.keys()], [...b.keys()]);

function fieldsThatDiffer(a: unknown, b: unknown, path: string, deep: number): string[] {
  if (isDeepStrictEqual(a, b)) return [];
  const [mine, theirs] = [fieldsOf(a), fieldsOf(b)];
  if (!mine || !theirs || deep === MOST_DEEP)
    return [`${path}: ${JSON.stringify(a)?.slice(0, 200)} for ${JSON.stringify(b)?.slice(0, 200)}`];
  return [...new Set([...mine.keys(), ...theirs.keys()])].flatMap((key) =>
    fieldsThatDiffer(mine.get(key), theirs.get(key), `${path}.${key}`, deep + 1),
  );
}
const fieldsOf = (value: unknown): Map<string, unknown> | undefined =>
  value instanceof Map
    ? (value as Map<string, unknown>)
    : value !== null && typeof value === 'object'
      ? new Map(Object.entries(value))
      : undefined;

/** A commit's number, and how far it has come in reckoning, are the server's own. */
const shown = ({ status, body }: { status: number; body: unknown }) => ({
  status,
  body: body && typeof body === 'object' ? { ...body, commit: 0, reckoning: null } : body,
});

/** Every answer that differs from a newly started server's, asked at the same moment. */
async function answersThatDiffer(fresh: Kit): Promise<string[]> {
  const at = kit.clock.at.getTime();
  const differing: string[] = [];
  for (const [i, path] of (await pathsOfEveryLook(kit, routes, 2)).entries()) {
    kit.clock.at = fresh.clock.at = new Date(at + i * 10);
    const [mine, theirs] = [await kit.call('GET', path), await fresh.call('GET', path)];
    if (!isDeepStrictEqual(shown(mine), shown(theirs))) differing.push(path);
  }
  return differing;
}

async function requireSame(after: string): Promise<void> {
  const fresh = await newlyStarted(kit);
  try {
    expect({ after, parts: partsThatDiffer(fresh), answers: await answersThatDiffer(fresh) }).toEqual({
      after,
      parts: [],
      answers: [],
    });
  } finally {
    await fresh.close();
  }
}

describe('a commit in the middle of an answer', () => {
  it(
    'is seen whole or not at all, in every room',
    async () => {
      const { read } = kit.database;
      const make = read.createQueryRunner.bind(read);
      // Wherever an answer lets go of the file, others get their turn: an act is committed there.
      let meanwhile: (() => Promise<unknown>) | undefined;
      read.createQueryRunner = (...of) => {
        const runner = make(...of);
        const query = runner.query.bind(runner) as (...asked: unknown[]) => Promise<unknown>;
        return Object.assign(runner, {
          query: async (...asked: unknown[]) => {
            const act = meanwhile;
            meanwhile = undefined;
            const found = await query(...asked);
            await act?.();
            return found;
          },
        });
      };
      const act = async () => {
        for (const name of ['filled', 'readWater', 'countWater'])
          expect(await carryOut(name, [(turn += 1), 0, 2, 1, turn, 3])).toBe(true);
      };
      let turn = 0;
      const at = kit.clock.at.getTime() + 3_600_000;
      const halves: string[] = [];
      const look = async (path: string) => {
        kit.clock.at = new Date(at);
        return shown(await kit.call('GET', path));
      };
      try {
        for (const path of await pathsOfEveryLook(kit, routes, 2)) {
          const before = await look(path);
          meanwhile = act;
          const answer = await look(path);
          meanwhile = undefined;
          if (!isDeepStrictEqual(answer, before) && !isDeepStrictEqual(answer, await look(path))) halves.push(path);
        }
      } finally {
        read.createQueryRunner = make;
        // Past all that was done here.
        kit.clock.at = new Date(at + 3_600_000);
      }
      expect(halves).toEqual([]);
    },
    PATIENCE_MS,
  );
});

describe('a server says what one newly started on a copy says', () => {
  it(
    'after each kind of act',
    async () => {
      // What is advised before it is acted on, and three batches on their way, so that each step finds one.
      const first =
        'answerAdvice startBatch base portion leave ph correction pour startBatch base portion leave ph correction pour startBatch base portion reading thin abandon'.split(
          ' ',
        );
      const all = [...first, ...names.filter((n) => !first.includes(n))];
      // A few acts of unlike kinds between two looks: another server's start learns everything anew.
      for (let at = 0; at < all.length; at += ACTS_A_LOOK) {
        const some = all.slice(at, at + ACTS_A_LOOK);
        for (const name of some) {
          let done = false;
          for (const picks of WAYS) done ||= await carryOut(name, picks);
          expect(done, `${name} was never carried out`).toBe(true);
          // What this server knows is carried on from act to act.
          collectionOf(kit.database.read.manager);
        }
        await requireSame(some.join(', '));
      }
    },
    PATIENCE_MS,
  );

  it(
    'after acts in any order, with undos, undos of undos and corrections',
    async () => {
      await fc.assert(
        fc.asyncProperty(fc.array(step, { minLength: 6, maxLength: 16 }), async (steps) => {
          for (const { name, picks } of steps) {
            await carryOut(name, picks);
            collectionOf(kit.database.read.manager);
          }
          await requireSame(steps.map(({ name }) => name).join(', '));
        }),
        // The collection grows from run to run: a shorter run of the same acts is another case.
        { numRuns: 10, endOnFailure: true },
      );
    },
    PATIENCE_MS,
  );
});
