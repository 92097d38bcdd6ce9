import { plusDays, type LocalDate } from './due.ts';

/** How much light a kind of place gives, as plants count it; under lamps it is steady, and never burns. House order of common practice. */
const STRENGTH: Readonly<Record<string, number>> = { low: 0, medium: 1, lamps: 1, bright: 2, outdoors: 3 };

export type LightStep = { readonly on: LocalDate; readonly words: string };

/**
 * Steps by which a plant comes to stronger light: an hour of strong sun can be enough to scar it, and a leaf hardens in a week or two (common
 * practice). Outdoors takes longer.
 * @returns none where the new place is not stronger, or nobody said how light it is
 */
export function lightSteps(from: string | null, to: string | null, on: LocalDate): LightStep[] {
  const [before, after] = [STRENGTH[from ?? ''], STRENGTH[to ?? '']];
  if (before === undefined || after === undefined || after <= before) return [];
  const outdoors = to === 'outdoors';
  const steps: [number, string][] = [
    [0, outdoors ? 'Shade all day, the first days outdoors' : 'Behind a net or back from the glass, the first days'],
    [4, outdoors ? 'Morning sun only, shade from ten' : 'An hour or two of its new light, then shade'],
    [8, 'Half a day of its new light; look for bleached patches'],
    [outdoors ? 16 : 12, 'All of its new light, if no leaf bleached'],
  ];
  return steps.map(([days, words]) => ({ on: plusDays(on, days), words }));
}
