import { render, screen } from '@testing-library/react';
import { MemoryRouter } from 'react-router';
import { describe, expect, it } from 'vitest';
import { model, pot, potDrift, TODAY } from '../drift/drift-fixtures.ts';
import { bandsOf } from '../drift/model.ts';
import { aheadOf } from './ahead.ts';
import { NextFlush } from './next-flush.tsx';
import { aheadWords } from './visit-ahead.tsx';

const drift = potDrift();
const lay = (of = drift, days = 14) =>
  aheadOf(of, bandsOf(of.now, days), bandsOf(of.next.model, days), TODAY, 0.5, days);

describe('what is to come of a pot', () => {
  it('goes from its filling to its due day, and from there to the visit after', () => {
    const { nowPpm, plan, lately } = lay();
    // Filled three days ago, due in four.
    expect([nowPpm[0]!.on, nowPpm.at(-1)!.on]).toEqual(['2026-11-22', '2026-11-29']);
    expect([plan.ppm[0]!.on, plan.ppm.at(-1)!.on]).toEqual(['2026-11-29', '2026-12-06']);
    expect(lately).toBeUndefined();
    for (const { band } of nowPpm) expect(band.low <= band.middle && band.middle <= band.high).toBe(true);
  });
  it('a pot that is late is filled today; flushed as lately it keeps more salt', () => {
    const late = potDrift({
      pot: pot('A-01', {
        dueOn: '2026-11-23',
        flush: { ml: 275, words: '275 mL rain butt', why: '', afterPpm: 90, lately: { ml: 80, afterPpm: 120 } },
      }),
    });
    const { plan, lately } = lay(late);
    expect(plan.ppm[0]!.on).toBe(TODAY);
    expect(lately!.ppm[0]!.band.middle).toBeCloseTo((plan.ppm[0]!.band.middle * 120) / 90, 6);
    expect(aheadWords(lay(late))).toContain('Flushed with 80\u00a0mL as lately');
  });
  it('where the pH of the filling was never read, none is foretold', () => {
    expect(lay(potDrift({ now: model({ phKnown: false }) })).nowPh).toEqual([]);
  });
});

describe('what the models say of a pot', () => {
  const show = (more: Parameters<typeof pot>[1]) =>
    render(
      <MemoryRouter>
        <NextFlush drift={potDrift({ pot: pot('A-01', more) })} today={TODAY} />
      </MemoryRouter>,
    );
  it('the flush, why, and what the last ones would leave', () => {
    show({
      ratios: [1.4, 1.7, 2],
      now: { ppm: 230, ph: 6.8, leftMl: 40 },
      flush: {
        ml: 275,
        words: '275 mL rain butt',
        why: 'until its salts run off',
        afterPpm: 90,
        lately: { ml: 80, afterPpm: 120 },
      },
    });
    expect(screen.getByRole('heading')).toHaveTextContent('Flush with 275 mL, not 80 mL');
    expect(screen.getByRole('region')).toHaveTextContent('has grown three visits in a row');
    expect(screen.getByRole('region')).toHaveTextContent('80 mL as lately would leave about 120');
  });
  it('when it is dry, and what beats a dry pot', () => {
    show({ dryOn: '2026-11-27', topUp: { what: 'plain', ml: 90, afterPpm: 120 } });
    expect(screen.getByRole('region')).toHaveTextContent(
      'Down to 15 % on Fri 27 Nov, before its day, pH out of its window on Fri 27 Nov.',
    );
    expect(screen.getByRole('region')).toHaveTextContent(
      '90 mL of plain water tops it up to about 120: in a hurry, not as a habit',
    );
  });
  it('of a pot that was never read it says whose figures these are', () => {
    show({ atLarge: true });
    expect(screen.getByRole('region')).toHaveTextContent('that is what most pots do');
  });
});
