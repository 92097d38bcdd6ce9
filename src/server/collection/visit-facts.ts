import { CUE_NAMES, gradeIn } from '../../contract/seen.ts';
import type { LookFact, VisitFact } from '../../core/judgement/index.ts';
import { daysBetween } from '../../core/regimen/index.ts';
import type { PotState } from './pot-state.ts';
import { pouredOnBetween } from './visits.ts';

const VISITS = 8;
const LOOKS = 6;

/** Is it given nothing but plain water? */
export const isPlainOnly = ({ regimen: { params } }: PotState) =>
  params.school === 'plain' || params.feeds.every((feed) => feed.what === 'plain');

/** The last looks as judgement reads them. */
export function lookFacts(s: PotState): LookFact[] {
  return s.looks.slice(-LOOKS).map(({ eventId, on, look }) => ({
    eventId,
    on,
    cues: Object.fromEntries(CUE_NAMES.map((cue) => [cue, gradeIn(look, cue)])),
  }));
}

/** The last visits as judgement reads them: what had been poured the time before, and what came out. Only of the clay it stands in now. */
export function visitFacts(s: PotState): VisitFact[] {
  const { repottedOn } = s.pot;
  const fills = s.fills.filter((fill) => repottedOn === null || fill.on > repottedOn);
  return fills
    .slice(1)
    .map((fill, i): VisitFact => {
      const before = fills[i]!;
      // With something poured on in between, what came out is not what the pot made of its filling.
      const own = !pouredOnBetween(s.topUps, before, fill);
      return {
        eventId: fill.eventId,
        on: fill.on,
        days: daysBetween(before.on, fill.on),
        pouredEcUsCm: before.afterAcidEcUsCm ?? before.pouredEcUsCm,
        pouredPh: before.pouredPh,
        cameOutEcUsCm: own ? fill.cameOutEcUsCm : undefined,
        cameOutPh: own ? fill.cameOutPh : undefined,
        leftMl: own ? (fill.payload.oldReservoir.leftMl ?? undefined) : undefined,
        flushMl: fill.payload.flushMl,
        ecTainted: fill.tainted.includes('cameOutPpm') || before.tainted.includes('pouredPpm'),
        phTainted: fill.tainted.includes('cameOutPh'),
      };
    })
    .slice(-VISITS);
}
