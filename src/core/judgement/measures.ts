import { daysBetween } from '../regimen/index.ts';
import type { LookFact, PotFacts, VisitFact } from './facts.ts';
import type { Evidence } from './rule.ts';

/** A reading of a pen later found off is half a reading. */
const TAINTED_WEIGHT = 0.5;
export type Ratio = { readonly visit: VisitFact; readonly ratio: number; readonly evidence: Evidence };

/** How many times what was poured came out, visit by visit, oldest first; only where both were read. */
export function ratios(facts: Pick<PotFacts, 'visits'>): Ratio[] {
  return facts.visits.flatMap((visit): Ratio[] => {
    const { pouredEcUsCm, cameOutEcUsCm, on, eventId, ecTainted } = visit;
    if (pouredEcUsCm === undefined || cameOutEcUsCm === undefined || !(pouredEcUsCm > 0)) return [];
    const evidence = {
      on,
      eventId,
      words: `came out {${Math.round(cameOutEcUsCm)}} of {${Math.round(pouredEcUsCm)}}`,
      weight: ecTainted ? TAINTED_WEIGHT : 1,
    };
    return [{ visit, ratio: cameOutEcUsCm / pouredEcUsCm, evidence }];
  });
}

/** pH as it came out, oldest first. */
export function phs(
  facts: Pick<PotFacts, 'visits'>,
): { readonly visit: VisitFact; readonly ph: number; readonly evidence: Evidence }[] {
  return facts.visits.flatMap((visit) =>
    visit.cameOutPh === undefined
      ? []
      : [
          {
            visit,
            ph: visit.cameOutPh,
            evidence: {
              on: visit.on,
              eventId: visit.eventId,
              words: `came out at pH ${visit.cameOutPh.toFixed(1)}`,
              weight: visit.phTainted ? TAINTED_WEIGHT : 1,
            },
          },
        ],
  );
}

/** Looks of the last so many days in which a cue had one of these grades, newest last. */
export function seen(
  facts: Pick<PotFacts, 'looks' | 'today'>,
  cue: string,
  grades: readonly string[],
  withinDays = 35,
): { look: LookFact; evidence: Evidence }[] {
  return facts.looks
    .filter((look) => daysBetween(look.on, facts.today) <= withinDays && grades.includes(look.cues[cue] ?? ''))
    .map((look) => ({
      look,
      evidence: { on: look.on, eventId: look.eventId, words: `${WORDS[cue] ?? cue} ${look.cues[cue]}`, weight: 1 },
    }));
}
const WORDS: Record<string, string> = {
  tips: 'leaf tips',
  crust: 'crust',
  roots: 'new roots',
  growth: 'new growth',
  loose: 'in the pot',
  rot: 'crown and roots',
  air: 'air roots',
};

/** How many of the last looks in a row had a cue. */
export function lately(facts: Pick<PotFacts, 'looks'>, cue: string, grades: readonly string[], of = 3): number {
  return facts.looks.slice(-of).filter((look) => grades.includes(look.cues[cue] ?? '')).length;
}

/** How much a set of readings weighs altogether. */
export const weightOf = (evidence: readonly Evidence[]) => evidence.reduce((sum, e) => sum + e.weight, 0);

/** From 0 to 1 by how much it stands on: two sound readings are a fair guess, four and more fairly sure. */
export function sureOf(evidence: readonly Evidence[], most = 0.9): number {
  return Math.min(most, 0.35 + 0.15 * weightOf(evidence));
}

/** A strength in evidence words is written `{µS/cm}`, to be shown on the grower's own pen. */
export function withStrengths(words: string, show: (ecUsCm: number) => string): string {
  return words.replace(/\{(\d+(?:\.\d+)?)\}/g, (_all, ec: string) => show(Number(ec)));
}
