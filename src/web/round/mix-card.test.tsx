import { render, screen } from '@testing-library/react';
import { MemoryRouter } from 'react-router';
import { describe, expect, it } from 'vitest';
import { openPage } from '../../../tests/component-page.tsx';
import type { RoundMix, RoundPot } from '../../contract/round.ts';
import { MixCard, MixNotes } from './mix-card.tsx';
import { A_MIX } from '../../../tests/round-fixtures.ts';

const mix: RoundMix = { ...A_MIX, key: 'k', pots: 9, potsLeft: 9, litresToMix: 2.5, flushL: 7 };

it('something left over that would do is offered, and taken with a press', async () => {
  const leftover = { id: 'b', name: 'Can for the sill', leftMl: 1300, readsPpm: 101 };
  const { user, asked } = openPage(<MixCard mix={{ ...mix, leftover }} tone={0} />, {});
  expect(screen.getByText(/1\.3.L of Can for the sill left over, reads 101/)).toBeInTheDocument();
  await user.click(screen.getByRole('button', { name: 'Use it for these' }));
  expect(asked).toEqual([
    {
      method: 'PUT',
      url: expect.stringMatching(/bench\/batches\/b\/steps/) as string,
      body: { kind: 'assign', mixKey: 'k' },
    },
  ]);
});

it('the mix says which of its pots get what in a trial, of those still to be filled', () => {
  const pot = (code: string, trial: string | null, kind?: 'filled') => ({
    ...{ id: code, code, trial },
    done: kind ? ({ kind } as NonNullable<RoundPot['done']>) : null,
  });
  const pots = [
    pot('R-05', 'Trial: flushed with still water'),
    pot('R-03', 'Trial: flushed with still water'),
    pot('R-04', 'Trial: as it was'),
    pot('R-06', 'Trial: as it was', 'filled'),
    pot('R-07', null),
    pot('L-01', 'Trial: as it was'),
  ];
  const mine = { ...mix, potIds: ['R-03', 'R-04', 'R-05', 'R-06', 'R-07'] };
  const { container } = render(<MixNotes mixes={[mine]} pots={pots} />);
  expect(container).toHaveTextContent('A trial runs in A: R-03, R-05 flushed with still water; R-04 as it was');
  expect(container).not.toHaveTextContent(/R-06|L-01/);
});

describe('a mix of the round', () => {
  const poured: NonNullable<RoundMix['batch']> = {
    id: 'b',
    status: 'poured',
    startedAt: '2026-11-25T09:00:00Z',
    time: '09:10',
    readsPpm: 104,
    ph: 5.6,
    leftMl: 1400,
    pourableMl: 1450,
    today: true,
  };
  const card = (more: Partial<RoundMix>) =>
    render(
      <MemoryRouter>
        <MixCard mix={{ ...mix, ...more }} tone={0} />
      </MemoryRouter>,
    );
  it.each([
    ['to be made', {}, /make 2.5.L for 9 pots/, 'Make at bench'],
    ['being made', { batch: { ...poured, status: 'open' } }, /being made since 09:10, for 9 pots/, 'Carry on'],
    ['made', { batch: poured, litresToMix: 0 }, /9 pots to fill · 1.4.L left, reads 104, pH 5.6/, 'Made 09:10'],
    ['made, but not enough', { batch: poured, litresToMix: 1.2 }, /make 1.2.L for 9 pots · 1.4.L left/, 'Make more'],
    [
      'left from another day',
      { batch: { ...poured, today: false }, litresToMix: 0 },
      /it stood, read it again/,
      'Made 09:10',
    ],
    ['all poured', { batch: { ...poured, leftMl: 0 }, potsLeft: 0, litresToMix: 0 }, /all 9 done/, 'Made 09:10'],
  ] as [string, Partial<RoundMix>, RegExp, string][])('%s', (_state, more, words, link) => {
    card(more);
    expect(screen.getByRole('article', { name: 'Mix A' })).toHaveTextContent(words);
    expect(screen.getByRole('link', { name: link })).toBeInTheDocument();
  });
});
