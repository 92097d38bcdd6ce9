import { screen, within } from '@testing-library/react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { AdviceRoom, PenAdvice, UnsteadyView } from '../../contract/advice.ts';
import { CUES, type Cue } from '../../contract/seen.ts';
import { GUIDES } from '../../core/judgement/index.ts';
import { openPage } from '../../../tests/component-page.tsx';
import { AdvicePage, CheckPage } from './index.ts';

const pot = { pot: { code: 'R-07', name: 'Coelogyne' } };
const check: UnsteadyView = {
  today: '2026-11-25',
  code: 'R-07',
  name: 'Coelogyne',
  steps: [
    {
      id: 'ph',
      title: 'Its pH',
      verdict: 'cleared',
      seen: '5 old reservoirs stood between 5.9 and 6.4.',
      ask: 'Outside?',
      then: 'Pour lower.',
    },
    {
      id: 'lost',
      title: 'Water lost',
      verdict: 'ask',
      seen: 'What was left was hardly noted.',
      ask: 'Was much less left?',
      then: 'It thickens. Come sooner.',
    },
    {
      id: 'pen',
      title: 'The pen',
      verdict: 'found',
      seen: 'Its readings are of 2 pens.',
      ask: 'Off?',
      then: 'Calibrate it.',
    },
  ],
};
const open = (what: string) =>
  openPage(
    <CheckPage />,
    { '/api/pots/p7': pot, '/api/advice/pots/p7/unsteady': check },
    `/pots/p7/check?what=${what}`,
    '/pots/:potId/check',
  );
afterEach(() => vi.unstubAllGlobals());

describe('what looks alike', () => {
  it('is asked one question at a time, by key or by tap, and noted in a look', async () => {
    const { user, asked } = open('saltOrMould');
    expect(await screen.findByText('Is the white on an air root, fine as velvet?')).toBeInTheDocument();
    await user.click(screen.getByRole('button', { name: /^No/ }));
    await user.keyboard('y');
    expect(screen.getByRole('list', { name: 'Answered' })).toHaveTextContent('Is it hard, like scale or sugar? Yes');
    await user.click(screen.getByRole('button', { name: /One back/ }));
    await user.keyboard('nyy');
    // The second answer after "no" ends it: what is typed past the end does nothing.
    expect(screen.getByRole('heading', { name: 'Mould' })).toBeInTheDocument();
    await user.click(screen.getByRole('button', { name: 'Note it: mould fuzzy' }));
    expect(asked.at(-1)!.body).toMatchObject({ kind: 'looked', potId: 'p7', look: { cues: { mould: 'fuzzy' } } });
    expect(await screen.findByRole('button', { name: 'Noted: mould fuzzy' })).toBeDisabled();
  });
  it('what is noted is a cue there is', () => {
    for (const { ends } of GUIDES)
      for (const { cue } of Object.values(ends))
        if (cue) expect(Object.keys(CUES[cue.cue as Cue].grades)).toContain(cue.grade);
  });
});

describe('the unsteady reservoir', () => {
  it('says what its log clears, asks the rest, and puts what is found on the list', async () => {
    const { user, asked } = open('unsteady');
    expect(await screen.findByText('Most likely: the pen.')).toBeInTheDocument();
    const lost = screen.getByRole('heading', { name: /Water lost/ }).closest('li')!;
    await user.click(within(lost).getByRole('button', { name: 'Yes' }));
    expect(screen.getByText('Most likely: water lost.')).toBeInTheDocument();
    await user.click(within(lost).getByRole('button', { name: 'Put it on the list' }));
    expect(asked.at(-1)).toMatchObject({
      url: expect.stringContaining('/api/shell/plans/acts/') as string,
      body: { kind: 'plan', words: 'Water lost: It thickens' },
    });
    await user.click(within(lost).getByRole('button', { name: 'No' }));
    expect(screen.getByText('Most likely: the pen.')).toBeInTheDocument();
  });
});

describe('a pen that is off', () => {
  const pen: PenAdvice = {
    meterId: 'm1',
    name: 'Yellow pen',
    what: 'pH',
    title: 'Check the Yellow pen: it may read 0.3 pH low',
    because: 'Read on 12 pots.',
    then: 'The standard tells.',
    sureWords: 'fairly sure, 12 readings',
    rounds: [
      { on: '2026-11-18', readings: 12, off: 0.02 },
      { on: '2026-11-25', readings: 12, off: -0.3 },
    ],
    evidenceKey: 'k',
  };
  it('stands above the pots, round by round, and is taken up or declined', async () => {
    const room: AdviceRoom = { today: '2026-11-25', pens: [pen], pots: [] };
    const { user, asked } = openPage(<AdvicePage />, { '/api/advice': room });
    const card = await screen.findByRole('article', { name: pen.title });
    expect(
      within(card)
        .getAllByRole('listitem')
        .map((li) => li.textContent),
    ).toEqual(['18 Nov: +0.02 pH on 12 pots', '25 Nov: −0.30 pH on 12 pots']);
    expect(within(card).getByRole('link', { name: 'To the pen' })).toHaveAttribute('href', '/shelf?thing=meter:m1');
    await user.click(within(card).getByRole('button', { name: 'Put it on the list' }));
    expect(asked.at(-1)!.body).toMatchObject({ kind: 'accept', meterId: 'm1', evidenceKey: 'k' });
    await user.click(within(card).getByRole('button', { name: 'Not now' }));
    expect(asked.at(-1)!.body).toMatchObject({ kind: 'decline' });
  });
});
