import { expect, it } from 'vitest';
import { saidOf, seriesOf } from './growth-card.tsx';

const on = (...days: string[]) => days.map((day, i) => ({ on: day, value: i }));

it('a row of figures comes to how fast it grew, how long it flowered, or its day', () => {
  const leaf = [
    { on: '2026-10-01', value: 10 },
    { on: '2026-10-31', value: 11.5 },
  ];
  expect(saidOf('leafCm', leaf, '2026-11-25')).toBe('+1.5 a month');
  expect(saidOf('leafCm', leaf.slice(0, 1), '2026-11-25')).toBe('on 1 Oct');
  expect(saidOf('leafCm', [leaf[1]!, { on: '2026-11-20', value: 9 }], '2026-11-25')).toBe('on 20 Nov');
  expect(saidOf('flowers', on('2026-10-01', '2026-11-01'), '2026-11-25')).toBe('in flower since 1 Nov');
  expect(saidOf('flowers', [...on('2026-10-01', '2026-11-01'), { on: '2026-11-21', value: 0 }], '2026-11-25')).toBe(
    'in flower 20 days',
  );
  expect(saidOf('spikes', on('2026-10-01', '2026-11-01'), '2026-11-25')).toBe('on 1 Nov');
});

it('what was not measured is no figure of nought', () =>
  expect(
    seriesOf(
      [
        { eventId: 'a', on: '2026-10-01', figures: { leaves: 0 }, photoId: null },
        { eventId: 'b', on: '2026-11-01', figures: { leafCm: 3 }, photoId: null },
      ],
      'leaves',
    ),
  ).toEqual([{ on: '2026-10-01', value: 0 }]));
