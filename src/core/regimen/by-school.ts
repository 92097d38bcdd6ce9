import { SCHOOL_TEXTS } from './schools.ts';
import type { School } from './regimen.ts';

/** How a reading stands to what a school pours. `Ec`: what it aims at, net µS/cm. */
export type BySchool = {
  readonly school: School;
  readonly title: string;
  readonly verdict: 'nothing' | 'weak' | 'onTarget' | 'over';
  readonly aimEcUsCm: number;
};

/**
 * One strength judged by each school that feeds by strength: nobody is right about the plant, but each is clear about its own figure.
 * @param netEcUsCm over base, µS/cm at 25 °C @param band shares below and above an aim that count as on target
 * @example judgeBySchools(360, FEED_BAND) // over for constant dilute, on target for split waterings, weak for soaks with a strong refill
 */
export function judgeBySchools(
  netEcUsCm: number,
  band: { readonly below: number; readonly above: number },
): readonly BySchool[] {
  return SCHOOL_TEXTS.filter((s) => s.source === 'common practice' && s.school !== 'lowSwing').map(
    ({ school, title, regimen }) => {
      // A rota is judged by its feed, not by the calcium–magnesium between.
      const feed = regimen.feeds.find((f) => f.what !== 'calmag') ?? regimen.feeds[0]!;
      const aimEcUsCm = feed.netEcUsCm;
      return { school, title, aimEcUsCm, verdict: verdictOf(netEcUsCm, aimEcUsCm, band) };
    },
  );
}

/** Less than a pen tells from nothing, µS/cm. House rule. */
const NOTHING_EC = 20;

function verdictOf(net: number, aim: number, band: { below: number; above: number }): BySchool['verdict'] {
  if (aim === 0) return net < NOTHING_EC ? 'onTarget' : 'over';
  if (net < NOTHING_EC) return 'nothing';
  if (net < aim * (1 - band.below)) return 'weak';
  return net <= aim * (1 + band.above) ? 'onTarget' : 'over';
}

const VERDICTS: Record<BySchool['verdict'], string> = {
  nothing: 'no feed to speak of',
  weak: 'weak',
  onTarget: 'on target',
  over: 'over',
};
export const verdictWords = (verdict: BySchool['verdict']): string => VERDICTS[verdict];
