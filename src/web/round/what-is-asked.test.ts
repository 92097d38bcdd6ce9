import { describe, expect, it } from 'vitest';
import type { ReadAsk, RoundPot } from '../../contract/round.ts';
import { askedFor, askedNow, asksHere, readTag } from './what-is-asked.ts';

const ask = (more: Partial<ReadAsk> = {}): ReadAsk => ({
  asked: null,
  missed: false,
  never: false,
  turnOn: '2026-12-09',
  short: 'leave',
  words: 'Leave it.',
  odd: { below: 100, above: 200 },
  ...more,
});
const pot = (read: Partial<NonNullable<RoundPot['read']>> = {}): Pick<RoundPot, 'read' | 'reservoirMl'> => ({
  reservoirMl: 260,
  read: { ppm: ask(), ph: ask({ odd: { below: 5.6, above: 6.8 } }), leftAboveMl: 120, never: false, ...read },
});
const asking = { choice: { how: 'asked' } } as const;
const typed = (more: object = {}) => ({ ppm: '', ph: '', left: '', ...more });

describe('what is asked of the pot in hand', () => {
  it('is nothing where everything is read, or where the pot is not due', () => {
    expect(asksHere(pot(), { choice: { how: 'everything' } }, typed())).toBeUndefined();
    expect(asksHere({ ...pot(), read: null }, asking, typed())).toBeUndefined();
    expect(askedFor(undefined)).toBeUndefined();
    expect(askedNow(undefined)).toEqual([]);
  });
  it('is what the round asks; the other is left', () => {
    const asks = asksHere(pot({ ph: ask({ asked: 'near', words: 'Near pH 6.5.' }) }), asking, typed());
    expect(askedNow(asks)).toEqual(['ph']);
    expect(asks!.ppm.is).toBe('left');
    expect(askedFor(asks)).toEqual({ ppm: null, ph: 'near' });
  });
  it('a reading far from what was foreseen asks for the other; so does far more left than ever', () => {
    const turn = { ppm: ask({ asked: 'turn' }), ph: ask({ odd: { below: 5.6, above: 6.8 } }) };
    expect(askedNow(asksHere(pot(turn), asking, typed({ ppm: '180' })))).toEqual(['ppm']);
    const odd = asksHere(pot(turn), asking, typed({ ppm: '240' }));
    expect(askedNow(odd)).toEqual(['ppm', 'ph']);
    expect(odd!.ph.words).toBe('Its ppm is other than foreseen. Read this too.');
    expect(askedFor(odd)).toEqual({ ppm: 'turn', ph: 'odd' });
    expect(askedNow(asksHere(pot(), asking, typed({ left: '110' })))).toEqual([]);
    expect(askedNow(asksHere(pot(), asking, typed({ left: '150' })))).toEqual(['ppm', 'ph']);
    // Out of all asking, or with no pen for it.
    const never = { ppm: ask({ never: true }), ph: ask({ never: true }) };
    expect(askedNow(asksHere(pot({ ...never, never: true }), asking, typed({ left: '150' })))).toEqual([]);
    expect(askedNow(asksHere(pot({ ph: never.ph }), asking, typed({ left: '150' })))).toEqual(['ppm']);
  });
  it('half typed, or no number at all, asks nothing by itself', () => {
    expect(askedNow(asksHere(pot(), asking, typed({ left: '150 mm' })))).toEqual([]);
  });
  it('missed for want of dips is not asked, and why it was stays with the filling', () => {
    const asks = asksHere(pot({ ppm: ask({ asked: 'surprised', missed: true }) }), asking, typed());
    expect(asks!.ppm.is).toBe('missed');
    expect(askedNow(asks)).toEqual([]);
    expect(askedFor(asks)).toEqual({ ppm: 'surprised', ph: null });
  });
  it('stands above the pot on its shelf in a word', () => {
    const tag = (read: Partial<NonNullable<RoundPot['read']>>) => readTag(pot(read), asking)?.text;
    expect(tag({})).toBe('leave');
    expect(tag({ ph: ask({ asked: 'turn' }) })).toBe('pH');
    expect(tag({ ppm: ask({ asked: 'turn' }), ph: ask({ asked: 'near' }) })).toBe('both');
    expect(tag({ ppm: ask({ asked: 'turn', missed: true }) })).toBe('leave');
    expect(readTag(pot(), { choice: { how: 'everything' } })).toBeUndefined();
  });
});
