import { screen } from '@testing-library/react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { openPage } from '../../../../tests/component-page.tsx';
import { drawPractice, practiceReading } from '../../../core/simulation/index.ts';
import { deedsOf, practiceView, type PracticeStep } from './practice-view.ts';
import { PracticePage } from './practice-page.tsx';
import { scoreOf } from './score.ts';

afterEach(() => vi.unstubAllGlobals());

/** Follows the coach to the end, dipping the practice pens. */
function follow(exercise: 'reach' | 'rescue' | 'ph', seed: number) {
  const bucket = drawPractice(exercise, seed);
  const steps: PracticeStep[] = [];
  let dips = 1;
  const add = (step: PracticeStep['step']) => steps.push({ id: `s${steps.length}`, step });
  const read = (quantity: 'ppm' | 'pH') => ({
    kind: 'value' as const,
    value: Number(practiceReading(bucket, deedsOf(steps), quantity, dips++)),
  });
  for (let n = 0; n < 12; n++) {
    const { advice, ph } = practiceView(bucket, steps);
    if (exercise === 'ph') {
      if (ph.inside) break;
      const dose = ph.choices[0]?.dose;
      if (ph.latest === null) add({ kind: 'ph', reading: read('pH') });
      else if (dose) {
        const { toolId, steps: count, doseMl, relativeSd } = dose;
        add({
          kind: 'correction',
          productId: 'acid',
          dose: { toolId, steps: count, doseMl, relativeSd },
          ratio: dose.ratio,
          reading: null,
        });
      } else break;
    } else if (advice.kind === 'readBase') add({ kind: 'base', reading: read('ppm') });
    else if (advice.kind === 'readAgain') add({ kind: 'reading', reading: read('ppm'), confirmedOdd: true });
    else if (advice.kind === 'add') {
      const { toolId, steps: count, doseMl, relativeSd } = advice;
      add({ kind: 'portion', dose: { toolId, steps: count, doseMl, relativeSd }, reading: null, confirmedOdd: true });
    } else if (advice.kind === 'thin')
      add({ kind: 'thin', pourOffL: advice.aim.pourOffL, addL: advice.aim.addL, reading: null });
    else break;
  }
  const end = practiceView(bucket, steps);
  return { end, score: scoreOf(bucket, steps, end) };
}

describe('the practice bucket', () => {
  it.each(['reach', 'rescue', 'ph'] as const)(
    'following the coach lands "%s" nearly always, and mostly with full marks',
    (exercise) => {
      const scores = Array.from({ length: 20 }, (_, seed) => follow(exercise, seed).score);
      expect(scores.filter((s) => s.landed).length).toBeGreaterThanOrEqual(18);
      expect(scores.filter((s) => s.points === 3).length).toBeGreaterThanOrEqual(13);
    },
  );
  it('pouring blindly scores nothing, and says where it stands', () => {
    const bucket = drawPractice('reach', 5);
    const blind: PracticeStep[] = [
      { id: 'a', step: { kind: 'base', reading: { kind: 'value', value: 10 } } },
      {
        id: 'b',
        step: {
          kind: 'portion',
          dose: { toolId: 'syringe', steps: 25, doseMl: 5, relativeSd: 0.05 },
          reading: { kind: 'value', value: 300 },
          confirmedOdd: true,
        },
      },
    ];
    const score = scoreOf(bucket, blind, practiceView(bucket, blind));
    expect(score).toMatchObject({
      points: 0,
      landed: false,
      words: expect.stringMatching(/1 portion.*stands truly at \d+/),
    });
  });
  it('shows its three exercises and sends nothing anywhere', async () => {
    const { user, asked } = openPage(<PracticePage />, {});
    expect(screen.getByRole('region', { name: 'Now' })).toHaveTextContent(/Read the plain/);
    await user.type(screen.getByLabelText('plain water, ppm'), '11{Enter}');
    expect(await screen.findByText(/Portion 1 of about/)).toBeInTheDocument();
    await user.click(screen.getByRole('button', { name: 'Rescue an overshoot' }));
    expect(screen.getByRole('region', { name: 'Now' })).toHaveTextContent(/Pour off.*then add/);
    await user.click(screen.getByRole('button', { name: 'Bring the pH down' }));
    expect(screen.getByRole('region', { name: 'Now' })).toHaveTextContent(/Read the pH/);
    expect(asked).toEqual([]);
  });
});
