import { describe, expect, it } from 'vitest';
import { normal, seededRandom } from '../../src/core/statistics/index.ts';
import { valueOfReading } from '../../src/core/what-to-read/index.ts';

describe('value of a reading where one of two things is done', () => {
  // Unit normal loss integral: tables in Raiffa & Schlaifer, Applied Statistical Decision Theory (1961), and Schlaifer (1959), Table IV.
  it.each([
    [0, 0.3989],
    [0.5, 0.1978],
    [1, 0.0833],
    [1.5, 0.0293],
    [2, 0.0085],
  ])('exact knowledge %s SD from the limit is worth %s SD', (u, loss) => {
    expect(valueOfReading({ mean: u, sd: 1 }, 0, 0, 1)).toBeCloseTo(loss, 4);
    expect(valueOfReading({ mean: -u, sd: 1 }, 0, 0, 1)).toBeCloseTo(loss, 4);
  });
  it('comes out as decisions do that are lived: drawn, read, decided, paid', () => {
    const random = seededRandom(20260101);
    const [mean, sd, noise, limit, costs] = [6.7, 0.25, 0.15, 6.9, 3];
    let gained = 0;
    const lives = 200_000;
    for (let i = 0; i < lives; i++) {
      const stands = mean + sd * normal(random);
      const read = stands + noise * normal(random);
      const believed = mean + (sd ** 2 / (sd ** 2 + noise ** 2)) * (read - mean);
      // Acting pays what it stands past the limit, and costs that where it stands short of it.
      const pays = costs * (stands - limit);
      gained += (believed > limit ? pays : 0) - (mean > limit ? pays : 0);
    }
    expect(gained / lives).toBeCloseTo(valueOfReading({ mean, sd }, noise, limit, costs), 2);
  });
});
