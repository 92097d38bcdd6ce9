import type { EntityManager } from 'typeorm';
import {
  BRIM_PER_CLAY,
  holdHistory,
  playLeach,
  POT_ERROR,
  spreadOf,
  type ClayFit,
  type ClayHold,
  type LeachHistory,
  type Spread,
  POT_AT_LARGE,
} from '../../core/clay/index.ts';
import type { CarePayload } from '../../contract/care.ts';
import { readingMiddle } from '../../core/quantity/index.ts';
import { readCareEvent } from '../database/care-log.ts';
import type { CareEvent, Pot } from '../database/entities.ts';
import { HALF } from './clay-log.ts';
import { isTainted, type Meters, rowsFor, scaleOf } from '../collection/index.ts';
import { fitOf } from './fits.ts';

const HOUR_MS = 3_600_000;

/** One filling of a pot with its holes taped, as logged. Conductivities as read, µS/cm. */
export type Hold = {
  readonly id: string;
  readonly potId: string;
  readonly at: string;
  readonly on: string;
  readonly started: CarePayload<'potHoldStarted'>;
  readonly drainedAt: string | null;
  readonly reads: readonly {
    readonly eventId: string;
    readonly at: string;
    readonly where: 'top' | 'hole';
    readonly ecUsCm: number;
    readonly tainted: boolean;
  }[];
};

/** Holds of every pot, or of one, oldest first. */
export function readHolds(manager: EntityManager, meters: Meters, potId?: string): Map<string, Hold[]> {
  const rows = rowsFor(manager)<CareEvent>(
    `SELECT * FROM care_event WHERE kind IN ('potHoldStarted', 'potHoldRead', 'potHoldDrained') AND voidedBy IS NULL ${potId ? 'AND potId = ?' : ''}
     ORDER BY at, coalesce(standsAt, seq)`,
    ...(potId ? [potId] : []),
  );
  type Open = { -readonly [K in keyof Hold]: Hold[K] } & { reads: Hold['reads'][number][] };
  const holds = new Map<string, Open>();
  for (const row of rows) {
    const event = readCareEvent(row);
    if (event.kind === 'potHoldStarted')
      holds.set(event.id, {
        id: event.id,
        potId: event.potId!,
        at: event.at,
        on: event.localDate,
        started: event.payload,
        drainedAt: null,
        reads: [],
      });
    if (event.kind === 'potHoldDrained') {
      const hold = holds.get(event.payload.holdId);
      if (hold) hold.drainedAt = event.at;
    }
    if (event.kind === 'potHoldRead') {
      const shown = readingMiddle(event.payload.reading);
      const meter = meters.get(event.payload.ppmMeterId ?? '');
      if (shown === undefined) continue;
      holds.get(event.payload.holdId)?.reads.push({
        eventId: event.id,
        at: event.at,
        where: event.payload.where,
        ecUsCm: shown / scaleOf(meter),
        tainted: isTainted(meter, event.at),
      });
    }
  }
  const byPot = new Map<string, Hold[]>();
  for (const hold of holds.values()) byPot.set(hold.potId, [...(byPot.get(hold.potId) ?? []), hold]);
  return byPot;
}

/** The latest reading of a hold at a place; a tainted one counts only where there is no other. */
export function readAt(hold: Hold, where: 'top' | 'hole'): Hold['reads'][number] | undefined {
  const there = hold.reads.filter((r) => r.where === where);
  return there.findLast((r) => !r.tainted) ?? there.at(-1);
}

/** Litres of clay in a pot: as written, or by its brim or its reservoir. */
export function clayOf(pot: Pick<Pot, 'clayL' | 'brimMl' | 'reservoirMl'>): number {
  return pot.clayL ?? (pot.brimMl ?? pot.reservoirMl * 2.5) / 1000 / BRIM_PER_CLAY;
}
/** What fills it to the brim with its holes taped, L. */
export function brimOf(pot: Pick<Pot, 'clayL' | 'brimMl' | 'reservoirMl'>): number {
  return pot.brimMl === null ? clayOf(pot) * BRIM_PER_CLAY : pot.brimMl / 1000;
}

/** What is believed of the clay in a pot, after every hold since it was last potted. Strengths at the half scale, net of the hold's water. */
export type PotFit = {
  readonly fit: ClayFit;
  readonly history: LeachHistory;
  readonly startedAt: string | undefined;
  readonly read: boolean;
};

/** @param fedEcUsCm what the pot is fed, as known now, over no base */
export function fitPot(pot: Pot, holds: readonly Hold[], fedEcUsCm: number | undefined): PotFit {
  const held = heldSoFar(pot, holds, fedEcUsCm);
  return { ...held, fit: fitOf(potQuestion(held)) };
}

/** What is asked of a pot's clay. */
export const potQuestion = ({ history }: Pick<PotFit, 'history'>) => ({
  prior: POT_AT_LARGE,
  history,
  error: POT_ERROR,
});

/** Every hold since it was last potted, as the model plays them. */
export function heldSoFar(pot: Pot, holds: readonly Hold[], fedEcUsCm: number | undefined): Omit<PotFit, 'fit'> {
  const mine = holds.filter((hold) => pot.repottedOn === null || hold.on >= pot.repottedOn);
  const first = mine[0];
  const net = (ec: number, hold: Hold) => Math.max(0, ec - (hold.started.baseEcUsCm ?? 0)) * HALF;
  // A hold ends at the latest when the next begins, whatever was taken back of it since.
  const untilOf = (i: number) => (mine[i + 1] ? Date.parse(mine[i + 1]!.at) : Infinity);
  const steps = mine.map((hold, i): ClayHold => ({
    atHours: (Date.parse(hold.at) - Date.parse(first!.at)) / HOUR_MS,
    waterL: hold.started.waterL,
    minutes: Math.min(
      hold.drainedAt ? (Date.parse(hold.drainedAt) - Date.parse(hold.at)) / 60_000 : hold.started.minutes,
      (untilOf(i) - Date.parse(hold.at)) / 60_000,
    ),
    readings: hold.reads
      .filter((r) => r.where === 'top' && !r.tainted && Date.parse(r.at) < untilOf(i))
      .map((r) => ({ afterMinutes: (Date.parse(r.at) - Date.parse(hold.at)) / 60_000, netPpm: net(r.ecUsCm, hold) })),
    fedNetPpm: hold.started.fedEcUsCm === null ? undefined : net(hold.started.fedEcUsCm, hold),
  }));
  const history = holdHistory(clayOf(pot), steps, (fedEcUsCm ?? 0) * HALF);
  const read = steps.some((step) => step.readings.length > 0);
  return { history, startedAt: first?.at, read };
}

/** What the top should read so many minutes into a hold that runs, from everything before it. Half scale, net. */
export function expectedTop(pot: Pot, holds: readonly Hold[], running: Hold, minutes: number): Spread | undefined {
  const before = holds.filter((h) => h.id !== running.id);
  const { read } = fitPot(pot, before, undefined);
  if (!read) return undefined;
  const { fit, history } = fitPot(pot, [...before, { ...running, reads: [], drainedAt: null }], undefined);
  // The last act is the draining that is still to come.
  const standing = { ...history, acts: history.acts.slice(0, -1) };
  const start = history.acts.at(-1)!.atHours - running.started.minutes / 60;
  return spreadOf(fit, (clay) => playLeach(clay, standing, start + minutes / 60).leach.ppm, POT_ERROR.ofBath);
}
