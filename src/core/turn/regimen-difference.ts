import { ppmFromEc } from '../quantity/index.ts';
import { doseWords, rotaDays, SOAKS, type Feed, type Regimen } from '../regimen/index.ts';

/** What of a regimen became another. */
export type RegimenPart = 'days' | 'strength' | 'feed' | 'flush' | 'pourPh' | 'soaks' | 'water' | 'wash' | 'rest';
export type PartChanged = { readonly part: RegimenPart; readonly words: string };

/** "weekly", "fortnightly", "every 9 days". */
export const everyWords = (days: number): string =>
  days === 7 ? 'weekly' : days === 14 ? 'fortnightly' : days === 1 ? 'daily' : `every ${days} days`;

/**
 * What differs between two regimens, in words, the part that matters most first; empty where they are the same but for their name.
 * @param scale display per µS/cm of the grower's pen
 */
export function regimenDifferences(before: Regimen, after: Regimen, scale: number): PartChanged[] {
  const found: PartChanged[] = [];
  const say = (part: RegimenPart, was: string, is: string) => {
    if (was === is) return;
    const words = NOTHING.has(was) ? is : NOTHING.has(is) ? `no longer ${was}` : `${is}, not ${was}`;
    found.push({ part, words });
  };
  say('days', paceWords(before), paceWords(after));
  say('strength', feedsWords(before, scale), feedsWords(after, scale));
  say('flush', flushWords(before), flushWords(after));
  say('pourPh', pourWords(before), pourWords(after));
  const soaks = ({ soaks: all }: Regimen) =>
    all.length === 0
      ? NO_SOAKS
      : `given ${all.map((s) => SOAKS[s.what].name.replace(/ soak$/, '')).join(' and ')} soaks`;
  say('soaks', soaks(before), soaks(after));
  say('water', mixedWith(before), mixedWith(after));
  if (before.wash !== after.wash)
    found.push({ part: 'wash', words: after.wash ? 'reservoirs washed at the change' : 'reservoirs no longer washed' });
  if (found.length === 0 && JSON.stringify(rest(before)) !== JSON.stringify(rest(after)))
    found.push({ part: 'rest', words: 'what the stage of a plant changes' });
  return found;
}

const NO_SOAKS = 'no soaks';
const NOT_FLUSHED = 'not flushed';
const ANY_WATER = 'mixed with any water';
/** Against these the other is said by itself. */
const NOTHING: ReadonlySet<string> = new Set([NO_SOAKS, NOT_FLUSHED, ANY_WATER]);

const paceWords = (r: Regimen) => everyWords(Math.round(rotaDays(r) / r.feeds.length));
const flushWords = ({ flush }: Regimen) =>
  flush.at === 'never' || flush.timesReservoir === 0
    ? NOT_FLUSHED
    : `flushed ${Number(flush.timesReservoir.toFixed(1))} × the reservoir ${flush.at === 'change' ? 'at the change' : 'each time'}${flush.with === 'still' ? ' with still water' : ''}`;

function pourWords({ feeds }: Regimen): string {
  const one = (f: Feed) => (f.pourPhLow === f.pourPhHigh ? `${f.pourPhLow}` : `${f.pourPhLow} to ${f.pourPhHigh}`);
  return `poured at ${[...new Set(feeds.map(one))].join(' and ')}`;
}

function feedsWords({ feeds }: Regimen, scale: number): string {
  const one = (f: Feed) => {
    if (f.what === 'plain') return 'plain water';
    const what = f.what === 'calmag' ? 'calcium–magnesium ' : '';
    return `${what}${f.dose ? doseWords(f.dose) : `${Math.round(ppmFromEc(f.netEcUsCm, scale))} ppm`}`;
  };
  return feeds.map(one).join(', then ');
}

const mixedWith = ({ fillWith }: Regimen) => (fillWith === null ? ANY_WATER : `mixed with ${fillWith} water`);

const rest = ({ stages, tenderShare, byHeight, latestDays, dryBeforeSoak }: Regimen) => ({
  stages,
  tenderShare,
  byHeight,
  latestDays,
  dryBeforeSoak,
});
