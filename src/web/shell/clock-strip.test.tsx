import { act, screen } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { ClockView } from '../../contract/shell.ts';
import { ClockStrip } from './clock-strip.tsx';
import { openPage } from '../../../tests/component-page.tsx';
import { waitWords } from './wait-words.ts';

const NOW = Date.parse('2026-11-25T09:00:00Z');
const clock = (words: string, endsIn: number, more: Partial<ClockView> = {}): ClockView => ({
  id: words,
  subjectKind: 'collection',
  subjectId: null,
  about: '',
  words,
  startedAt: new Date(NOW - 60_000).toISOString(),
  endsAt: new Date(NOW + endsIn).toISOString(),
  ...more,
});
// The server's day is another than this machine's: the strip goes by the server's.
const shell = () => ({ now: new Date(NOW).toISOString() });
const open = (clocks: ClockView[]) => openPage(<ClockStrip clocks={clocks} />, { '/api/shell': shell() });

beforeEach(() => vi.useFakeTimers({ shouldAdvanceTime: true }));
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
  document.title = 'Frugal Sip';
});

describe('the clocks', () => {
  it('go by the server’s time, say what they are about, and ring by the title when they run out', async () => {
    open([
      clock('Drain', 2500, { subjectKind: 'pot', subjectId: 'p7', about: 'R-07 Coelogyne' }),
      clock('Soak', 1_800_000),
    ]);
    expect(await screen.findByText('30:00')).toBeInTheDocument();
    expect(screen.getByRole('link', { name: 'R-07 Coelogyne' })).toHaveAttribute('href', '/pots/p7');
    expect(document.title).toBe('Frugal Sip');
    await act(() => vi.advanceTimersByTimeAsync(4000));
    expect(await screen.findByText('Done')).toBeInTheDocument();
    expect(document.title).toBe('Done: Drain · Frugal Sip');
  });
  it('are stopped and given five minutes more, each its own act', async () => {
    vi.useRealTimers();
    const { user, asked } = open([clock('Soak', 60_000)]);
    await user.click(screen.getByRole('button', { name: '5 minutes more: Soak' }));
    await user.click(screen.getByRole('button', { name: 'Stop the clock: Soak' }));
    expect(asked.map((a) => a.body)).toEqual([
      { kind: 'extendClock', clockId: 'Soak', minutes: 5 },
      { kind: 'stopClock', clockId: 'Soak' },
    ]);
    expect(new Set(asked.map((a) => a.url)).size).toBe(2);
  });
  it.each([
    [1, '0:01'],
    [59_001, '1:00'],
    [1_100_000, '18:20'],
    [7_800_000, '2\u00a0h 10\u00a0min'],
    [7_200_000, '2\u00a0h'],
    [90_000_000, '1\u00a0d 1\u00a0h'],
    [-5, '0:00'],
  ])('%d ms still is %s', (ms, words) => expect(waitWords(ms)).toBe(words));
});
