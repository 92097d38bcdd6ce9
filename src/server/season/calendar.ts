import { tz } from '@date-fns/tz';
import { parseISO } from 'date-fns';
import { ICalAlarmType, ICalCalendar, ICalCalendarMethod, ICalEventStatus } from 'ical-generator';
import { someOf } from '../../core/quantity/index.ts';
import { plusDays } from '../../core/regimen/index.ts';
import { timesOfWork, type Collection, type Rows } from '../collection/index.ts';

/** Days gone by that are still told. */
const PAST_DAYS = 14;
/** A plan reaches no further. */
const REACH_DAYS = 120;
/** Pots named in an event; the rest are counted. */
const MOST_CODES = 40;
/** A timed event lasts as long as a mix and its pots take, at least so many minutes. */
const LEAST_MINUTES = 30;

type PlannedDay = {
  readonly on: string;
  readonly pots: string[];
  readonly soaked: number;
  readonly places: Map<string, number>;
  /** New clay whose water is changed. */
  readonly clay: string[];
};

/**
 * The plan that stands as a calendar: a day with work is an event, by the same UID whatever becomes of it; a day that was planned once and is no more is told as
 * cancelled (RFC 5545). Timed events are told as instants, so that no zone has to travel along.
 * @param at the hour events begin at, `HH:MM` by the grower's clock; all day where it is left out
 */
export function calendarOf(rows: Rows, collection: Collection, today: string, at: string | undefined): string {
  const { settings, season, away } = collection;
  const days = plannedDays(collection, plusDays(today, -PAST_DAYS));
  addClay(rows, collection, plusDays(today, -PAST_DAYS), days);
  const { sequence, once, wasAway } = history(rows, plusDays(today, -PAST_DAYS));
  const { pot, mix } = timesOfWork(collection, rows, today);
  const calendar = new ICalCalendar({
    name: `${settings.collection}: watering`,
    prodId: { company: 'Frugal Sip', product: 'season', language: 'EN' },
    method: ICalCalendarMethod.PUBLISH,
    ttl: 60 * 60 * 6,
  });
  const stamp = season ? new Date(season.madeAt) : new Date(`${today}T00:00:00Z`);
  const event = (on: string) => {
    const start = at === undefined ? midnight(on) : parseISO(`${on}T${at}:00`, { in: tz(settings.zone) });
    return {
      id: `watering-${on}@frugal-sip`,
      sequence,
      stamp,
      lastModified: stamp,
      allDay: at === undefined,
      start: new Date(start),
    };
  };
  for (const { on, pots: codes, soaked, places, clay } of [...days.values()].sort((a, b) => (a.on < b.on ? -1 : 1))) {
    const minutes = Math.max(LEAST_MINUTES, mix.minutes + codes.length * pot.minutes);
    const { start, ...of } = event(on);
    calendar
      .createEvent({
        ...{ ...of, start },
        ...(at === undefined ? {} : { end: new Date(start.getTime() + minutes * 60_000) }),
        summary: summaryOf(codes.length, soaked, clay),
        description: [
          codes.length > 0
            ? `${[...places].map(([name, n]) => `${name}: ${n}`).join(', ')}. ${someOf(codes, MOST_CODES)}`
            : '',
          clay.length > 0 ? `Change the water of ${clay.join(', ')}` : '',
        ]
          .filter(Boolean)
          .join('. '),
        status: ICalEventStatus.CONFIRMED,
      })
      .createAlarm({ type: ICalAlarmType.display, trigger: 0 });
  }
  for (const on of once)
    if (!days.has(on)) calendar.createEvent({ ...event(on), summary: 'Watering', status: ICalEventStatus.CANCELLED });
  const stands = new Set(away.map(({ id }) => id));
  const gone = wasAway
    .filter(({ id }) => !stands.has(id))
    .map((days) => ({ ...days, status: ICalEventStatus.CANCELLED }));
  for (const { id, fromDate, untilDate, status } of [
    ...away.map((days) => ({ ...days, status: ICalEventStatus.CONFIRMED })),
    ...gone,
  ])
    calendar.createEvent({
      ...{ id: `away-${id}@frugal-sip`, sequence, stamp, status, allDay: true, summary: 'Away from the pots' },
      ...{ start: midnight(fromDate), end: midnight(plusDays(untilDate, 1)) },
    });
  return calendar.toString();
}

/** Days are told by their UTC parts, wherever this machine stands. */
const midnight = (on: string) => new Date(`${on}T00:00:00Z`);

function plannedDays({ pots, places }: Collection, since: string): Map<string, PlannedDay> {
  const days = new Map<string, PlannedDay>();
  const kept = [...pots.values()].filter(({ pot }) => pot.retiredOn === null);
  for (const { pot, place, plan } of kept)
    for (const { on, soaks } of plan?.visits ?? []) {
      if (on < since) continue;
      const day = days.get(on) ?? { on, pots: [], soaked: 0, places: new Map<string, number>(), clay: [] };
      const name = places.get(place.id)?.name ?? place.name;
      day.places.set(name, (day.places.get(name) ?? 0) + 1);
      days.set(on, { ...day, pots: [...day.pots, pot.code], soaked: day.soaked + (soaks.length > 0 ? 1 : 0) });
    }
  return days;
}

/** Changes of new clay's water, on the days that are there or on days of their own. */
function addClay(rows: Rows, { season }: Collection, since: string, days: Map<string, PlannedDay>): void {
  const planned = JSON.parse(season?.clay ?? '{}') as Record<string, string[]>;
  const names = rows<{ id: string; name: string }>('SELECT id, name FROM clay_batch WHERE retiredOn IS NULL');
  for (const { id, name } of names)
    for (const on of planned[id] ?? []) {
      if (on < since) continue;
      const day = days.get(on) ?? { on, pots: [], soaked: 0, places: new Map<string, number>(), clay: [] };
      days.set(on, { ...day, clay: [...day.clay, name] });
    }
}

function summaryOf(pots: number, soaked: number, clay: readonly string[]): string {
  const watered = `Water ${pots} pot${pots === 1 ? '' : 's'}${soaked > 0 ? `, soak ${soaked}` : ''}`;
  if (clay.length === 0) return watered;
  return pots > 0 ? `${watered}, change the clay’s water` : 'Change the clay’s water';
}

/** How often the plan was changed, every day it ever held work on, and all days away that were ever noted. */
function history(rows: Rows, since: string) {
  const [{ n } = { n: 0 }] = rows<{ n: number }>(
    `SELECT count(*) AS n FROM care_event WHERE kind = 'undone' OR (kind = 'recordsChanged' AND EXISTS (
       SELECT 1 FROM json_each(payload, '$.changes') c WHERE json_extract(c.value, '$.table') IN ('season', 'away')))`,
  );
  const once = rows<{ on: string }>(
    `SELECT DISTINCT json_extract(v.value, '$.on') AS "on" FROM care_event e, json_each(e.payload, '$.changes') c,
       json_each(coalesce(json_extract(c.value, '$.after.visits'), '[]')) v
     WHERE e.kind = 'recordsChanged' AND e.at >= @from AND json_extract(c.value, '$.table') = 'pot_plan' AND json_extract(v.value, '$.on') >= @since
     UNION SELECT d.value FROM care_event e, json_each(e.payload, '$.changes') c,
       json_each(coalesce(json_extract(c.value, '$.after.clay'), '{}')) b, json_each(b.value) d
     WHERE e.kind = 'recordsChanged' AND e.at >= @from AND json_extract(c.value, '$.table') = 'season' AND d.value >= @since ORDER BY 1`,
    // Nothing is planned further ahead.
    { from: plusDays(since, -REACH_DAYS), since },
  );
  const wasAway = rows<{ id: string; fromDate: string; untilDate: string }>(
    `SELECT DISTINCT json_extract(c.value, '$.id') AS id, json_extract(c.value, '$.after.fromDate') AS fromDate, json_extract(c.value, '$.after.untilDate') AS untilDate
     FROM care_event e, json_each(e.payload, '$.changes') c
     WHERE e.kind = 'recordsChanged' AND json_extract(c.value, '$.table') = 'away' AND json_extract(c.value, '$.after.untilDate') >= ? ORDER BY 2, 1`,
    since,
  );
  return { sequence: n, once: once.map(({ on }) => on), wasAway };
}
