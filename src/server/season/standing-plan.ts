import type { SeasonView } from '../../contract/season.ts';
import { daysBetween, localDateOf } from '../../core/regimen/index.ts';
import type { Collection, PotPlan, PotState } from '../collection/index.ts';

/** The plan that stands holds for a pot only from what it holds next: earlier visits were made, or passed. */
function aheadOf(s: PotState, plan: PotPlan | undefined, today: string) {
  const { planned } = s;
  if (!planned || !plan) return [];
  return plan.visits
    .filter(({ on }) => on >= planned.on)
    .map((visit) => ({ ...visit, day: Math.max(0, daysBetween(today, visit.on)) }));
}

/** What days the pots of a lot are watered on by the plan: as most of them are. */
function mostOf<T>(each: readonly T[], key: (one: T) => string): T {
  const counts = new Map<string, { one: T; n: number }>();
  for (const one of each) {
    const known = counts.get(key(one)) ?? { one, n: 0 };
    counts.set(key(one), { one: known.one, n: known.n + 1 });
  }
  return [...counts.values()].reduce((most, one) => (one.n > most.n ? one : most)).one;
}

/** What tells pots apart that the plan waters on other days; '' where it says nothing. */
export function planKey(s: PotState, today: string): string {
  const { plan } = s.entry;
  if (!plan) return '';
  const ahead = aheadOf(s, plan, today);
  return JSON.stringify([
    ahead[0]?.day,
    plan.pins.filter(({ on }) => on >= today),
    plan.nots.filter((on) => on >= today),
  ]);
}

/** The plan that stands, told by the lots of today; null where none was kept. */
export function standingPlan(
  { season, settings }: Collection,
  lots: readonly {
    readonly lot: SeasonView['problem']['lots'][number];
    readonly states: readonly PotState[];
  }[],
  today: string,
): SeasonView['kept'] {
  if (!season) return null;
  const clay = JSON.parse(season.clay) as Record<string, string[]>;
  const ahead = (days: readonly string[]) => days.map((on) => daysBetween(today, on)).filter((day) => day >= 0);
  const each = lots.map(({ states }) =>
    mostOf(
      states.map((s) => aheadOf(s, s.entry.plan, today)),
      (visits) => JSON.stringify(visits),
    ),
  );
  return {
    madeAt: season.madeAt,
    madeOn: localDateOf(new Date(season.madeAt), settings.zone),
    aim: season.aim,
    visits: each.map((visits) => [...new Set(visits.map(({ day }) => day))]),
    soaks: lots.map(({ lot }, l) => lot.soaks.map((soak) => soakDay(soak, each[l]!))),
    behind: lots.flatMap(({ states }) =>
      states.flatMap(({ planned, pot }) => (planned && planned.on < today ? [pot.code] : [])),
    ),
    clay: Object.fromEntries(Object.entries(clay).map(([id, days]) => [id, ahead(days)])),
  };
}

type Soak = SeasonView['problem']['lots'][number]['soaks'][number];
const soakDay = ({ what, from, until }: Soak, visits: ReturnType<typeof aheadOf>): number =>
  visits.find(({ day, soaks }) => from <= day && day <= until && soaks.includes(what))?.day ?? -1;
