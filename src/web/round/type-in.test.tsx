import { screen, waitFor } from '@testing-library/react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { openPage, refusal } from '../../../tests/component-page.tsx';
import { A_MIX, NO_ROUND, NOTHING_SPECIAL, TODAY } from '../../../tests/round-fixtures.ts';
import type { RoundAct, RoundPot, RoundView } from '../../contract/round.ts';
import { PrintRoundPage } from './print-page.tsx';
import { TypeInPage } from './type-in-page.tsx';
import { actsOf, BLANK_LINE, onSheet } from './type-in.ts';

const pot = (code: string, more: Partial<RoundPot> = {}): RoundPot => ({
  id: `id-${code}`,
  code,
  name: 'Hoya',
  place: 'East sill',
  clay: 'batch 1',
  reservoirMl: 260,
  fillMl: 250,
  flushMl: 400,
  flush: {
    stages: [{ waterId: 'tap', water: 'Kitchen tap', ml: 400 }],
    runOffPpm: 60,
    afterPpm: 90,
    habitMl: 780,
    why: 'until its salts run off',
    by: null,
  },
  due: { dueOn: TODAY, status: 'due', daysLate: 0, pastLimit: 0, words: 'due' },
  done: null,
  mixKey: 'mix',
  ...NOTHING_SPECIAL,
  drawing: {
    level: 0.3,
    levelIsGuess: false,
    ratio: 1.2,
    ph: 6.4,
    phLow: 5.5,
    phHigh: 6.5,
    salts: 0,
    stage: 'growth',
    form: 'clay',
  },
  expected: { ppm: 140, ph: 6.6, leftMl: 60, atLarge: false },
  note: null,
  lastPouredPpm: 104,
  read: null,
  ...more,
});
const soak: RoundPot['soak'] = {
  mixKey: 'soak',
  what: 'magnesium',
  way: 'soak',
  words: 'Magnesium soak, 100 over',
  holdMinutes: 30,
  pouredMl: 680,
  given: false,
  dryFirst: false,
};
const pots = [
  pot('R-01'),
  pot('R-02', { soak, keepDry: 'keep the crown dry' }),
  pot('R-03', { due: { dueOn: '2026-11-27', status: 'soon', daysLate: -2, pastLimit: 0, words: 'in 2 d' } }),
];
const view: RoundView = {
  ...NO_ROUND,
  due: 2,
  minutes: 75,
  still: { litres: 14.2, needL: 0.7, waits: [] },
  mixes: [
    { ...A_MIX, litresToMix: 0.6 },
    {
      ...A_MIX,
      key: 'soak',
      letter: 'B',
      name: 'Magnesium soak, 100 over',
      use: 'soak',
      holdMinutes: 30,
      parts: [{ kind: 'magnesium', aim: { kind: 'net', ppm: 100 } }],
      potsLeft: 1,
      litresToMix: 0.8,
    },
  ],
  places: [{ id: 'e', name: 'East sill', note: 'bright', pots }],
  ppmMeter: { id: 'm', name: 'Blue pen', simulated: false },
};
afterEach(() => vi.unstubAllGlobals());

describe('the round on paper', () => {
  it('says what to draw, how each mix is made, and what each pot takes, with boxes to write in', async () => {
    const { container } = { container: document.body };
    openPage(<PrintRoundPage />, { '/api/round': view });
    expect(await screen.findByRole('heading', { name: 'Wednesday’s round' })).toBeInTheDocument();
    expect(screen.getByText(/25 Nov · 2 pots, about 1 h 15 min, before noon/)).toBeInTheDocument();
    expect(screen.getByRole('region', { name: 'Draw first' })).toHaveTextContent(
      /1\.4.L to mix with.*0\.8.L kitchen tap to flush/,
    );
    expect(screen.getByRole('region', { name: 'Mixes' })).toHaveTextContent(/Epsom salt to 100 over the water/);
    expect(screen.queryByText(/R-03/)).not.toBeInTheDocument();
    const row = screen.getByText('R-02 Hoya').closest('tr');
    expect(row).toHaveTextContent(/400.mL kitchen tapafter the soak680.mLthen A 250.mLKeep the crown dryin at out at/);
    expect(container.querySelectorAll('.box')).toHaveLength(4);
  });
});

describe('typing it in', () => {
  it('a line is one filling, with its soak before it where it had one', () => {
    expect(onSheet(view).map((p) => p.code)).toEqual(['R-01', 'R-02']);
    const typed = actsOf({ ...BLANK_LINE, done: true, ppm: '214', left: '60', crust: true }, pots[1]!, view);
    const acts = typed.ok ? typed.acts : [];
    expect(acts).toMatchObject([
      { kind: 'supplement', what: 'magnesium', way: 'soak', pouredMl: 680, batchId: null },
      {
        kind: 'filled',
        oldReservoir: { ppm: { kind: 'value', value: 214 }, ph: { kind: 'notMeasured' }, leftMl: 60 },
        flushWith: [{ waterId: 'tap', ml: 400 }],
        look: { cues: { crust: 'some' } },
      },
    ]);
    const without = actsOf({ ...BLANK_LINE, soaked: false }, pots[1]!, view);
    expect(without.ok && without.acts.map((a) => a.kind)).toEqual(['filled']);
    expect(actsOf({ ...BLANK_LINE, ppm: 'wet' }, pots[0]!, view)).toMatchObject({
      ok: false,
      errors: { ppm: expect.stringContaining('such as 104') as unknown },
    });
  });
  it('what is written ticks its pot; Enter goes from box to box; a line that is refused keeps the others not back', async () => {
    const { user, asked, stand } = openPage(<TypeInPage />, { '/api/round': view });
    const ppm = await screen.findByLabelText('R-01, old ppm');
    await user.type(ppm, '214{Enter}6.9');
    expect(screen.getByLabelText('R-01, old pH')).toHaveValue('6.9');
    expect(screen.getByLabelText('R-01 done')).toBeChecked();
    await user.click(screen.getByLabelText('R-02 done'));
    let sent = 0;
    stand.answer = () =>
      ++sent === 1
        ? refusal([], 'That mix is not ready to pour: finish it at the bench first.')
        : Response.json({ eventId: 'e', at: `${TODAY}T09:30:00Z`, repeated: false });
    await user.click(screen.getByRole('button', { name: 'Log 2 pots' }));
    await waitFor(() => expect(screen.getByRole('status')).toHaveTextContent('1 pot logged, 1 still to look at.'));
    expect(screen.getByRole('alert')).toHaveTextContent('finish it at the bench first');
    expect(asked.map((a) => (a.body as RoundAct).kind)).toEqual(['filled', 'supplement', 'drained', 'filled']);
    expect(screen.getByLabelText('R-01, old ppm')).toHaveValue('214');
  });
  it('with nothing left to do it says so', async () => {
    openPage(<TypeInPage />, { '/api/round': { ...view, places: [] } });
    expect(await screen.findByText('Nothing to type in')).toBeInTheDocument();
  });
});
