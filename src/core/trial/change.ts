import { atShare, type FlushRule, type Regimen } from '../regimen/index.ts';

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

/** Nearer to one than to the other by less than this, nobody can say which it was. House rule. */
const PLAINLY = 1.2;

/**
 * Which arm's regimen a visit was by: 0 with the change, 1 as it was; undefined where the two would have been given alike, or nothing tells them apart. By whatever differs
 * between the two, what differs most counts.
 */
export function armGiven(given: Given, arms: readonly [Regimen, Regimen]): 0 | 1 | undefined {
  const votes = [
    nearer(given.netEcUsCm, arms.map(aim), (ec) => Math.log(Math.max(1, ec))),
    nearer(given.ph, arms.map(pour), (ph) => ph),
    nearer(given.flushTimes, arms.map(flushed), (times) => times),
    nearer(
      given.stillShare,
      arms.map(({ flush }) => (flush.with === 'still' ? 1 : 0)),
      (share) => share,
    ),
  ];
  const [first, second] = [votes.filter((v) => v === 0).length, votes.filter((v) => v === 1).length];
  return first === second ? undefined : first > second ? 0 : 1;
}

const mean = (values: readonly number[]) => values.reduce((sum, v) => sum + v, 0) / values.length;
const aim = ({ feeds }: Regimen) => mean(feeds.map((f) => f.netEcUsCm));
const pour = ({ feeds }: Regimen) => mean(feeds.map((f) => (f.pourPhLow + f.pourPhHigh) / 2));
const flushed = ({ flush }: Regimen) => (flush.at === 'never' ? 0 : flush.timesReservoir);

function nearer(found: number | undefined, arms: readonly number[], as: (value: number) => number): 0 | 1 | undefined {
  if (found === undefined || arms[0] === arms[1]) return undefined;
  const [a, b] = arms.map((arm) => Math.abs(as(found) - as(arm))) as [number, number];
  return a * PLAINLY < b ? 0 : b * PLAINLY < a ? 1 : undefined;
}
