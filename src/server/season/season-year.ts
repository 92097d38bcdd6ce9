import type { YearView } from '../../contract/season.ts';
import { openMonths, plusDays, SOAKS, soakPourMl } from '../../core/regimen/index.ts';
import {
  checkDueOn,
  inUse,
  type KnownMeter,
  potStates,
  type Collection,
  type PotState,
  type Rows,
} from '../collection/index.ts';

/** Months gone by that are shown, of twelve. */
const BACK = 3;
const MONTHS = 12;
const DAYS_A_MONTH = 365.25 / 12;

/** A bottle in use, as the Shelf reckons it. */
export type BottleInUse = {
  readonly name: string;
  readonly sizeMl: number | null;
  readonly price: number | null;
  readonly leftMl: number | null;
  readonly perDayMl: number;
  readonly daysLeft: number | null;
};

/** The year round this month: soaks in their season, pens' checks and new clay, each against what was done; what the months ask of water and bottles. */
export function yearOf(
  rows: Rows,
  collection: Collection,
  today: string,
  litresADay: number,
  bottles: readonly BottleInUse[],
): YearView {
  const months = Array.from({ length: MONTHS }, (_, n) => monthAt(today, n - BACK));
  const states = potStates(collection, today);
  const still = inUse(collection.waters).find(({ row }) => row.kind === 'still')?.row;
  const ahead = (perMonth: (n: number) => number) => months.map((_, n) => (n < BACK ? 0 : perMonth(n)));
  return {
    months,
    now: BACK,
    rows: [...soakRows(rows, states, months), ...penRows(rows, collection, today, months), ...clayRow(rows, months)],
    still: still
      ? {
          waterings: ahead(() => litresADay * DAYS_A_MONTH),
          soaks: ahead((n) => soakLitres(states, Number(months[n]!.slice(5)))),
          made: still.perDayL === null ? null : ahead(() => still.perDayL! * DAYS_A_MONTH),
          costPerL: still.costPerL,
        }
      : null,
    bottles: bottles
      .map(({ name, sizeMl, price, leftMl, perDayMl, daysLeft }) => ({
        name,
        leftMl,
        perMonthMl: perDayMl * DAYS_A_MONTH,
        emptyOn: daysLeft === null ? null : plusDays(today, daysLeft),
        costPerMonth: price !== null && sizeMl ? (price / sizeMl) * perDayMl * DAYS_A_MONTH : null,
      }))
      .sort((a, b) => ((a.emptyOn ?? '~') < (b.emptyOn ?? '~') ? -1 : 1)),
  };
}

function monthAt(today: string, by: number): string {
  const month = Number(today.slice(0, 4)) * 12 + Number(today.slice(5, 7)) - 1 + by;
  return `${Math.floor(month / 12)}-${String((month % 12) + 1).padStart(2, '0')}`;
}

/** What all soaks of a month take of the still water. */
function soakLitres(states: readonly PotState[], month: number): number {
  let litres = 0;
  for (const { regimen, site, pot } of states)
    for (const soak of regimen.params.soaks)
      if (openMonths(soak, site).includes(month) && (pot.medium !== 'basket' || soak.sprayBaskets))
        litres += soakPourMl(pot, pot.medium === 'basket' ? 'spray' : 'soak') / 1000;
  return litres;
}

type Counted = { readonly of: string; readonly month: string; readonly n: number };
const doneIn = (counted: readonly Counted[], of: string, months: readonly string[]) =>
  months.map((month) => counted.find((one) => one.of === of && one.month === month)?.n ?? 0);

/** One row for each kind of soak on each place. */
function soakRows(rows: Rows, states: readonly PotState[], months: readonly string[]): YearView['rows'] {
  const counted = rows<Counted>(
    `SELECT p.placeId || '|' || json_extract(e.payload, '$.what') AS "of", substr(e.localDate, 1, 7) AS month, count(*) AS n FROM care_event e JOIN pot p ON p.id = e.potId
     WHERE e.kind = 'supplementStarted' AND e.voidedBy IS NULL AND e.localDate >= ? GROUP BY 1, 2`,
    `${months[0]}-01`,
  );
  const found = new Map<string, YearView['rows'][number]>();
  for (const { place, site, regimen } of states)
    for (const soak of regimen.params.soaks) {
      const open = openMonths(soak, site);
      const key = `${place.id}|${soak.what}|${open.join()}`;
      if (found.has(key)) continue;
      found.set(key, {
        place: place.name,
        what: SOAKS[soak.what].name,
        due: months.map((month) => open.includes(Number(month.slice(5)))),
        done: doneIn(counted, `${place.id}|${soak.what}`, months),
      });
    }
  return [...found.values()];
}

/** Pens: checked so often, and when they were. */
function penRows(
  rows: Rows,
  { meters, settings }: Collection,
  today: string,
  months: readonly string[],
): YearView['rows'] {
  const counted = rows<Counted>(
    `SELECT json_extract(payload, '$.meterId') AS "of", substr(localDate, 1, 7) AS month, count(*) AS n FROM care_event
     WHERE kind = 'meterChecked' AND voidedBy IS NULL AND localDate >= ? GROUP BY 1, 2`,
    `${months[0]}-01`,
  );
  return [...meters.values()]
    .filter(({ retiredOn }) => retiredOn === null)
    .map((meter) => ({
      place: 'Pens',
      what: `check of ${meter.name}`,
      due: checksDue(meter, settings.zone, today, months),
      done: doneIn(counted, meter.id, months),
    }));
}

/** Months a pen's checks fall in from its next one on; one that is overdue is due this month. */
function checksDue(meter: KnownMeter, zone: string, today: string, months: readonly string[]): boolean[] {
  const next = checkDueOn(meter, zone);
  const due = new Set<string>();
  const end = `${months.at(-1)}-31`;
  for (let day = next === null || next < today ? today : next; day <= end; day = plusDays(day, meter.checkEveryDays))
    due.add(day.slice(0, 7));
  return months.map((month) => due.has(month));
}

/** New clay: how often its water was changed. What comes is told six weeks ahead, by the plan. */
function clayRow(rows: Rows, months: readonly string[]): YearView['rows'] {
  const counted = rows<Counted>(
    `SELECT 'clay' AS "of", substr(localDate, 1, 7) AS month, count(*) AS n FROM care_event WHERE kind = 'clayFilled' AND voidedBy IS NULL AND localDate >= ? GROUP BY 2`,
    `${months[0]}-01`,
  );
  return counted.length === 0
    ? []
    : [{ place: 'New clay', what: 'changes of water', due: null, done: doneIn(counted, 'clay', months) }];
}
