import { z } from 'zod';
import { localDate } from '../../contract/common.ts';
import type { YearView } from '../../contract/season-pages.ts';
import type { WaterPart } from '../database/entities.ts';
import { readJson } from '../database/read-json.ts';
import { ppmFromEc } from '../../core/quantity/index.ts';
import {
  doseWords,
  openMonths,
  plusDays,
  SOAKS,
  soakPourMl,
  wateringOf,
  type Watering,
} from '../../core/regimen/index.ts';
import {
  checkDueOn,
  type KnownMeter,
  grouped,
  growersScale,
  potStates,
  stillWaters,
  WHAT_WORDS,
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
  const parts = partsOf(rows);
  const stills = stillWaters(collection);
  const made = stills.some(({ perDayL }) => perDayL !== null)
    ? stills.reduce((sum, { perDayL }) => sum + (perDayL ?? 0), 0)
    : null;
  const ahead = (perMonth: (n: number) => number) => months.map((_, n) => (n < BACK ? 0 : perMonth(n)));
  return {
    on: today,
    months,
    now: BACK,
    rows: [
      ...soakRows(rows, states, months),
      ...penRows(rows, collection, today, months),
      ...parts.map((part) => partRow(part, today, months)),
      ...clayRow(rows, months),
    ],
    strengths: strengthsOf(states, collection),
    parts: parts.map(({ id, name, everyDays, dueOn }) => ({ id, name, everyDays, dueOn })),
    still: stills[0]
      ? {
          waterings: ahead(() => litresADay * DAYS_A_MONTH),
          soaks: ahead((n) => soakLitres(states, Number(months[n]!.slice(5)))),
          made: made === null ? null : ahead(() => made * DAYS_A_MONTH),
          costPerL: stills[0].costPerL,
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
  const due = dueMonths(checkDueOn(meter, zone) ?? today, meter.checkEveryDays, today, months);
  return months.map((month) => due.has(month));
}

/** Months in which something is due that is due every so many days; what is overdue is due this month. */
function dueMonths(next: string, everyDays: number, today: string, months: readonly string[]): Set<string> {
  const due = new Set<string>();
  const end = `${months.at(-1)}-31`;
  for (let day = next < today ? today : next; day <= end; day = plusDays(day, everyDays)) due.add(day.slice(0, 7));
  return due;
}

type Part = {
  readonly id: string;
  readonly name: string;
  readonly everyDays: number;
  readonly changed: readonly string[];
  readonly dueOn: string;
};

/** Days a part was put in new, in order; none where that cannot be understood. */
export const changesOf = ({ changed }: Pick<WaterPart, 'changed'>): string[] =>
  [...(readJson(z.array(localDate), changed) ?? [])].sort();

/** What wears in making still water, the first that is due first. */
function partsOf(rows: Rows): Part[] {
  return rows<WaterPart>('SELECT * FROM water_part WHERE droppedOn IS NULL ORDER BY rowid')
    .flatMap(({ id, name, everyDays, changed }) => {
      const days = changesOf({ changed });
      const last = days.at(-1);
      return last === undefined ? [] : [{ id, name, everyDays, changed: days, dueOn: plusDays(last, everyDays) }];
    })
    .sort((a, b) => (a.dueOn < b.dueOn ? -1 : 1));
}

function partRow(
  { name, everyDays, changed, dueOn }: Part,
  today: string,
  months: readonly string[],
): YearView['rows'][number] {
  const due = dueMonths(dueOn, everyDays, today, months);
  return {
    place: 'Still water',
    what: name,
    due: months.map((month) => due.has(month)),
    done: months.map((month) => changed.filter((on) => on.startsWith(month)).length),
  };
}

const STAGES = ['growth', 'rooting', 'rest', 'spike', 'bloom'] as const;

/** How strong each regimen pours by the plant's stage, on each place, and how many pots are at it now. Which stage comes when only the plants say. */
function strengthsOf(states: readonly PotState[], { meters }: Collection): YearView['strengths'] {
  const groups = grouped(states, ({ place, regimen }) => `${place.id}|${regimen.id}`);
  return [...groups.values()].map((group) => {
    const [{ place, regimen, plant }] = group as [PotState];
    return {
      place: place.name,
      regimen: regimen.name,
      byStage: STAGES.map((stage) => ({
        stage,
        words: strengthWords(wateringOf(regimen.params, { ...plant, stage }, 0), growersScale(meters)),
        pots: group.filter((s) => s.plant.stage === stage).length,
      })),
    };
  });
}

const strengthWords = ({ what, dose, netEcUsCm }: Watering, scale: number): string => {
  if (what === 'plain') return 'plain water';
  const strength = dose ? doseWords(dose) : `${Math.round(ppmFromEc(netEcUsCm, scale))}`;
  return what === 'feed' ? strength : `${WHAT_WORDS[what]}, ${strength}`;
};

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
