import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { allAnew, sameOr, withAnew } from './same.ts';

describe('what says the same keeps its identity', () => {
  it('whole, or field by field', () => {
    const before = { row: { id: 'a', name: 'Still' }, bases: [1, 2] };
    expect(sameOr(before, structuredClone(before))).toBe(before);
    const renamed = sameOr(before, { row: { id: 'a', name: 'Tap' }, bases: [1, 2] });
    expect(renamed).not.toBe(before);
    expect(renamed.bases).toBe(before.bases);
    expect(renamed.row).toEqual({ id: 'a', name: 'Tap' });
    expect(sameOr<object>({ a: 1, b: 2 }, { a: 1 })).toEqual({ a: 1 });
  });
  it('a map with some entries anew is the same map where nothing changed, and has no other difference', () => {
    const entries = fc.dictionary(
      fc.constantFrom(...'abcdef'),
      fc.nat(3).map((at) => ({ at })),
    );
    const anew = fc.dictionary(
      fc.constantFrom(...'abcdef'),
      fc.option(
        fc.nat(3).map((at) => ({ at })),
        { nil: undefined },
      ),
    );
    fc.assert(
      fc.property(entries, anew, (old, next) => {
        const before = new Map(Object.entries(old));
        const after = withAnew(before, new Map(Object.entries(next)));
        const wanted = new Map(
          [...before, ...Object.entries(next)].filter(
            (pair): pair is [string, { at: number }] => pair[1] !== undefined,
          ),
        );
        for (const [id, entry] of Object.entries(next)) if (entry === undefined) wanted.delete(id);
        expect(new Map(after)).toEqual(wanted);
        for (const [id, entry] of after) if (before.get(id)?.at === entry.at) expect(entry).toBe(before.get(id));
        if ([...wanted].every(([id, e]) => before.get(id)?.at === e.at) && wanted.size === before.size)
          expect(after).toBe(before);
      }),
    );
  });
  it('in another order it is another map of the same entries', () => {
    const [a, b] = [{ n: 1 }, { n: 2 }];
    const before = new Map([
      ['a', a],
      ['b', b],
    ]);
    const turned = allAnew(
      before,
      new Map([
        ['b', { n: 2 }],
        ['a', { n: 1 }],
      ]),
    );
    expect([...turned.keys()]).toEqual(['b', 'a']);
    expect(turned.get('a')).toBe(a);
    expect(allAnew(before, new Map(structuredClone([...before])))).toBe(before);
  });
});
