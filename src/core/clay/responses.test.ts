import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { playLeach, type LeachAct, type LeachHistory } from './history.ts';
import { responses } from './responses.ts';
import { shapeOf } from './shapes.ts';

const some = (min: number, max: number) => fc.double({ min, max, noNaN: true });
const act = fc.oneof(
  fc.record({ kind: fc.constant('reading' as const), wait: some(0, 80), netPpm: some(0, 300) }),
  fc.record({
    kind: fc.constant('change' as const),
    wait: some(0.1, 80),
    freshL: some(1, 12),
    pouredOffL: fc.option(some(0, 9), { nil: undefined }),
  }),
  fc.record({ kind: fc.constant('fed' as const), wait: some(0, 80), netPpm: some(0, 200) }),
);
const histories: fc.Arbitrary<LeachHistory> = fc
  .tuple(fc.array(act, { minLength: 1, maxLength: 9 }), fc.option(some(0, 150), { nil: undefined }))
  .map(([acts, fedNetPpm]) => {
    let atHours = 0;
    const timed = acts.map(({ wait, ...rest }): LeachAct => ({ ...rest, atHours: (atHours += wait) }));
    return { clayL: 10, firstL: 9, acts: timed, ...(fedNetPpm === undefined ? {} : { fedNetPpm }) };
  });

describe('what each amount makes of a reading', () => {
  it('adds up to the bath played with all of them, whatever was done to it', () => {
    fc.assert(
      fc.property(
        fc.array(some(-2.5, 2.5), { minLength: 12, maxLength: 12 }),
        histories,
        some(0, 1200),
        some(0, 100),
        some(0, 150),
        (z, history, porePpm, dust, source) => {
          const shape = shapeOf(z);
          const { expected } = playLeach({ ...shape, porePpm, dust, source }, history);
          const rows = responses(shape, history);
          expect(rows).toHaveLength(expected.length);
          for (const [i, row] of rows.entries())
            expect(row[0]! * porePpm + row[1]! * dust + row[2]! * source + row[3]!).toBeCloseTo(expected[i]!, 6);
        },
      ),
      { numRuns: 60 },
    );
  });
});
