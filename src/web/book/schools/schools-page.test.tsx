import { screen, within } from '@testing-library/react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { ArmCompared, RegimenCompared, RegimensCompared } from '../../../contract/regimens-compared.ts';
import { openPage } from '../../../../tests/component-page.tsx';
import { SchoolsPage } from '../index.ts';

const id = (n: number) => `00000000-0000-4000-8000-0000000000${String(n).padStart(2, '0')}`;
const regimen = (n: number, more: Partial<RegimenCompared> = {}): RegimenCompared => ({
  id: id(n),
  name: `Regimen ${n}`,
  school: 'constantDilute',
  pots: 4,
  left: 0,
  inTrial: 0,
  differs: n === 1 ? null : ['fortnightly, not weekly'],
  unlike: [],
  ...more,
});
const arm = (n: number, values: readonly number[], against: ArmCompared['against']): ArmCompared => ({
  regimenId: id(n),
  mean: values.length === 0 ? null : values.reduce((a, b) => a + b) / values.length,
  pots: values.map((value, i) => ({ id: id(10 * n + i), code: `R-0${i}`, value })),
  against,
});
const view = (more: Partial<RegimensCompared> = {}): RegimensCompared => ({
  today: '2026-11-25',
  from: '2026-09-02',
  weeks: 12,
  against: id(1),
  regimens: [regimen(1), regimen(2)],
  measures: [
    { key: 'onTime', arms: [arm(1, [1, 1, 0.8, 1], null), arm(2, [1, 1, 1], 'same')] },
    {
      key: 'gap',
      arms: [
        arm(1, [20, 30, 40, 50], null),
        arm(2, [60, 70, 80], { mean: 35, low: 12, high: 58, by: 'place', sets: 1, pots: [3, 4] }),
      ],
    },
    {
      key: 'ph',
      arms: [
        arm(1, [6, 6.2, 6.1, 6.4], null),
        arm(2, [6.1, 6.3, 6.6], { mean: 0.2, low: -0.2, high: 0.6, by: 'place', sets: 1, pots: [3, 3] }),
      ],
    },
    { key: 'dry', arms: [arm(1, [0, 0, 0.5, 0], null), arm(2, [], 'nothing')] },
  ],
  ...more,
});
const open = (body: RegimensCompared) =>
  openPage(<SchoolsPage />, { '/api/book/schools?weeks=12': body }, '/book/schools');
afterEach(() => vi.unstubAllGlobals());

describe('regimens side by side', () => {
  it('say of each measure no more than its range', async () => {
    open(view());
    const row = (await screen.findByRole('rowheader', { name: /Regimen 2/ })).closest('tr')!;
    expect(row).toHaveTextContent(/3 of them set against 4 of the same place, plants of any kind/);
    const [onTime, gap, ph, dry] = within(row).getAllByRole('cell');
    expect(onTime).toHaveTextContent(/100.*pots of each regimen alike$/);
    expect(gap).toHaveTextContent(/70.*ppm.*more salt gathering35 \(12 to 58\).ppm$/);
    expect(ph).toHaveTextContent(/no difference to be seen0\.2 \(−0\.2 to 0\.6\), of 3 and 3$/);
    expect(dry).toHaveTextContent('not read');
    expect(screen.getByRole('img', { name: 'R-00 60, R-01 70, R-02 80' })).toBeInTheDocument();
  });
  it('say what a difference may come from, who is not in it, and where a trial begins', async () => {
    const unlike: RegimenCompared['unlike'] = [
      { of: 'place', what: 'Cool porch', some: [3, 4], others: [0, 4] },
      { of: 'light', what: 'medium', some: [4, 4], others: [1, 4] },
      { of: 'reservoirMl', values: [300, 180] },
      { of: 'monthsInClay', values: [3.2, 14] },
      { of: 'clay', what: 'batch 2', some: [3, 4], others: [0, 4] },
      { of: 'plant', what: 'Hoya', some: [2, 4], others: [0, 4] },
    ];
    open(view({ regimens: [regimen(1), regimen(2, { unlike, left: 1, inTrial: 2 })] }));
    const why = await screen.findByRole('region', { name: 'What a difference may come from' });
    expect(why).toHaveTextContent(/fortnightly, not weekly/);
    expect(why).toHaveTextContent(
      /Cool porch: 3 of 4, not none; medium light: all, not 1 of 4; reservoirs of 300.mL, not 180.mL; 3 months in their clay, not 14; clay of batch 2: 3 of 4, not none; Hoya: 2 of 4, not none/,
    );
    expect(why).toHaveTextContent(/2 more are in a trial and left out; 1 left the collection/);
    const link = within(why).getByRole('link', { name: 'Try Regimen 2 on half of the pots of Regimen 1' });
    expect(link).toHaveAttribute('href', `/book/trials/new?regimen=${id(2)}&pots=${[10, 11, 12, 13].map(id).join()}`);
  });
  it('with one regimen there is nothing beside it', async () => {
    open(view({ against: null, regimens: [regimen(1)], measures: [] }));
    expect(await screen.findByText('All your pots follow one regimen')).toBeInTheDocument();
  });
  it('of pots that share no place nothing is set against the others', async () => {
    const measures = view().measures.map(({ key, arms }) => ({
      key,
      arms: [arms[0]!, { ...arms[1]!, against: 'nothing' as const }],
    }));
    open(view({ measures }));
    expect(await screen.findByText(/Too few of its pots share a place with pots of Regimen 1/)).toBeInTheDocument();
    expect(screen.queryByText('no pots to set them against')).toBeNull();
  });
});
