import { waterStock, type WaterStock } from '../../core/plan/index.ts';
import { plusDays } from '../../core/regimen/index.ts';
import type { MadeDay, Water } from '../database/entities.ts';
import { grouped } from './grouped.ts';
import type { Rows } from './rows.ts';

/** A tank as it was last looked into, and what was drawn from it since, litres by day. */
export type Tank = {
  readonly countedL: number;
  readonly countedOn: string;
  readonly countedAt: string;
  readonly drawn: ReadonlyMap<string, number>;
};

/** The tank of a water; undefined where nobody looked into it. */
export function foldTank(rows: Rows, waterId: string): Tank | undefined {
  const [look] = rows<{ litres: number; on: string; at: string }>(
    `SELECT json_extract(payload, '$.litres') AS litres, localDate AS "on", at FROM care_event
     WHERE kind = 'waterCounted' AND voidedBy IS NULL AND json_extract(payload, '$.waterId') = ? ORDER BY at DESC, seq DESC LIMIT 1`,
    waterId,
  );
  return (
    look && { countedL: look.litres, countedOn: look.on, countedAt: look.at, drawn: drawnSince(rows, waterId, look.at) }
  );
}

/** Days on which otherwise much was made or brought than usual: by water, litres by day. */
export const foldMadeOn = (rows: Rows): ReadonlyMap<string, ReadonlyMap<string, number>> =>
  new Map(
    [
      ...grouped(rows<MadeDay>('SELECT * FROM made_day WHERE litres IS NOT NULL ORDER BY onDate'), (m) => m.waterId),
    ].map(([id, days]) => [id, new Map(days.map(({ onDate, litres }) => [onDate, litres!]))]),
  );

/** What was drawn from a water by day, from a day on, L. */
export function drawnByDay(rows: Rows, waterId: string, from: string): ReadonlyMap<string, number> {
  const days = drawnSince(rows, waterId, plusDays(from, -2));
  return new Map([...days].filter(([on]) => on >= from));
}

/** The same tank with some days counted anew. */
export function drawnAnew(rows: Rows, waterId: string, tank: Tank, days: Iterable<string>): Tank {
  const drawn = new Map(tank.drawn);
  for (const day of days) {
    drawn.delete(day);
    for (const [on, litres] of drawnSince(rows, waterId, tank.countedAt, day)) drawn.set(on, litres);
  }
  return { ...tank, drawn };
}

/** Acts that draw on a tank. */
export const DRAWS: readonly string[] = [
  'batchStarted',
  'batchThinned',
  'clayFilled',
  'potHoldStarted',
  'potFilled',
  'potToppedUp',
];

/** What was drawn from a water since an instant, by day: into batches and their thinning, on clay, in holds, through pots and onto them. @param day that day alone */
function drawnSince(rows: Rows, waterId: string, since: string, day?: string): Map<string, number> {
  const until = day === undefined ? '9999' : plusDays(day, 2);
  const from = day === undefined || plusDays(day, -1) < since ? since : plusDays(day, -1);
  const within = 'AND e.at > @since AND e.at <= @until AND (@day IS NULL OR e.localDate = @day)';
  const drawn = new Map<string, number>();
  for (const { on, litres } of rows<{ on: string; litres: number }>(
    `SELECT startedOn AS "on", sum(volumeL) AS litres FROM batch WHERE waterId = @water AND startedAt > @since AND startedAt <= @until AND (@day IS NULL OR startedOn = @day) GROUP BY startedOn
     UNION ALL SELECT e.localDate, sum(json_extract(e.payload, '$.addL')) FROM care_event e JOIN batch b ON b.id = e.batchId
       WHERE b.waterId = @water AND e.kind = 'batchThinned' AND e.voidedBy IS NULL ${within} GROUP BY e.localDate
     UNION ALL SELECT e.localDate, sum(coalesce(json_extract(e.payload, '$.freshL'), json_extract(e.payload, '$.waterL'))) FROM care_event e
       WHERE e.kind IN ('clayFilled', 'potHoldStarted') AND e.voidedBy IS NULL AND json_extract(e.payload, '$.waterId') = @water ${within} GROUP BY e.localDate
     UNION ALL SELECT e.localDate, sum(json_extract(f.value, '$.ml')) / 1000.0 FROM care_event e, json_each(e.payload, '$.flushWith') f
       WHERE e.kind = 'potFilled' AND e.voidedBy IS NULL AND json_extract(f.value, '$.waterId') = @water ${within} GROUP BY e.localDate
     UNION ALL SELECT e.localDate, sum(coalesce(json_extract(e.payload, '$.pouredMl'), json_extract(e.payload, '$.ml'))) / 1000.0 FROM care_event e
       WHERE e.kind IN ('potFilled', 'potToppedUp') AND e.voidedBy IS NULL AND e.batchId IS NULL AND json_extract(e.payload, '$.waterId') = @water ${within} GROUP BY e.localDate`,
    { water: waterId, since: from, until, day: day ?? null },
  ))
    drawn.set(on, (drawn.get(on) ?? 0) + litres);
  return drawn;
}

export type Stock = WaterStock & { readonly countedL: number; readonly countedOn: string };

/** What stands in a tank: the last look, what is made a day (`madeOn`: otherwise on some), what was drawn since; null where nobody looked into it. */
export function stockOfTank(
  water: Pick<Water, 'perDayL' | 'tankL'>,
  tank: Tank | undefined,
  today: string,
  madeOn?: ReadonlyMap<string, number>,
): Stock | null {
  if (!tank) return null;
  const { countedL, countedOn, drawn } = tank;
  const litres = [...drawn].map(([on, l]) => ({ on, litres: l }));
  return {
    ...waterStock({ countedL, countedOn, perDayL: water.perDayL ?? 0, tankL: water.tankL, madeOn }, litres, today),
    countedL,
    countedOn,
  };
}
