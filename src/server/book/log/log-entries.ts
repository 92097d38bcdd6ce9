import { z } from 'zod';
import { look as lookShape, seen as seenCue } from '../../../contract/common.ts';
import { CUES, gradesOf, toneOf, type Cue } from '../../../contract/seen.ts';
import type { LogEntry } from '../../../contract/log.ts';
import { inSentence, ppmFromEc, volumeWords, type VolumeUnits } from '../../../core/quantity/index.ts';
import { localTimeOf } from '../../../core/regimen/index.ts';
import { growersScale, grouped, isTainted, lookOf, type Meters, type Rows } from '../../collection/index.ts';
import { readJson } from '../../database/read-json.ts';

/* A day of the log as its grower remembers it: each mix one entry, the round one, and every other line by itself. */

/** A line as far as it takes to know which entry it belongs to. */
export type BareLine = {
  readonly seq: number;
  readonly id: string;
  readonly kind: string;
  readonly at: string;
  readonly localDate: string;
  readonly potId: string | null;
  readonly batchId: string | null;
  readonly voidedBy: string | null;
  readonly corrects: string | null;
};
export const BARE = 'seq, id, kind, at, localDate, potId, batchId, voidedBy, corrects';

/** What a grower does at the pots of a round. */
const ROUND_KINDS: ReadonlySet<string> = new Set([
  'potFilled',
  'supplementStarted',
  'supplementEnded',
  'potToppedUp',
  'potLooked',
  'potReread',
  'potMeasured',
  'potPhotoKept',
  'potSkipped',
]);
const isOfBatch = ({ kind, batchId }: BareLine) =>
  batchId !== null && (kind.startsWith('batch') || kind === 'photoKept');

/** An entry of one line is named by it; what takes a line back stands with it where both are of one day. */
export function keysOf(lines: readonly BareLine[], targetOf: ReadonlyMap<string, string>): string[] {
  const byId = new Map(lines.map((line) => [line.id, line]));
  const keyOf = (line: BareLine, deep = 0): string => {
    if (isOfBatch(line)) return `mix.${line.batchId}.${line.localDate}`;
    if (ROUND_KINDS.has(line.kind)) return `round.${line.localDate}`;
    const target = byId.get(targetOf.get(line.id) ?? '');
    // An undo of an undo of an undo: nobody presses that often, but a file may say so.
    return target && target.localDate === line.localDate && deep < MOST_DEEP
      ? keyOf(target, deep + 1)
      : `line.${line.id}`;
  };
  return lines.map((line) => keyOf(line));
}
const MOST_DEEP = 8;

/** What an entry's key says: which lines of which day. */
export const readKey = (key: string): { kind: 'mix' | 'round'; of: string; on: string } | undefined => {
  const [, kind, of = '', on] = /^(mix|round)\.(?:([0-9a-f-]{36})\.)?(\d{4}-\d\d-\d\d)$/.exec(key) ?? [];
  return on ? { kind: kind as 'mix' | 'round', of, on } : undefined;
};

type Told = { readonly rows: Rows; readonly meters: Meters; readonly zone: string; readonly units: VolumeUnits };
type Summary = Omit<LogEntry, 'key' | 'time' | 'until' | 'steps' | 'line'>;

/** An entry of several lines in a few words. */
export function entryOf(key: string, lines: readonly BareLine[], told: Told): LogEntry {
  const read = readKey(key)!;
  const times = lines.map(({ at }) => at).sort();
  const time = (at: string) => localTimeOf(new Date(at), told.zone);
  const summary = read.kind === 'mix' ? mixOf(read.of, lines, told) : roundOf(lines, told);
  return { key, time: time(times[0]!), until: time(times.at(-1)!), steps: lines.length, line: null, ...summary };
}

type BatchLine = {
  name: string;
  status: string;
  volumeL: number;
  pouredVolumeL: number | null;
  pouredEcUsCm: number | null;
  pouredPh: number | null;
  ppmMeterId: string | null;
  phMeterId: string | null;
  water: string | null;
  pots: number;
};
const BATCH = `SELECT b.name, b.status, b.volumeL, b.pouredVolumeL, b.pouredEcUsCm, b.pouredPh, b.ppmMeterId, b.phMeterId, w.name AS water,
    (SELECT count(DISTINCT e.potId) FROM main.care_event e WHERE e.batchId = b.id AND e.kind IN ('potFilled', 'supplementStarted') AND e.voidedBy IS NULL) AS pots
  FROM main.batch b LEFT JOIN water w ON w.id = b.waterId WHERE b.id = ?`;

function mixOf(batchId: string, lines: readonly BareLine[], told: Told): Summary {
  const [batch] = told.rows<BatchLine>(BATCH, batchId);
  const poured = lines.some(({ kind, voidedBy }) => kind === 'batchPoured' && voidedBy === null);
  const at = lines.at(-1)!.at;
  const off = (id: string | null) => isTainted(told.meters.get(id ?? ''), at);
  const common = { group: 'Mix' as const, standsOut: backAndRight(lines), batchId };
  if (!batch)
    return { ...common, where: '', what: 'A mix', readsPpm: null, ph: null, tainted: { ppm: false, ph: false } };
  return {
    ...common,
    where: batch.name,
    what: mixWords(
      batch,
      poured,
      lines.some(({ kind }) => kind === 'batchStarted'),
      told.units,
    ),
    standsOut: [...common.standsOut, ...(batch.status === 'abandoned' ? ['given up'] : [])],
    readsPpm: poured && batch.pouredEcUsCm !== null ? ppmFromEc(batch.pouredEcUsCm, growersScale(told.meters)) : null,
    ph: poured ? batch.pouredPh : null,
    tainted: { ppm: off(batch.ppmMeterId), ph: off(batch.phMeterId) },
  };
}

function mixWords(batch: BatchLine, poured: boolean, began: boolean, units: VolumeUnits): string {
  const litres = volumeWords(1000 * (batch.pouredVolumeL ?? batch.volumeL), units);
  if (poured)
    return `${began ? 'Mixed and poured' : 'Poured'} ${litres}${batch.pots > 0 ? ` for ${counted(batch.pots, 'pot')}` : ''}`;
  return `${began ? 'Began' : 'Went on with'} ${litres}${batch.water ? ` of ${inSentence(batch.water)}` : ''}`;
}

const counted = (n: number, one: string, many = `${one}s`) => `${n} ${n === 1 ? one : many}`;

/** What was taken back or put right in it. */
function backAndRight(lines: readonly BareLine[]): string[] {
  const right = lines.filter(({ corrects, voidedBy }) => corrects !== null && voidedBy === null).length;
  const correctors = new Set(lines.flatMap(({ id, corrects }) => (corrects ? [id] : [])));
  const back = lines.filter(
    ({ kind, voidedBy }) => voidedBy !== null && kind !== 'undone' && !correctors.has(voidedBy),
  ).length;
  return [...(right > 0 ? [`${right} put right`] : []), ...(back > 0 ? [`${back} taken back`] : [])];
}

const DONE: readonly { readonly kinds: readonly string[]; readonly words: (n: number) => string }[] = [
  { kinds: ['potFilled'], words: (n) => `filled ${n}` },
  { kinds: ['supplementStarted'], words: (n) => `soaked ${n}` },
  { kinds: ['potToppedUp'], words: (n) => `topped up ${n}` },
  { kinds: ['potLooked'], words: (n) => `looked over ${n}` },
  { kinds: ['potReread'], words: (n) => `read ${n}` },
  { kinds: ['potMeasured'], words: (n) => `measured ${n}` },
  { kinds: ['potPhotoKept'], words: (n) => counted(n, 'photo') },
  { kinds: ['potSkipped'], words: (n) => `left out ${n}` },
];
/** So many pots are named one by one. */
const NAMED_POTS = 4;
const MOST_STAND_OUT = 4;

function roundOf(lines: readonly BareLine[], { rows, meters }: Told): Summary {
  const standing = lines.filter(({ voidedBy }) => voidedBy === null);
  const done = DONE.flatMap(({ kinds, words }) => {
    const pots = new Set(standing.filter(({ kind }) => kinds.includes(kind)).map(({ potId }) => potId));
    return pots.size > 0 ? [words(pots.size)] : [];
  });
  const codes = new Map(
    rows<{ id: string; code: string }>(
      'SELECT id, code FROM pot WHERE id IN (SELECT value FROM json_each(?)) ORDER BY code',
      JSON.stringify([...new Set(standing.flatMap(({ potId }) => potId ?? []))]),
    ).map(({ id, code }) => [id, code]),
  );
  const named = [...codes.values()];
  const details = rows<Detail>(
    `SELECT id, at, kind, potId, json_extract(payload, '$.look') AS look, json_extract(payload, '$.seen') AS seen,
       json_extract(payload, '$.ppmMeterId') AS ppmMeterId, json_extract(payload, '$.phMeterId') AS phMeterId
     FROM main.care_event WHERE id IN (SELECT value FROM json_each(?)) ORDER BY seq`,
    JSON.stringify(standing.map(({ id }) => id)),
  );
  return {
    group: 'Round',
    where: named.length === 0 ? '' : named.length <= NAMED_POTS ? named.join(', ') : counted(named.length, 'pot'),
    what: upper(done.join(', ')) || 'Nothing that stands',
    standsOut: [...seenIn(details, codes), ...offPens(details, meters), ...backAndRight(lines)],
    readsPpm: null,
    ph: null,
    tainted: { ppm: false, ph: false },
    batchId: null,
  };
}

/** What of a line of the round may stand out. */
type Detail = Pick<BareLine, 'id' | 'at' | 'kind' | 'potId'> & {
  readonly look: string | null;
  readonly seen: string | null;
  readonly ppmMeterId: string | null;
  readonly phMeterId: string | null;
};
const seenShape = z.array(seenCue);

const upper = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

/** Troubles that were seen, each with its pots, worst first. */
function seenIn(details: readonly Detail[], codes: ReadonlyMap<string, string>): string[] {
  const seen = details.flatMap(({ look: logged, seen: before, potId }) => {
    const look = lookOf({
      look: logged === null ? null : (readJson(lookShape, logged) ?? null),
      seen: before === null ? null : (readJson(seenShape, before) ?? null),
    });
    return look
      ? (Object.entries(look.cues) as [Cue, string][])
          .filter(([cue, grade]) => gradesOf(cue).includes(grade) && toneOf(cue, grade) !== 'good')
          .map(([cue, grade]) => ({
            what: `${CUES[cue].label} ${grade}`,
            late: toneOf(cue, grade) === 'late',
            code: codes.get(potId ?? '') ?? '',
          }))
      : [];
  });
  const found = [...grouped(seen, ({ what }) => what)].sort(
    ([, a], [, b]) =>
      Number(b[0]!.late) - Number(a[0]!.late) || b.length - a.length || (a[0]!.what < b[0]!.what ? -1 : 1),
  );
  const words = found.slice(0, MOST_STAND_OUT).map(([what, of]) => {
    const pots = [...new Set(of.map(({ code }) => code))].sort();
    return `${what}: ${pots.length <= NAMED_POTS ? pots.join(', ') : counted(pots.length, 'pot')}`;
  });
  return found.length > MOST_STAND_OUT ? [...words, `and ${found.length - MOST_STAND_OUT} more`] : words;
}

/** Whether pens that were found off read in it. */
function offPens(details: readonly Detail[], meters: Meters): string[] {
  const names = new Set<string>();
  for (const { at, ppmMeterId, phMeterId } of details)
    for (const meter of [meters.get(ppmMeterId ?? ''), meters.get(phMeterId ?? '')])
      if (meter && isTainted(meter, at)) names.add(meter.name);
  return [...names].sort().map((name) => `read by the ${name}, found off`);
}
