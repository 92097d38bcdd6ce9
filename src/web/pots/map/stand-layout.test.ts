import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { NOTHING_READ } from '../pots-fixtures.ts';
import type { PlacedPot } from '../pot-filters.ts';
import { isRead, layOut, leastCovered, nextTo, scalesOf } from './stand-layout.ts';

const frame = { left: 34, right: 612, top: 14, bottom: 250 };
const pot = (id: string, ratio: number | null, ph: number, trouble = 0): PlacedPot =>
  ({
    id,
    code: id,
    stand: {
      ...NOTHING_READ.stand,
      ran: ratio === null ? null : { ratio, pouredPpm: 100, cameOutPpm: 100 * ratio, on: '2026-11-18' },
      phs: [{ on: '2026-11-18', ph }],
      trouble,
    },
  }) as unknown as PlacedPot;

describe('the map', () => {
  it('shows what was read, leaves out what was not, and stands the same way every time', () => {
    const pots = [pot('a', 1, 6), pot('b', null, 6), pot('c', 1, 6), pot('d', 2.2, 7.6, 8)];
    expect(pots.map(isRead)).toEqual([true, false, true, true]);
    const once = layOut(pots, frame, 8);
    expect(once.map((s) => [s.pot.id, s.named])).toEqual([
      ['a', false],
      ['c', false],
      ['d', true],
    ]);
    expect(layOut(pots, frame, 8)).toEqual(once);
  });
  it('pots that stand on one spot are nudged apart, stay near it, and stay inside', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.double({ min: 0.2, max: 5, noNaN: true }), fc.double({ min: 3, max: 10, noNaN: true })), {
          minLength: 1,
          maxLength: 20,
        }),
        (list) => {
          for (const s of layOut(
            list.map(([ratio, ph], i) => pot(`p${i}`, ratio, ph)),
            frame,
            8,
          )) {
            expect(s.x).toBeGreaterThanOrEqual(frame.left);
            expect(s.x).toBeLessThanOrEqual(frame.right);
            expect(s.y).toBeGreaterThanOrEqual(frame.top);
            expect(s.y).toBeLessThanOrEqual(frame.bottom);
          }
        },
      ),
      { numRuns: 25 },
    );
    const [a, b] = layOut([pot('a', 1, 6), pot('b', 1, 6)], frame, 8);
    const apart = Math.hypot(a!.x - b!.x, a!.y - b!.y);
    expect(apart).toBeGreaterThan(14);
    const { x, y } = scalesOf(frame);
    expect(Math.hypot(a!.x - x(1), a!.y - y(6))).toBeLessThan(20);
  });
  it('a name goes where it covers least, and nowhere where each place would cover too much', () => {
    const taken = [{ x: 100, y: 100, w: 50, h: 50 }];
    const places = [
      { x: 110, y: 110, w: 30, h: 20 },
      { x: 200, y: 110, w: 30, h: 20 },
    ];
    expect(leastCovered(places, taken, frame, 60)).toBe(1);
    expect(leastCovered(places.slice(0, 1), taken, frame, 60)).toBeUndefined();
    expect(leastCovered([{ x: 600, y: 110, w: 60, h: 20 }], [], frame, 60)).toBeUndefined();
  });
  it('arrow keys go to the nearest pot that way', () => {
    const at = (id: string, x: number, y: number) => ({ pot: pot(id, 1, 6), x, y, named: false });
    const all = [at('a', 100, 100), at('b', 150, 104), at('c', 120, 160), at('d', 400, 100)];
    expect(nextTo(all[0]!, all, 1, 0)?.pot.id).toBe('b');
    expect(nextTo(all[0]!, all, 0, 1)?.pot.id).toBe('c');
    expect(nextTo(all[0]!, all, -1, 0)).toBeUndefined();
  });
});
