import { expect, it } from 'vitest';
import { killBursts } from '../load/kill.ts';

it('kill −9 in the middle of writing loses nothing that was acknowledged (six bursts of the load script)', async () => {
  const report = await killBursts(6);
  expect(report).toMatchObject({ lost: [], twice: [], integrity: 'ok' });
  expect(report.acknowledged).toBeGreaterThan(50);
  expect(report.killedMidWrite).toBeGreaterThan(0);
});
