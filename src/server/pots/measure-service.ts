import type { EntityManager } from 'typeorm';
import { GROWTH_KEYS, measuredWords, type GrowthFigures, type GrowthKey } from '../../contract/growth.ts';
import type { LastMeasured, MeasurePot } from '../../contract/pots.ts';
import { measuredAt } from '../../contract/seen.ts';
import { fieldError } from '../app-error.ts';
import type { Collection, Rows } from '../collection/index.ts';
import { appendCareEvent } from '../database/care-log.ts';
import { requirePot } from '../database/records.ts';
import { onDay, type When } from '../when.ts';

/**
 * Keeps what was measured of a plant. The same number again changes nothing.
 * @throws AppError at `on` for a day that has not come, at `figures` where there are none, at `from` for a photo that is not the pot's
 */
export async function measurePot(
  manager: EntityManager,
  potId: string,
  measureId: string,
  { figures, on, from }: MeasurePot,
  when: When,
): Promise<{ repeated: boolean }> {
  const pot = await requirePot(manager, potId);
  if (on > when.localDate) throw fieldError('on', 'That day has not come.');
  if (measuredWords(figures) === '') throw fieldError('figures', 'Type at least one figure.');
  if (from) {
    const [photo] = await manager.query<{ id: string }[]>(
      `SELECT p.id FROM photo p JOIN care_event e ON e.id = p.id OR json_extract(e.payload, '$.photoId') = p.id
       LEFT JOIN event_touch t ON t.eventId = e.id AND t.subject = ? WHERE p.id = ? AND e.voidedBy IS NULL AND (e.potId = ? OR t.eventId IS NOT NULL) LIMIT 1`,
      [`pot:${potId}`, from.photoId, potId],
    );
    if (!photo) throw fieldError('from', 'That photo is not one of this pot.');
  }
  const { repeated } = await appendCareEvent(manager, {
    id: measureId,
    kind: 'potMeasured',
    ...onDay(on, when),
    potId: pot.id,
    payload: { figures, from },
  });
  return { repeated };
}

export type MeasuredLine = {
  readonly eventId: string;
  readonly at: string;
  readonly on: string;
  readonly figures: GrowthFigures;
  readonly photoId: string | null;
};

/** Measures of a pot by themselves, oldest first. */
export const measuredOf = (rows: Rows, potId: string): MeasuredLine[] =>
  rows<{ eventId: string; at: string; on: string; figures: string; photoId: string | null }>(
    `SELECT id AS eventId, at, localDate AS "on", json_extract(payload, '$.figures') AS figures, json_extract(payload, '$.from.photoId') AS photoId
     FROM care_event WHERE potId = ? AND kind = 'potMeasured' AND voidedBy IS NULL ORDER BY at, coalesce(standsAt, seq)`,
    potId,
  ).map(({ figures, ...line }) => ({ ...line, figures: JSON.parse(figures) as GrowthFigures }));

/** The newest figure of each kind, by pot: measured by itself, or at one of the last looks. */
export function lastMeasuredOf(rows: Rows, { pots }: Pick<Collection, 'pots'>): LastMeasured {
  const kept = [...pots.values()].filter(({ pot }) => pot.retiredOn === null);
  return {
    pots: kept.map(({ pot, visits }) => {
      const last = new Map<GrowthKey, { on: string; at: string; value: number }>();
      const note = (at: string, on: string, figures: GrowthFigures) => {
        for (const key of GROWTH_KEYS) {
          const value = figures[key];
          if (value !== undefined && at >= (last.get(key)?.at ?? '')) last.set(key, { on, at, value });
        }
      };
      for (const { at, on, figures } of measuredOf(rows, pot.id)) note(at, on, figures);
      for (const { at, on, look } of visits.looks) note(at, on, measuredAt(look) ?? {});
      return { potId: pot.id, last: [...last].map(([key, { on, value }]) => ({ key, on, value })) };
    }),
  };
}
