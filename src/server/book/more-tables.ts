import { carePayloads } from '../../contract/care.ts';
import { growthFigures, look as lookShape, phReading, ppmReading } from '../../contract/common.ts';
import { GROWTH, GROWTH_KEYS, ROOT_GRADES } from '../../contract/growth.ts';
import { CUE_NAMES, CUES, measuredAt, type Look } from '../../contract/seen.ts';
import { readingMiddle } from '../../core/quantity/index.ts';
import { ecOf, isTainted, lookOf } from '../collection/index.ts';
import { readJson } from '../database/read-json.ts';
import { ec, linesOfKinds, onScale, ppmHead, timeOf, type Asked, type Cell, type Lines } from './table-cells.ts';

/* Waters, clay, looks, measures and trials, line by line. */

type Line = { readonly at: string; readonly on: string; readonly payload: string };
const ofKinds = ({ rows }: Asked, kinds: readonly string[], where = '1') =>
  linesOfKinds<Line & { kind: string; potId: string | null }>(rows, kinds, {
    order: 'localDate, at, coalesce(standsAt, seq)',
    select: 'e.at, e.localDate AS "on", e.kind, e.potId, e.payload',
    where,
  });

const readShape = carePayloads.waterRead;
const countShape = carePayloads.waterCounted;

/** Each water read or looked into by itself: what it read, or what stood in its tank. */
export function waters(asked: Asked): Lines {
  const { collection, scale } = asked;
  const { zone } = collection.settings;
  const head = [
    'day',
    'time',
    'water',
    'kind',
    'µS/cm',
    ppmHead('strength', scale),
    'pH',
    'water, °C',
    'in the tank, L',
    'by a pen found off',
  ];
  const lines = function* (): Generator<readonly Cell[]> {
    for (const { at, on, kind, payload } of ofKinds(asked, ['waterRead', 'waterCounted'])) {
      const read = kind === 'waterRead' ? readJson(readShape, payload) : undefined;
      const counted = kind === 'waterCounted' ? readJson(countShape, payload) : undefined;
      const water = collection.waters.get((read ?? counted)?.waterId ?? '')?.row;
      if (!water) continue;
      const start = [on, timeOf(at, zone), water.name, water.kind];
      if (counted) yield [...start, null, null, null, null, counted.litres, ''];
      if (!read) continue;
      const { strength, ph, off } = readOf(read, at, asked);
      yield [...start, ...strength, ph, read.temperatureC, null, off];
    }
  };
  return { head, lines: lines() };
}

type ClayPayload = {
  readonly clayId?: string;
  readonly pouredOffL?: number;
  readonly freshL?: number;
  readonly to?: string;
  readonly ppm?: unknown;
  readonly ph?: unknown;
  readonly ppmMeterId?: string | null;
  readonly phMeterId?: string | null;
  readonly temperatureC?: number | null | undefined;
};
/** A strength as conductivity and on the scale, a pH, and whether a pen that was off gave one of them. */
function readOf(
  { ppm, ph: read, ppmMeterId, phMeterId, temperatureC }: Omit<ClayPayload, 'clayId'>,
  at: string,
  { collection: { meters }, scale }: Asked,
): { strength: [Cell, Cell]; ph: Cell; off: Cell } {
  const [pen, phPen] = [meters.get(ppmMeterId ?? ''), meters.get(phMeterId ?? '')];
  const [shown, ph] = [figureOf(ppm, 'ppm'), figureOf(read, 'pH')];
  const strength = shown === undefined ? null : ecOf(shown, pen, temperatureC ?? null);
  const off = (shown !== undefined && isTainted(pen, at)) || (ph !== undefined && isTainted(phPen, at));
  return { strength: [ec(strength), onScale(strength, scale)], ph, off: off ? 'yes' : '' };
}

const CLAY_WORDS: Readonly<Record<string, string>> = {
  clayFilled: 'water on',
  clayRead: 'read',
  clayDrained: 'drained',
  clayDried: 'ran dry',
};

/** What was done with each batch of new clay, and what it read. */
export function clay(asked: Asked): Lines {
  const { collection, rows, scale } = asked;
  const { zone } = collection.settings;
  const names = new Map(
    rows<{ id: string; name: string }>('SELECT id, name FROM clay_batch').map(({ id, name }) => [id, name]),
  );
  const head = [
    ...[
      'day',
      'time',
      'clay',
      'what',
      'poured off, L',
      'poured off to',
      'fresh water, L',
      'µS/cm',
      ppmHead('strength', scale),
    ],
    ...['pH', 'water, °C', 'by a pen found off'],
  ];
  const lines = function* (): Generator<readonly Cell[]> {
    for (const { at, on, kind, payload } of ofKinds(asked, Object.keys(CLAY_WORDS))) {
      const p = JSON.parse(payload) as ClayPayload;
      const name = names.get(p.clayId ?? '');
      if (name === undefined) continue;
      const { strength, ph, off } = readOf(p, at, asked);
      yield [
        ...[on, timeOf(at, zone), name, CLAY_WORDS[kind], p.pouredOffL, p.to, p.freshL],
        ...[...strength, ph, p.temperatureC, off],
      ];
    }
  };
  return { head, lines: lines() };
}

function figureOf(reading: unknown, quantity: 'ppm' | 'pH'): number | undefined {
  const read = (quantity === 'pH' ? phReading : ppmReading).safeParse(reading);
  return read.success ? readingMiddle(read.data) : undefined;
}

type LookPayload = { readonly look?: unknown; readonly seen?: readonly string[] | null };
const lookIn = (payload: string): Look | undefined => {
  const { look, seen } = JSON.parse(payload) as LookPayload;
  const read = look ? lookShape.safeParse(look).data : undefined;
  return lookOf({ look: read ?? null, seen: (seen ?? null) as Parameters<typeof lookOf>[0]['seen'] });
};

function measuredIn(payload: string) {
  const look = lookIn(payload);
  return look && measuredAt(look);
}

/** Each look at a pot: every cue with its grade, a look that says nothing of it found what is expected. */
export function looks(asked: Asked): Lines {
  const { collection } = asked;
  const head = ['day', 'pot', 'name', 'plant', ...CUE_NAMES.map((cue) => CUES[cue].label), 'note'];
  const lines = function* (): Generator<readonly Cell[]> {
    for (const { on, potId, payload } of ofKinds(asked, ['potFilled', 'potLooked'])) {
      const pot = collection.pots.get(potId ?? '')?.pot;
      const look = lookIn(payload);
      if (!pot || !look) continue;
      yield [
        ...[on, pot.code, pot.name, pot.plant],
        ...CUE_NAMES.map((cue) => look.cues[cue] ?? Object.keys(CUES[cue].grades)[0]),
        look.note,
      ];
    }
  };
  return { head, lines: lines() };
}

/** Lines that may have a measure in them: of most fillings nobody measured anything. */
const MEASURED = `kind = 'potMeasured' OR CASE WHEN json_valid(payload) THEN json_extract(payload, '$.look.growths', '$.look.leafMm', '$.look.measured') END <> '[null,null,null]'`;

/** What was measured of each plant: by itself, in a photo, or at a look. */
export function measures(asked: Asked): Lines {
  const { collection } = asked;
  const head = [
    ...['day', 'pot', 'name', 'plant'],
    ...GROWTH_KEYS.map((key) => `${GROWTH[key].label}${GROWTH[key].unit ? `, ${GROWTH[key].unit}` : ''}`),
    'in a photo',
  ];
  const lines = function* (): Generator<readonly Cell[]> {
    for (const { on, kind, potId, payload } of ofKinds(asked, ['potMeasured', 'potFilled', 'potLooked'], MEASURED)) {
      const pot = collection.pots.get(potId ?? '')?.pot;
      if (!pot) continue;
      const own = kind === 'potMeasured' ? (JSON.parse(payload) as { figures: unknown; from: unknown }) : undefined;
      const figures = own ? growthFigures.safeParse(own.figures).data : measuredIn(payload);
      if (!figures) continue;
      yield [
        ...[on, pot.code, pot.name, pot.plant],
        ...GROWTH_KEYS.map((key) =>
          key === 'roots' && figures[key] !== undefined ? ROOT_GRADES[figures[key]] : figures[key],
        ),
        own?.from ? 'yes' : '',
      ];
    }
  };
  return { head, lines: lines() };
}

/** Which pot was in which trial, in which arm and pair, from when to when. */
export function trials({ collection }: Asked): Lines {
  const head = [
    ...[
      'trial',
      'measure',
      'began',
      'weeks',
      'ended',
      'why it ended',
      'pot',
      'name',
      'plant',
      'arm',
      'pair',
      'in it from',
    ],
    ...['left', 'why it left'],
  ];
  const lines = function* (): Generator<readonly Cell[]> {
    for (const trial of collection.trials)
      for (const of of collection.trialPots) {
        const pot = collection.pots.get(of.potId)?.pot;
        if (of.trialId !== trial.id || !pot) continue;
        yield [
          ...[trial.question, trial.measure, trial.startOn, trial.weeks, trial.endedOn, trial.endWhy],
          ...[pot.code, pot.name, pot.plant, of.arm === 0 ? 'with the change' : 'as it was', of.pair + 1],
          ...[of.fromOn, of.leftOn, of.leftWhy],
        ];
      }
  };
  return { head, lines: lines() };
}
