import { screen } from '@testing-library/react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { Correctable } from '../../contract/book.ts';
import { openPage, refusal } from '../../../tests/component-page.tsx';
import { CorrectDialog } from './index.ts';

const filled: Correctable = {
  eventId: 'e1',
  kind: 'potFilled',
  words: 'R-07, East sill: Filled 250 mL',
  ppmScale: 0.5,
  payload: {
    dueOn: '2026-11-25',
    batchId: null,
    pouredMl: 251.4,
    flushMl: 780,
    oldReservoir: { ppm: { kind: 'value', value: 231 }, ph: { kind: 'range', low: 6.5, high: 7 }, leftMl: null },
    ppmMeterId: 'm',
    phMeterId: null,
    seen: null,
  },
};
const open = (act: Correctable) => {
  const onClose = vi.fn();
  return {
    ...openPage(<CorrectDialog eventId={act.eventId} onClose={onClose} />, { [`/api/book/acts/${act.eventId}`]: act }),
    onClose,
  };
};
afterEach(() => vi.unstubAllGlobals());

describe('putting an act right', () => {
  it('shows each figure as it stands and sends only what was changed; the rest goes exactly as it was', async () => {
    const { user, asked, onClose } = open(filled);
    const ppm = await screen.findByLabelText('Old reservoir, ppm');
    expect(ppm).toHaveValue('231');
    expect(screen.getByLabelText('Old reservoir, pH')).toHaveValue('6.5 to 7');
    expect(screen.getByLabelText('Left in it, mL')).toHaveValue('');
    await user.clear(ppm);
    await user.type(ppm, '131');
    await user.type(screen.getByLabelText('Left in it, mL'), '2 fl oz');
    await user.click(screen.getByRole('button', { name: 'Keep the right figures' }));
    const { targetId, payload } = asked.at(-1)!.body as {
      targetId: string;
      payload: { oldReservoir: { leftMl: number } };
    };
    expect(targetId).toBe('e1');
    expect(payload).toMatchObject({
      pouredMl: 251.4,
      oldReservoir: { ppm: { kind: 'value', value: 131 }, ph: { kind: 'range', low: 6.5, high: 7 } },
    });
    expect(payload.oldReservoir.leftMl).toBeCloseTo(59.1, 1);
    expect(onClose).toHaveBeenCalled();
  });
  it('refuses at the field what no pen can show, and sends nothing', async () => {
    const { user, asked } = open(filled);
    const ph = await screen.findByLabelText('Old reservoir, pH');
    await user.clear(ph);
    await user.type(ph, '19');
    await user.click(screen.getByRole('button', { name: 'Keep the right figures' }));
    expect(screen.getByRole('alert')).toHaveTextContent(/0 to 14/);
    expect(asked).toHaveLength(0);
  });
  it('a dose follows its count of drops', async () => {
    const { user, asked } = open({
      ...filled,
      kind: 'batchPortion',
      payload: {
        dose: { toolId: 't', steps: 18, doseMl: 1, relativeSd: 0.05 },
        reading: { kind: 'value', value: 80 },
        confirmedOdd: false,
      },
    });
    const drops = await screen.findByLabelText('Drops or marks');
    await user.clear(drops);
    await user.type(drops, '27');
    await user.click(screen.getByRole('button', { name: 'Keep the right figures' }));
    expect(asked.at(-1)!.body).toMatchObject({ payload: { dose: { steps: 27, doseMl: 1.5 }, reading: { value: 80 } } });
  });
  it('tells what the server says of the whole, and stays open', async () => {
    const { user, stand, onClose } = open(filled);
    await screen.findByLabelText('Old reservoir, ppm');
    stand.answer = () => refusal([], 'Nothing was changed: put the right figure in, or close this.');
    await user.click(screen.getByRole('button', { name: 'Keep the right figures' }));
    expect(await screen.findByRole('alert')).toHaveTextContent(/Nothing was changed/);
    expect(onClose).not.toHaveBeenCalled();
  });
});
