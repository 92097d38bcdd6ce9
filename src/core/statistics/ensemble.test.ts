import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { conditioned, observe, spreadOf, standardCrowd } from './index.ts';

const column = ({ members, columns, at }: ReturnType<typeof standardCrowd>, c: number) =>
  Float64Array.from({ length: members }, (_, m) => at[m * columns + c]!);

describe('a crowd', () => {
  it('begins with a mean of nought and a spread of one in every column, the same each time', () => {
    const crowd = standardCrowd(64, 5, 3);
    for (let c = 0; c < 5; c++) {
      expect(spreadOf(column(crowd, c)).mean).toBeCloseTo(0, 12);
      expect(spreadOf(column(crowd, c)).sd).toBeCloseTo(1, 12);
    }
    expect(standardCrowd(64, 5, 3).at).toEqual(crowd.at);
  });
  it('conditioned on a linear reading has the mean and the spread of the Kalman update (closed form)', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -3, max: 3, noNaN: true }),
        fc.double({ min: 0.05, max: 2, noNaN: true }),
        (read, sd) => {
          const crowd = standardCrowd(64, 2, 8);
          const [a, b] = [column(crowd, 0), column(crowd, 1)];
          const covariance = a.reduce((sum, v, m) => sum + v * b[m]!, 0) / 64;
          const before = {
            mean: [0, 0],
            covariance: [
              [1, covariance],
              [covariance, 1],
            ],
          };
          const { state } = observe(before, [1, 0.5], read, sd * sd);
          conditioned(
            [crowd],
            a.map((v, m) => v + 0.5 * b[m]!),
            read,
            sd * sd,
          );
          for (const c of [0, 1]) {
            const now = spreadOf(column(crowd, c));
            expect(now.mean).toBeCloseTo(state.mean[c]!, 9);
            expect(now.sd).toBeCloseTo(Math.sqrt(state.covariance[c]![c]!), 9);
          }
        },
      ),
    );
  });
  it('learns nothing from what all its members foretell alike', () => {
    const crowd = standardCrowd(16, 2, 1);
    const before = Float64Array.from(crowd.at);
    conditioned([crowd], new Float64Array(16).fill(3), 9, 0.1);
    expect(crowd.at).toEqual(before);
  });
});
