import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { BatchEntry, Collection } from '../collection/index.ts';
import { batchAndLeft } from './mix-batch.ts';

const TODAY = '2026-12-02';
type Made = {
  id: string;
  on?: string;
  litres: number;
  drawnMl?: number;
  status?: 'open' | 'poured';
  emptied?: boolean;
};

/** Batches of one mix, oldest first, as the collection holds them. */
function collectionOf(made: readonly Made[]): Collection {
  const batches = new Map(
    made.map(({ id, on = TODAY, litres, status = 'poured', emptied = false }, n) => {
      const startedAt = `${on}T0${n}:00:00.000Z`;
      const row = { id, status, emptied, mixKey: 'k', startedOn: on, startedAt, pouredAt: startedAt };
      const poured = { pouredVolumeL: status === 'poured' ? litres : null, pouredEcUsCm: 200, pouredPh: null };
      return [id, { row: { ...row, ...poured } } as unknown as BatchEntry];
    }),
  );
  const drawn = new Map(made.map(({ id, drawnMl = 0 }) => [id, drawnMl]));
  return { batches, drawn, settings: { zone: 'UTC' } } as unknown as Collection;
}
const stands = (made: readonly Made[], poursMl: readonly number[]) => {
  const { batch, litresToMix } = batchAndLeft(collectionOf(made), 'k', poursMl, TODAY, (ec) => ec / 2);
  return { id: batch?.id, litresToMix };
};

describe('what stands ready for a mix', () => {
  it('nothing: all of it is to be made, with some spare', () => {
    expect(stands([], [250, 250])).toEqual({ id: undefined, litresToMix: 0.6 });
  });
  it('a rest of last week that reaches no pot is not counted: a pot is not filled from two', () => {
    const rest = { id: 'old', on: '2026-11-25', litres: 0.4, drawnMl: 250 };
    expect(stands([rest], [250])).toEqual({ id: undefined, litresToMix: 0.4 });
    expect(stands([{ ...rest, drawnMl: 100 }], [250])).toEqual({ id: 'old', litresToMix: 0 });
  });
  it('of two goes the first is poured first, and both count', () => {
    const goes = [
      { id: 'first', litres: 10 },
      { id: 'second', litres: 10 },
    ];
    const forty = Array.from({ length: 40 }, () => 450);
    expect(stands(goes, forty)).toEqual({ id: 'first', litresToMix: 0 });
    expect(stands(goes.slice(0, 1), forty)).toMatchObject({ id: 'first', litresToMix: expect.closeTo(8.4, 0) });
    expect(stands([{ ...goes[0]!, drawnMl: 10_400 }, goes[1]!], forty.slice(23))).toEqual({
      id: 'second',
      litresToMix: 0,
    });
  });
  it('what was made today is told when all is done, and when it is used up', () => {
    expect(stands([{ id: 'a', litres: 1, drawnMl: 1000 }], [])).toEqual({ id: 'a', litresToMix: 0 });
    expect(stands([{ id: 'a', litres: 1, drawnMl: 1000 }], [250])).toMatchObject({ id: 'a', litresToMix: 0.4 });
  });
  it('used up in a large bucket, the grace of the eye fills no more pots', () => {
    expect(stands([{ id: 'a', litres: 10, drawnMl: 10_000 }], [250])).toMatchObject({ id: 'a', litresToMix: 0.4 });
    // The last pot may take a little more than is left, those after it may not.
    expect(stands([{ id: 'a', litres: 10, drawnMl: 9_900 }], [250, 250])).toMatchObject({ id: 'a', litresToMix: 0.4 });
  });
  it('whatever stands there: made as it says, every pot is filled from one batch', () => {
    const some = fc.array(
      fc.record({
        litres: fc.double({ min: 0.1, max: 5, noNaN: true }),
        drawn: fc.double({ min: 0, max: 1, noNaN: true }),
      }),
      { maxLength: 4 },
    );
    fc.assert(
      fc.property(some, fc.array(fc.integer({ min: 50, max: 900 }), { minLength: 1, maxLength: 12 }), (list, pours) => {
        const made: Made[] = list.map(({ litres, drawn }, n) => ({
          id: `b${n}`,
          litres,
          drawnMl: 1000 * litres * drawn,
        }));
        const toDo = [...pours];
        for (let guard = 0; toDo.length > 0; guard++) {
          expect(guard).toBeLessThan(40);
          const { batch, litresToMix } = batchAndLeft(collectionOf(made), 'k', toDo, TODAY, (ec) => ec);
          const next = batch ? toDo.findIndex((ml) => ml <= batch.pourableMl) : -1;
          if (batch && batch.leftMl > 0 && next >= 0)
            made.find((m) => m.id === batch.id)!.drawnMl! += toDo.splice(next, 1)[0]!;
          else {
            expect(litresToMix).toBeGreaterThan(0);
            made.push({ id: `m${guard}`, litres: litresToMix, drawnMl: 0 });
          }
        }
      }),
      { numRuns: 60 },
    );
  });
});
