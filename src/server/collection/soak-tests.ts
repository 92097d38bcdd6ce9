import type { CarePayload } from '../../contract/care.ts';
import { readingMiddle } from '../../core/quantity/index.ts';
import { readCareEvent } from '../database/care-log.ts';
import type { CareEvent } from '../database/entities.ts';
import type { BatchEntry } from './batches.ts';
import { isTainted, phOffset, type Meters, scaleOf } from './meters.ts';
import { listed, type Rows } from './rows.ts';
import type { Named } from './named.ts';
import { waterAt, type WaterThen } from './waters.ts';

/** One reading of a soak test, as logged; pH put right by what its pen is known to be off. */
export type SoakReadingLogged = {
  readonly eventId: string;
  readonly minutes: number;
  readonly opened: boolean;
  readonly ph: number | undefined;
  readonly shownPh: number | undefined;
  /** A drop kit's range, as it showed it. */
  readonly range: { readonly low: number; readonly high: number } | undefined;
  /** 1 SD of a range: a drop kit's. */
  readonly phSd: number | undefined;
  readonly ecUsCm: number | undefined;
  readonly tainted: boolean;
};
export type SoakLogged = {
  readonly id: string;
  readonly potId: string;
  readonly batchId: string | null;
  readonly at: string;
  readonly on: string;
  readonly started: CarePayload<'soakStarted'>;
  readonly ended: { readonly at: string; readonly leakedMl: number | null } | undefined;
  readonly reads: readonly SoakReadingLogged[];
  /** What it was filled with: a mix, or a water as it was then. */
  readonly fill: BatchEntry | WaterThen | undefined;
  readonly named: string | null;
  /** The mix that was in the pot before it, and how much of it was poured. */
  readonly before: { readonly batch: BatchEntry; readonly pouredMl: number } | undefined;
};
type SoakKind = 'soakStarted' | 'soakRead' | 'soakEnded';
type Gathered = { -readonly [K in keyof SoakLogged]: SoakLogged[K] } & { reads: SoakReadingLogged[] };

/** Soak tests by pot, oldest first. */
export function foldSoakTests(
  rows: Rows,
  { meters, waters, batches }: Named,
  potIds: readonly string[],
): Map<string, SoakLogged[]> {
  const lines = rows<CareEvent>(
    `SELECT e.* FROM care_event e WHERE e.kind IN ('soakStarted', 'soakRead', 'soakEnded') AND e.voidedBy IS NULL AND e.potId IN (SELECT value FROM json_each(?))
     ORDER BY e.at, coalesce(e.standsAt, e.seq)`,
    listed(potIds),
  );
  if (lines.length === 0) return new Map();
  const fedBefore = lastFills(rows, lines);
  const soaks = new Map<string, Gathered>();
  for (const line of lines) {
    const event = readCareEvent<SoakKind>(line);
    if (event.kind === 'soakStarted') {
      soaks.set(event.id, toSoak(event, { waters, batches }, fedBefore.get(event.id)));
      continue;
    }
    const soak = soaks.get(event.payload.soakId);
    if (!soak) continue;
    if (event.kind === 'soakEnded') soak.ended = { at: event.at, leakedMl: event.payload.leakedMl };
    else soak.reads.push(toReading(event, meters));
  }
  const byPot = new Map<string, SoakLogged[]>();
  for (const soak of soaks.values()) {
    const mine = byPot.get(soak.potId);
    if (mine) mine.push(soak);
    else byPot.set(soak.potId, [soak]);
  }
  return byPot;
}

type LastFill = { readonly soakId: string; readonly batchId: string | null; readonly pouredMl: number };

/** What was poured last before each test began, by the test. */
function lastFills(rows: Rows, lines: readonly CareEvent[]): Map<string, LastFill> {
  const found = rows<LastFill>(
    `SELECT j.value AS soakId, f.batchId, json_extract(f.payload, '$.pouredMl') AS pouredMl FROM json_each(?) j JOIN care_event s ON s.id = j.value
       JOIN care_event f ON f.id = (SELECT id FROM care_event WHERE potId = s.potId AND kind = 'potFilled' AND voidedBy IS NULL AND at < s.at ORDER BY at DESC, coalesce(standsAt, seq) DESC LIMIT 1)`,
    listed(lines.filter((l) => l.kind === 'soakStarted').map((l) => l.id)),
  );
  return new Map(found.map((row) => [row.soakId, row]));
}

function toSoak(
  { id, potId, batchId, at, localDate: on, payload: started }: EventOf<'soakStarted'>,
  { waters, batches }: Pick<Named, 'waters' | 'batches'>,
  last: LastFill | undefined,
): Gathered {
  const batch = batchId === null ? undefined : batches.get(batchId);
  const water = started.waterId === null ? undefined : waters.get(started.waterId);
  const byFeed = started.soakKind === 'feed';
  const lastBatch = last?.batchId ? batches.get(last.batchId) : undefined;
  return {
    ...{ id, potId: potId!, batchId, at, on, started, ended: undefined, reads: [] },
    fill: byFeed ? batch : water && waterAt(water, at),
    named: (byFeed ? batch : water)?.row.name ?? null,
    before: lastBatch && { batch: lastBatch, pouredMl: last!.pouredMl },
  };
}

type EventOf<K extends SoakKind> = Extract<ReturnType<typeof readCareEvent<SoakKind>>, { kind: K }>;

function toReading(event: EventOf<'soakRead'>, meters: Meters): SoakReadingLogged {
  const { payload: p } = event;
  const meter = p.phMeterId === null ? undefined : meters.get(p.phMeterId);
  const offset = phOffset(meter, event.at);
  const shownPh = readingMiddle(p.ph);
  const shown = readingMiddle(p.ppm);
  const scale = scaleOf(meters.get(p.ppmMeterId ?? ''));
  return {
    eventId: event.id,
    minutes: p.afterMinutes,
    opened: p.opened,
    shownPh,
    range: p.ph.kind === 'range' ? { low: p.ph.low, high: p.ph.high } : undefined,
    // Anywhere in the range alike: its width over the root of twelve.
    phSd: p.ph.kind === 'range' ? (p.ph.high - p.ph.low) / Math.sqrt(12) : undefined,
    ph: shownPh === undefined ? undefined : shownPh - offset,
    ecUsCm: shown === undefined ? undefined : shown / scale,
    tainted: isTainted(meter, event.at) && offset === 0,
  };
}
