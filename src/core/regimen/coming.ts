import { dueOnFor, plusDays, type LocalDate } from './due.ts';
import { SOAK_WHATS, type Regimen, type Soak, type SoakWhat } from './regimen.ts';
import { SOAKS, standsFor } from './soak-kinds.ts';
import { isFirstOfSeason, soakDueFrom, type SeasonSite } from './season.ts';
import { wateringOf, type PlantNow, type Watering } from './watering.ts';

/** What of a pot's log decides on what is to come. */
export type PotHistory = {
  readonly lastFilledOn: LocalDate | undefined;
  /** The next watering's turn of the rota. */
  readonly turn: number;
  readonly lookAgainOn?: LocalDate | undefined;
  /** The day of the last soak of each kind. */
  readonly lastSoaks: Partial<Record<SoakWhat, LocalDate>>;
  /** Since when it follows this regimen. */
  readonly since: LocalDate;
  /** Soaks the grower asked for once, each from a day on. */
  readonly asked?: readonly AskedSoak[];
};
export type AskedSoak = { readonly what: SoakWhat; readonly from: LocalDate };

/** A soak that is due at a watering. */
export type DueSoak = { readonly soak: Soak; readonly first: boolean; readonly dueFrom: LocalDate };

/** One visit to come. */
export type ComingVisit = { readonly on: LocalDate; readonly watering: Watering; readonly soaks: readonly DueSoak[] };

/**
 * Soaks that are due at a watering on a day. None while the plant rests or has no roots, where the regimen says so. One that holds both counts as
 * either. One that was asked for comes once, in season or not: whoever asked knew.
 */
export function soaksDueOn(
  regimen: Regimen,
  plant: PlantNow,
  site: SeasonSite,
  history: Pick<PotHistory, 'lastSoaks' | 'since' | 'asked'>,
  on: LocalDate,
): DueSoak[] {
  const ofRegimen = !maySoak(regimen, plant)
    ? []
    : regimen.soaks.flatMap((soak): DueSoak[] => {
        const last = lastSoakOf(history.lastSoaks, soak.what);
        const dueFrom = soakDueFrom(soak, site, last, history.since);
        if (dueFrom === undefined || dueFrom > on || soakDueFrom(soak, site, undefined, on) !== on) return [];
        return [{ soak, first: isFirstOfSeason(soak, site, last, on), dueFrom }];
      });
  const asked = (history.asked ?? []).flatMap(({ what, from }): DueSoak[] => {
    const last = lastSoakOf(history.lastSoaks, what);
    if (from > on || (last !== undefined && last >= from) || ofRegimen.some(({ soak }) => standsFor(soak.what, what)))
      return [];
    return [{ soak: soakOf(regimen, what), first: false, dueFrom: from }];
  });
  return [...ofRegimen, ...asked];
}

/** A soak as the regimen gives it, or as it is usually given where it has none of the kind. */
export function soakOf(regimen: Pick<Regimen, 'soaks'>, what: SoakWhat): Soak {
  const own =
    regimen.soaks.find((soak) => soak.what === what) ?? regimen.soaks.find((soak) => standsFor(soak.what, what));
  if (own) return own;
  return SOAKS[what].usual;
}

/** Is the plant one that is soaked just now? */
export function maySoak(regimen: Regimen, plant: Pick<PlantNow, 'stage'>): boolean {
  return !regimen.stages.soaksOnlyInGrowth || (plant.stage !== 'rest' && plant.stage !== 'rooting');
}

/** The last day a pot had a soak of a kind, by itself or in one with others; of several in one, the first they bring counts. */
export function lastSoakOf(last: PotHistory['lastSoaks'], what: SoakWhat): LocalDate | undefined {
  const [first] = SOAKS[what].brings;
  const days = SOAK_WHATS.flatMap((kind) => (SOAKS[kind].brings.includes(first) ? (last[kind] ?? []) : []));
  return days.sort().at(-1);
}

/**
 * The visits of the days ahead, as they would come if each is done on its day and nothing changes.
 * @param days how far to look, whole days @returns earliest first; one that is late stands on today
 */
export function comingVisits(
  regimen: Regimen,
  plant: PlantNow,
  site: SeasonSite,
  history: PotHistory,
  today: LocalDate,
  days: number,
  workingDays?: readonly number[],
): ComingVisit[] {
  const end = plusDays(today, days);
  const visits: ComingVisit[] = [];
  const lastSoaks = { ...history.lastSoaks };
  let { turn, lastFilledOn, lookAgainOn } = history;
  for (;;) {
    const dueOn = lookAgainOn ?? dueOnFor(regimen, { lastFilledOn, turn }, today, workingDays);
    const on = dueOn > today ? dueOn : today;
    if (on > end || (visits.length > 0 && on <= visits.at(-1)!.on)) return visits;
    const soaks = soaksDueOn(regimen, plant, site, { lastSoaks, since: history.since, asked: history.asked ?? [] }, on);
    for (const { soak } of soaks) lastSoaks[soak.what] = on;
    visits.push({ on, watering: wateringOf(regimen, plant, turn), soaks });
    lastFilledOn = on;
    lookAgainOn = undefined;
    turn++;
  }
}
