import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { describe, expect, it } from 'vitest';
import { HOT_DAY_TIMES, type ToldDay } from '../../core/reservoir/index.ts';
import { HotSpells, withDays } from './hot-spells.tsx';

let kept: readonly ToldDay[] = [];
function Page({ days }: { days: readonly ToldDay[] }) {
  const [told, setTold] = useState(days);
  kept = told;
  return <HotSpells days={told} change={setTold} />;
}

describe('hot spells of a place', () => {
  it('are told from a day to a day, shown, and taken out again', async () => {
    const user = userEvent.setup();
    render(<Page days={[{ on: '2026-06-30', times: 0.7 }]} />);
    await user.type(screen.getByLabelText('from'), '2026-07-03');
    await user.type(screen.getByLabelText('to'), '2026-07-05');
    await user.click(screen.getByRole('button', { name: 'Add the spell' }));
    expect(kept.map((d) => d.on)).toEqual(['2026-06-30', '2026-07-03', '2026-07-04', '2026-07-05']);
    expect(kept.at(-1)!.times).toBe(HOT_DAY_TIMES);
    expect(screen.getByText(/3 Jul to 5 Jul/)).toBeVisible();
    await user.click(screen.getByRole('button', { name: /Take out the hot spell of 3 Jul/ }));
    // What the logger said of a cool day stays.
    expect(kept).toEqual([{ on: '2026-06-30', times: 0.7 }]);
  });
  it('one day is a spell; no day, and one that ends before it begins, are said at the field', async () => {
    const user = userEvent.setup();
    render(<Page days={[]} />);
    await user.click(screen.getByRole('button', { name: 'Add the spell' }));
    expect(screen.getByRole('alert')).toHaveTextContent('Give the first hot day');
    await user.type(screen.getByLabelText('from'), '2026-07-05');
    await user.type(screen.getByLabelText('to'), '2026-07-03');
    await user.click(screen.getByRole('button', { name: 'Add the spell' }));
    expect(screen.getByRole('alert')).toHaveTextContent('before the first');
    await user.clear(screen.getByLabelText('to'));
    await user.click(screen.getByRole('button', { name: 'Add the spell' }));
    expect(kept).toEqual([{ on: '2026-07-05', times: HOT_DAY_TIMES }]);
  });
  it('typed and not added, one is added by going on to the next field', async () => {
    const user = userEvent.setup();
    render(<Page days={[]} />);
    await user.type(screen.getByLabelText('from'), '2026-07-05');
    await user.click(document.body);
    expect(kept).toEqual([{ on: '2026-07-05', times: HOT_DAY_TIMES }]);
  });
  it('told again they are not told twice', () => {
    const once = withDays([], [{ on: '2026-07-03', times: 2 }]);
    expect(withDays(once, [{ on: '2026-07-03', times: 1.4 }])).toEqual([{ on: '2026-07-03', times: 1.4 }]);
  });
});
