import { screen, within } from '@testing-library/react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { openPage } from '../../../tests/component-page.tsx';
import type { AdviceRoom, AdviceView, PotAdvice, RulesView } from '../../contract/advice.ts';
import { AdviceCards } from './advice-cards.tsx';
import { AdvicePage } from './advice-page.tsx';
import { GivenCard } from './given-card.tsx';
import { RulesPage } from './rules-page.tsx';

const salts: AdviceView = {
  rule: 'salts',
  matter: 'salt',
  title: 'Flush with 1.1 L, not 600 mL',
  because: 'The gap grew.',
  then: 'I expect 131 after this.',
  doWords: 'Flush with 1.1 L',
  act: 'plan',
  sureWords: 'fairly sure, 2 notes',
  evidence: [
    { on: '2026-11-09', words: 'came out 176 of 104', eventId: null, tainted: false },
    { on: '2026-11-16', words: 'came out 218 of 104', eventId: null, tainted: true },
  ],
  figures: [
    { label: '2026-11-09', value: 72 },
    { label: '2026-11-16', value: 114 },
  ],
  evidenceKey: '2026-11-16:2',
};
const month = (m: string, N: number) => ({
  month: m,
  mg: { N, P: 2, K: 10, Ca: 5, Mg: 2, Si: 0 },
  stillL: 1.3,
  cost: m === '2026-11' ? 0.123 : null,
});
const advice: PotAdvice = {
  advices: [salts],
  answered: [
    {
      eventId: '00000000-0000-4000-8000-000000000001',
      rule: 'calcium',
      answer: 'declined',
      on: '2026-11-20',
      title: 'calcium–magnesium, not more feed',
    },
  ],
  given: [month('2026-10', 10), month('2026-11', 14)],
  usesN: { low: 10, high: 29 },
};
afterEach(() => vi.unstubAllGlobals());

describe('advice', () => {
  it('stands with its evidence, and is taken up or declined', async () => {
    const { user, asked } = openPage(<AdviceCards potId="p7" advice={advice} />, {});
    const card = screen.getByRole('article', { name: salts.title });
    expect(within(card).getByRole('img')).toHaveAccessibleName('9 Nov 72, 16 Nov 114');
    await user.click(within(card).getByRole('button', { name: 'fairly sure, 2 notes' }));
    expect(card).toHaveTextContent('16 Nov: came out 218 of 104 (its pen was later found off: it counts half)');
    expect(screen.getByRole('list', { name: 'Answered' })).toHaveTextContent(
      'Declined 20 Nov: calcium–magnesium, not more feed',
    );
    await user.click(within(card).getByRole('button', { name: 'Not now' }));
    expect(asked.at(-1)!.body).toMatchObject({
      kind: 'decline',
      potId: 'p7',
      rule: 'salts',
      evidenceKey: '2026-11-16:2',
    });
    await user.click(within(card).getByRole('button', { name: 'Do it' }));
    expect(asked.at(-1)!.body).toMatchObject({ kind: 'accept', rule: 'salts' });
  });
  it('a quiet pot is said to be one', () => {
    openPage(<AdviceCards potId="p7" advice={{ ...advice, advices: [], answered: [] }} />, {});
    expect(screen.getByText(/Nothing asks for anything/)).toBeInTheDocument();
  });
  it('what it has been given is a picture, a table, and a comparison', () => {
    openPage(<GivenCard advice={advice} today="2026-11-25" />, {});
    expect(screen.getByRole('img')).toHaveAccessibleName('Oct 29 mg, Nov 33 mg');
    expect(screen.getByRole('rowheader', { name: /Ca calcium/ }).closest('tr')).toHaveTextContent('5.05.0');
    expect(screen.getByRole('rowheader', { name: /^cost/ }).closest('tr')).toHaveTextContent('–0.12');
    expect(screen.getByText(/about 10 to 29 mg of nitrogen/)).toHaveTextContent('Oct left 10');
  });
  it('the collection’s is by pot, and says when all is quiet', async () => {
    const room: AdviceRoom = {
      today: '2026-11-25',
      pens: [],
      pots: [{ id: 'p7', code: 'R-07', name: 'Coelogyne', place: 'East sill', advices: [salts] }],
    };
    openPage(<AdvicePage />, { '/api/advice': room });
    expect(await screen.findByRole('article', { name: `R-07: ${salts.title}` })).toBeInTheDocument();
    vi.unstubAllGlobals();
    openPage(<AdvicePage />, { '/api/advice': { today: '2026-11-25', pens: [], pots: [] } });
    expect(await screen.findByText('All quiet')).toBeInTheDocument();
  });
  it('the rules are listed with their sources', async () => {
    const rules: RulesView = {
      priorities: ['Danger first.'],
      rules: [
        {
          id: 'dry',
          matter: 'danger',
          seen: 'empty',
          think: 'roots dry',
          act: 'top up',
          source: 'common practice',
          danger: true,
          silences: [],
        },
      ],
    };
    openPage(<RulesPage />, { '/api/advice/rules': rules });
    expect((await screen.findByRole('rowheader', { name: 'Danger' })).closest('tr')).toHaveTextContent(
      'emptyone is enoughroots drytop upcommon practice',
    );
  });
});
