import type { Composition, Elements } from '../solution/index.ts';

/** Acids last a plant could use; of equals the one that stays. */
export const GONE_IN_DAYS = 'is eaten by microbes in days, so the pH climbs back';

/** How long it holds. */
export function lastsWords(perMl: Composition): string {
  if (perMl.citrate + perMl.acetate > 0) return GONE_IN_DAYS;
  return perMl.Na > perMl.K ? 'stays, and brings sodium: not as a habit' : 'stays';
}

/** What else a dose brings, where it is worth a word. */
export function bringsWords(e: Elements): string {
  const parts: [number, string][] = [
    [e.N, 'nitrogen'],
    [e.P, 'phosphorus'],
    [e.K, 'potassium'],
    [e.Na, 'sodium'],
    [e.Si, 'silicon'],
  ];
  const said = parts
    .filter(([mg]) => mg >= 0.05)
    .map(([mg, words]) => `${mg < 10 ? mg.toFixed(1) : Math.round(mg)} mg/L ${words}`);
  return said.join(', ');
}
