import { describe, expect, it } from 'vitest';
import { lightSteps } from './index.ts';

describe('coming to stronger light', () => {
  it('goes by steps over a week or two, longer outdoors', () => {
    expect(lightSteps('low', 'bright', '2026-05-01').map((s) => s.on)).toEqual([
      '2026-05-01',
      '2026-05-05',
      '2026-05-09',
      '2026-05-13',
    ]);
    expect(
      lightSteps('bright', 'outdoors', '2026-05-01')
        .map((s) => s.on)
        .at(-1),
    ).toBe('2026-05-17');
  });
  it.each([
    ['bright', 'low'],
    ['bright', 'bright'],
    ['medium', 'lamps'],
    [null, 'bright'],
    ['low', null],
  ])('from %s to %s needs none', (from, to) => expect(lightSteps(from, to, '2026-05-01')).toEqual([]));
});
