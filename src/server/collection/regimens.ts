import type { RegimenValues } from '../../contract/regimens.ts';
import { ecFromPpm, ppmFromEc } from '../../core/quantity/index.ts';
import {
  constantDilute,
  doseWords,
  SOAKS,
  type Feed,
  type FeedWhat,
  type Regimen,
  type Soak,
} from '../../core/regimen/index.ts';
import type { RegimenRow } from '../database/entities.ts';

/** What a regimen was before the schools: one weak feed, flushed first. */
type FirstParams = {
  netEcUsCm: number;
  everyDays: number;
  flushTimesReservoir: number;
  pourPhLow: number;
  pourPhHigh: number;
};
type Params = Omit<Regimen, 'school'>;

/** A kept regimen; one written before the schools is read as the constant dilute it was. */
export function readParams(row: Pick<RegimenRow, 'kind' | 'params'>): Regimen {
  const kept = objectOf(row.params) as Partial<FirstParams> | Params;
  if ('feeds' in kept)
    return { ...kept, feeds: kept.feeds.map((feed) => ({ ...feed, dose: feed.dose ?? null })), school: row.kind };
  if (!isFirst(kept)) return constantDilute(USUAL.netEcUsCm, USUAL.everyDays);
  const { netEcUsCm, everyDays, flushTimesReservoir, pourPhLow, pourPhHigh } = kept;
  const regimen = constantDilute(netEcUsCm, everyDays);
  return {
    ...regimen,
    feeds: [{ ...regimen.feeds[0]!, pourPhLow, pourPhHigh }],
    flush: {
      ...regimen.flush,
      timesReservoir: flushTimesReservoir,
      at: flushTimesReservoir > 0 ? 'watering' : 'never',
    },
  };
}

/** Taken where what was kept cannot be understood: about 90 ppm on the half scale, weekly (common practice). */
const USUAL = { netEcUsCm: 180, everyDays: 7 };

const isFirst = (kept: Partial<FirstParams>): kept is FirstParams =>
  [kept.netEcUsCm, kept.everyDays, kept.flushTimesReservoir, kept.pourPhLow, kept.pourPhHigh].every((figure) =>
    Number.isFinite(figure),
  );

function objectOf(text: string): object {
  try {
    const kept = JSON.parse(text) as { feeds?: unknown } | null;
    const broken =
      kept === null ||
      typeof kept !== 'object' ||
      ('feeds' in kept && !(Array.isArray(kept.feeds) && kept.feeds.length > 0));
    return broken ? {} : kept;
  } catch {
    return {};
  }
}

export const writeParams = ({ school: _school, ...params }: Regimen): string => JSON.stringify(params);

/** A regimen as it is typed, on the grower's scale. */
export function toRegimenValues(row: RegimenRow, scale: number): RegimenValues {
  const r = readParams(row);
  const ppm = (ec: number) => Math.round(ppmFromEc(ec, scale));
  return {
    name: row.name,
    school: r.school,
    feeds: r.feeds.map((f) => ({
      what: f.what,
      netPpm: ppm(f.netEcUsCm),
      dose: f.dose,
      phLow: f.pourPhLow,
      phHigh: f.pourPhHigh,
      days: f.days,
    })),
    latestDays: r.latestDays,
    flushAt: r.flush.at,
    flushTimes: r.flush.timesReservoir,
    flushWith: r.flush.with,
    wash: r.wash,
    soaks: r.soaks.map(({ netEcUsCm, pourPhLow, pourPhHigh, months, ...soak }) => ({
      ...soak,
      netPpm: netEcUsCm === null ? null : ppm(netEcUsCm),
      phLow: pourPhLow,
      phHigh: pourPhHigh,
      months: [...months],
    })),
    ...r.stages,
    tenderShare: r.tenderShare,
    byHeight: r.byHeight,
    fillWith: r.fillWith,
    morning: r.morning,
    dryBeforeSoak: r.dryBeforeSoak,
  };
}

/** A regimen as the core knows it, from what was typed. */
export function toRegimen(v: RegimenValues, scale: number): Regimen {
  return {
    school: v.school,
    feeds: v.feeds.map((f) => ({
      what: f.what,
      netEcUsCm: f.what === 'plain' ? 0 : f.netPpm > 0 ? ecFromPpm(f.netPpm, scale) : 0,
      pourPhLow: f.phLow,
      pourPhHigh: f.phHigh,
      days: f.days,
      dose: f.what === 'plain' ? null : f.dose,
    })),
    latestDays: v.latestDays,
    flush: { at: v.flushAt, timesReservoir: v.flushTimes, with: v.flushWith },
    wash: v.wash,
    soaks: v.soaks.map(({ netPpm, phLow, phHigh, ...soak }): Soak => ({
      ...soak,
      netEcUsCm: !SOAKS[soak.what].byPen || netPpm === null ? null : ecFromPpm(netPpm, scale),
      sio2MgL: SOAKS[soak.what].silica ? soak.sio2MgL : null,
      firstSio2MgL: SOAKS[soak.what].silica ? soak.firstSio2MgL : null,
      pourPhLow: phLow,
      pourPhHigh: phHigh,
    })),
    stages: {
      restShare: v.restShare,
      rootingShare: v.rootingShare,
      inBud: v.inBud,
      soaksOnlyInGrowth: v.soaksOnlyInGrowth,
    },
    tenderShare: v.tenderShare,
    byHeight: v.byHeight,
    fillWith: v.fillWith,
    morning: v.morning,
    dryBeforeSoak: v.dryBeforeSoak,
  };
}

/** How a watering is named in words. */
export const WHAT_WORDS: Record<FeedWhat, string> = {
  feed: 'feed',
  calmag: 'calcium–magnesium',
  feedSilicate: 'feed with silicate',
  plain: 'plain water',
};

/** "feed 90", "feed, 2.5 mL a litre", "plain water". */
export function feedWords({ what, netEcUsCm, dose }: Pick<Feed, 'what' | 'netEcUsCm' | 'dose'>, scale: number): string {
  if (what === 'plain') return WHAT_WORDS.plain;
  return dose
    ? `${WHAT_WORDS[what]}, ${doseWords(dose)}`
    : `${WHAT_WORDS[what]} ${Math.round(ppmFromEc(netEcUsCm, scale))}`;
}

/** "90 over base, every 7 days, flush first", and what comes on top. */
export function regimenWords(r: Regimen, scale: number): string {
  const [first] = r.feeds;
  if (!first) return 'nothing';
  const every = (days: number) => (days === 1 ? 'every day' : `every ${days} days`);
  const poured =
    r.feeds.length > 1
      ? `${r.feeds.map((f) => `${feedWords(f, scale)}, ${f.days} d`).join(', then ')}`
      : `${onlyWords(first, scale)}, ${every(first.days)}`;
  const more = [
    r.flush.at === 'never' || r.flush.timesReservoir === 0
      ? 'no flush'
      : r.flush.at === 'change'
        ? 'flush at the change'
        : 'flush first',
    ...r.soaks.map((s) => `${SOAKS[s.what].name}s in season`),
  ];
  return `${poured}, ${more.join(', ')}`;
}

function onlyWords(feed: Feed, scale: number): string {
  if (feed.what === 'plain' || feed.dose) return feedWords(feed, scale);
  const kind = feed.what === 'feed' ? '' : `${WHAT_WORDS[feed.what]} `;
  return `${kind}${Math.round(ppmFromEc(feed.netEcUsCm, scale))} over base`;
}
