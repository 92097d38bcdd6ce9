import { atShare, wateringOf, type FlushRule, type PlantNow, type Regimen, type Watering } from '../regimen/index.ts';

/** The one thing that half of the pots of a trial get otherwise; what no regimen holds (a treatment, one's own doing) changes nothing in it. */
export type RegimenChange =
  | { readonly kind: 'regimen'; readonly to: Regimen }
  | { readonly kind: 'strength'; readonly share: number }
  | { readonly kind: 'days'; readonly times: number }
  | { readonly kind: 'flush'; readonly timesReservoir: number }
  | { readonly kind: 'flushWith'; readonly with: FlushRule['with'] }
  | { readonly kind: 'pourPh'; readonly by: number };

/** A regimen with one thing changed. Days are whole, and no fewer than one. */
export function withChange(regimen: Regimen, change: RegimenChange): Regimen {
  switch (change.kind) {
    case 'regimen':
      return change.to;
    case 'strength':
      return atShare(regimen, change.share);
    case 'days': {
      const feeds = regimen.feeds.map((f) => ({ ...f, days: Math.max(1, Math.round(f.days * change.times)) }));
      const longest = Math.max(...feeds.map(({ days }) => days));
      const latest = regimen.latestDays;
      return { ...regimen, feeds, latestDays: latest === null ? null : Math.max(latest, longest) };
    }
    case 'flush':
      return {
        ...regimen,
        flush: {
          ...regimen.flush,
          timesReservoir: change.timesReservoir,
          exact: true,
          at: change.timesReservoir === 0 ? 'never' : regimen.flush.at === 'never' ? 'watering' : regimen.flush.at,
        },
      };
    case 'flushWith':
      return { ...regimen, flush: { ...regimen.flush, with: change.with } };
    case 'pourPh':
      return {
        ...regimen,
        feeds: regimen.feeds.map((f) => ({
          ...f,
          pourPhLow: rounded(f.pourPhLow + change.by),
          pourPhHigh: rounded(f.pourPhHigh + change.by),
        })),
      };
  }
}

const rounded = (ph: number) => Math.round(100 * ph) / 100;

/** What a pot was given at a visit, as far as it is known. */
export type Given = {
  /** What its mix was aimed at, net µS/cm. */
  readonly netEcUsCm: number | undefined;
  readonly ph: number | undefined;
  /** Flushed, in multiples of the reservoir, and the share of it that was still water. */
  readonly flushTimes: number;
  readonly stillShare: number | undefined;
};

/** Nearer to one arm than to the other by less than this (a strength's logarithm, a pH), a mix is neither's. House rule. */
const PLAINLY = { strength: Math.log(1.15), ph: 0.1 };
/** A flush within so much of what was to be given is that flush. House rule. */
const AS_GIVEN = 0.1;
/** More still water than this throughout is a flush with still water. */
const MOSTLY_STILL = 0.75;

/**
 * Which arm's regimen a visit was by: 0 with the change, 1 as it was; undefined where the two would have been given alike, or nothing tells them apart. Only what differs between the
 * two counts, for the plant as it was then.
 */
export function armGiven(given: Given, arms: readonly [Regimen, Regimen], plant: PlantNow): 0 | 1 | undefined {
  const waterings = arms.map((arm) => arm.feeds.map((_feed, turn) => wateringOf(arm, plant, turn))) as [
    Watering[],
    Watering[],
  ];
  const votes = [
    nearer(waterings, PLAINLY.strength, (w) => strengthOff(w, given.netEcUsCm)),
    nearer(waterings, PLAINLY.ph, (w) => pourOff(w, given.ph)),
    byFlush(given, arms[0].flush),
    arms[0].flush.with === arms[1].flush.with ? undefined : byStill(given, arms[0].flush),
  ];
  const [first, second] = [votes.filter((v) => v === 0).length, votes.filter((v) => v === 1).length];
  return first === second ? undefined : first > second ? 0 : 1;
}

/** How far a mix is from a watering's strength, as a factor's logarithm; undefined where one of them is plain water. */
const strengthOff = ({ netEcUsCm }: Watering, found: number | undefined) =>
  found === undefined || !(found > 0) || !(netEcUsCm > 0) ? undefined : Math.abs(Math.log(found / netEcUsCm));
/** How far a pH lies outside what a watering is poured at. */
const pourOff = ({ pourPhLow, pourPhHigh }: Watering, ph: number | undefined) =>
  ph === undefined ? undefined : Math.max(0, pourPhLow - ph, ph - pourPhHigh);

function nearer(
  arms: readonly [readonly Watering[], readonly Watering[]],
  plainly: number,
  off: (watering: Watering) => number | undefined,
): 0 | 1 | undefined {
  const [a, b] = arms.map((waterings) => Math.min(...waterings.flatMap((w) => off(w) ?? [])));
  if (!Number.isFinite(a) || !Number.isFinite(b)) return undefined;
  return b! - a! >= plainly ? 0 : a! - b! >= plainly ? 1 : undefined;
}

/** Only an amount that is given as it is tells: what salts ask for is another at every visit. */
function byFlush({ flushTimes }: Given, { exact, timesReservoir }: FlushRule): 0 | 1 | undefined {
  if (!exact) return undefined;
  return Math.abs(flushTimes - timesReservoir) <= AS_GIVEN * timesReservoir ? 0 : 1;
}

function byStill({ stillShare }: Given, first: FlushRule): 0 | 1 | undefined {
  if (stillShare === undefined) return undefined;
  return stillShare >= MOSTLY_STILL === (first.with === 'still') ? 0 : 1;
}
