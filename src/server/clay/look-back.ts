import { LOOK_BACK_DAYS, type LookBack, type LookedMark, type MissReason } from '../../contract/look-back.ts';
import { playLeach, spreadOf } from '../../core/clay/index.ts';
import { ppmFromEc } from '../../core/quantity/index.ts';
import { localDateOf, plusDays } from '../../core/regimen/index.ts';
import { growersScale, type Meters } from '../collection/index.ts';
import type { ClayBatch } from '../database/entities.ts';
import { fitBatches, fitBatchesAhead, HALF, leachOf, type ClayEvent } from './clay-log.ts';

/** Readings at the most: the newest say enough. */
const MOST_READINGS = 60;
/** Of a bag read less often before, little is known. House rule. */
const FEW_READ = 2;
const HOUR_MS = 3_600_000;

type Events = ReadonlyMap<string, readonly ClayEvent[]>;
type Read = { readonly batch: ClayBatch; readonly at: string; readonly atHours: number; readonly netPpm: number };

/**
 * How good the forecasts of soaking clay were over the last month: each reading of a bath foretold from what was known of it, and of the other bags, before it was read. What other
 * growers found is left out: when it came is not kept. Readings of a pen that was off are no judge.
 */
export async function lookBackOnClay(
  all: readonly ClayBatch[],
  events: Events,
  meters: Meters,
  { today, zone }: { today: string; zone: string },
): Promise<LookBack> {
  const batches = all.map((batch) => ({ ...batch, told: null }));
  const from = plusDays(today, -LOOK_BACK_DAYS);
  const reads = batches
    .flatMap((batch) => readsOf(batch, events.get(batch.id) ?? [], meters))
    .filter(({ at }) => localDateOf(new Date(at), zone) >= from)
    .sort((a, b) => (a.at < b.at ? -1 : a.at > b.at ? 1 : 0))
    .slice(-MOST_READINGS);
  const onPen = ppmFromEc(1, growersScale(meters)) / HALF;
  const marks: LookedMark[] = [];
  for (const read of reads) {
    const known = upTo(events, read.at);
    await fitBatchesAhead(batches, known, meters, read.batch);
    marks.push(markOf(read, batches, known, meters, { onPen, zone }));
  }
  const inside = marks.filter(({ read, low, high }) => read >= low && read <= high).length;
  const bias = marks.reduce((sum, { read, middle }) => sum + read - middle, 0) / Math.max(1, marks.length);
  return { from, to: today, figures: [{ what: 'clay', readings: marks.length, inside, width: 1, bias, marks }] };
}

/** The readings of a batch that count, when each was made. */
function readsOf(batch: ClayBatch, events: readonly ClayEvent[], meters: Meters): Read[] {
  const leach = leachOf(batch, events, meters);
  if (!leach) return [];
  const startMs = Date.parse(leach.startedAt);
  return leach.history.acts.flatMap((act) =>
    act.kind === 'reading'
      ? [{ batch, at: new Date(Math.round(startMs + act.atHours * HOUR_MS)).toISOString(), ...act }]
      : [],
  );
}

const upTo = (events: Events, at: string): Events =>
  new Map([...events].map(([clayId, all]) => [clayId, all.filter((event) => Date.parse(event.at) < Date.parse(at))]));

function markOf(
  { batch, at, atHours, netPpm }: Read,
  batches: readonly ClayBatch[],
  known: Events,
  meters: Meters,
  { onPen, zone }: { onPen: number; zone: string },
): LookedMark {
  const { fit, leach } = fitBatches(batches, known, meters, batch)[0]!;
  const history = leach!.history;
  const band = spreadOf(fit, (clay) => playLeach(clay, history, atHours).leach.ppm);
  const looked = { read: netPpm * onPen, low: band.low * onPen, middle: band.mean * onPen, high: band.high * onPen };
  const outside = looked.read < looked.low || looked.read > looked.high;
  const before = history.acts.filter(({ kind }) => kind === 'reading').length;
  const why: MissReason[] = [
    ...(history.acts.some((act) => act.kind === 'change' && act.pouredOffL === undefined)
      ? [{ kind: 'guessedOff' as const }]
      : []),
    ...(leach!.baseEcUsCm === null ? [{ kind: 'unreadWater' as const }] : []),
    ...(before < FEW_READ ? [{ kind: 'few' as const, n: before }] : []),
  ];
  return { id: batch.id, code: batch.name, on: localDateOf(new Date(at), zone), ...looked, why: outside ? why : [] };
}
