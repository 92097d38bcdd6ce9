import type { DataSource, EntityManager } from 'typeorm';
import { CUE_NAMES, gradeIn, measuredAt, toneOf, type Look } from '../../contract/seen.ts';
import type { CarePayload } from '../../contract/care.ts';
import { DRY_SHARE } from '../../core/drift/index.ts';
import { relativeGrowth, type Measured, type Stretch } from '../../core/growth/index.ts';
import { readingMiddle } from '../../core/quantity/index.ts';
import { daysBetween } from '../../core/regimen/index.ts';
import { collectionOf, foldAhead, rowsFor } from './holder.ts';
import type { Collection } from './collection.ts';
import { memo } from './memo.ts';
import { isTainted, scaleOf, trustedPh } from './meters.ts';
import { pouredCost, stillMlOf } from './poured-cost.ts';
import type { Rows } from './rows.ts';
import { slices } from './slices.ts';
import { touchedBy } from './touched.ts';
import { toldBatch } from './told-mix.ts';
import type { Named } from './named.ts';
import { filledOf, lookOf, pouredFigures } from './visits.ts';

/*
 * Every filling of every pot, however long ago, as the Book sums them up: the collection itself has the last ones only. Kept as the lines say it; what pens, mixes
 * and waters are known to be since is looked up each time, so that a pen found off today tells of what it read in spring.
 */

/** A filling as its line has it. */
type Line = {
  readonly id: string;
  readonly at: string;
  readonly on: string;
  readonly dueOn: string | undefined;
  readonly batchId: string | null;
  readonly told: CarePayload<'potFilled'>['told'];
  readonly waterId: string | null;
  readonly waterEcUsCm: number | null;
  readonly ml: number;
  readonly flushMl: number;
  readonly flushWith: CarePayload<'potFilled'>['flushWith'];
  readonly ppm: number | undefined;
  readonly ph: number | undefined;
  readonly leftMl: number | null;
  readonly ppmMeterId: string | null;
  readonly phMeterId: string | null;
  /** How many things a look found that are not as they should be; undefined where nobody looked. */
  readonly troubles: number | undefined;
  /** Something was poured on since the filling before: what came out says nothing of it. */
  readonly pouredOn: boolean;
  /** Its longest leaf, where it was measured then. */
  readonly leafCm: number | undefined;
};
/** What the log has of a pot. */
type Lines = { readonly lines: readonly Line[]; readonly leaves: readonly Measured[] };

/** A filling, and what was read of the one before it. EC in µS/cm. */
export type PastVisit = {
  readonly on: string;
  /** The filling before it; undefined for the first. */
  readonly since: string | undefined;
  /** Undefined where it was brought in from older records: nobody knows when it was due. */
  readonly daysLate: number | undefined;
  readonly batchId: string | null;
  readonly waterId: string | null;
  /** What it was given. */
  readonly givenEcUsCm: number | undefined;
  readonly givenPh: number | undefined;
  readonly flushMl: number;
  readonly flushStillMl: number;
  readonly oldEcUsCm: number | undefined;
  /** The old reservoir less what had been poured. */
  readonly gapEcUsCm: number | undefined;
  readonly oldPh: number | undefined;
  readonly leftMl: number | undefined;
  readonly dry: boolean | undefined;
  readonly stillL: number;
  readonly cost: number | undefined;
  readonly troubles: number | undefined;
  /** A pH or a strength was read, and its pen is known to have been off. */
  readonly tainted: boolean;
};

/** How its longest leaf grew from one measure to the next, for its size: ln a month. */
export type Grown = Stretch;
/** A pot's fillings, and what was measured of it, each oldest first. */
export type PotPast = { readonly visits: readonly PastVisit[]; readonly grown: readonly Grown[] };
/** By pot. */
export type Past = ReadonlyMap<string, PotPast>;
/** Of a pot of which nothing is known. */
export const NO_PAST: PotPast = { visits: [], grown: [] };
type Kept = { collection: Collection; readonly lines: Map<string, Lines>; past?: Past | undefined };
const kept = new WeakMap<DataSource, Kept>();

/**
 * Every filling by pot, oldest first; kept and retired pots. The first time after a start it reads the whole log, slice by slice; after that what was written since.
 * @param manager of the reading connection as it is at the moment
 */
export async function pastOf(manager: () => EntityManager): Promise<{ collection: Collection; past: Past }> {
  const pause = slices();
  for (;;) {
    await foldAhead(manager());
    const asked = manager();
    const collection = collectionOf(asked);
    const rows = rowsFor(asked);
    const held = stillGood(asked.connection, collection, rows);
    if (held.past) return { collection, past: held.past };
    const past = new Map<string, PotPast>();
    // Written meanwhile: somebody else may have let go of what was read here, so it is begun again; what nothing touched is there already.
    const same = () => manager().connection === asked.connection && collectionOf(manager()) === collection;
    for (const [id, entry] of collection.pots) {
      const lines = held.lines.get(id) ?? linesOf(rows, id);
      held.lines.set(id, lines);
      past.set(id, pastIn(lines, entry.pot.reservoirMl, collection));
      await pause();
      if (!same()) break;
    }
    if (!same()) continue;
    held.past = past;
    return { collection, past };
  }
}

/** What was read before, without the pots that lines since then touched. */
function stillGood(source: DataSource, collection: Collection, rows: Rows): Kept {
  const before = kept.get(source);
  if (!before) {
    const fresh: Kept = { collection, lines: new Map() };
    kept.set(source, fresh);
    return fresh;
  }
  if (before.collection.seq !== collection.seq)
    for (const id of touchedBy(rows, before.collection).pots) before.lines.delete(id);
  if (before.collection !== collection) before.past = undefined;
  before.collection = collection;
  return before;
}

/** One pot's own past. */
export const pastOfPot = (rows: Rows, collection: Collection, potId: string): PotPast => {
  const entry = collection.pots.get(potId);
  return entry ? pastIn(linesOf(rows, potId), entry.pot.reservoirMl, collection) : NO_PAST;
};

function linesOf(rows: Rows, potId: string): Lines {
  const lines = fillingsOf(rows, potId);
  return { lines, leaves: leavesOf(rows, potId, lines) };
}

/** Its longest leaf, measured by itself, at a look, or at a filling's look. */
function leavesOf(rows: Rows, potId: string, lines: readonly Line[]): Measured[] {
  const alone = rows<{ at: string; on: string; leafCm: number | null }>(
    `SELECT at, localDate AS "on", coalesce(json_extract(payload, '$.figures.leafCm'), json_extract(payload, '$.look.measured.leafCm')) AS leafCm
     FROM care_event WHERE potId = ? AND kind IN ('potMeasured', 'potLooked') AND voidedBy IS NULL`,
    potId,
  );
  return [...alone, ...lines]
    .flatMap(({ at, on, leafCm }) => (leafCm == null ? [] : [{ at, on, value: leafCm }]))
    .sort((a, b) => (a.at < b.at ? -1 : 1));
}

function fillingsOf(rows: Rows, potId: string): Line[] {
  const toppedUp = rows<{ at: string }>(
    `SELECT at FROM care_event WHERE potId = ? AND kind = 'potToppedUp' AND voidedBy IS NULL ORDER BY at`,
    potId,
  );
  let before: string | undefined;
  return rows<{ id: string; at: string; on: string; payload: string }>(
    `SELECT id, at, localDate AS "on", payload FROM care_event WHERE potId = ? AND kind = 'potFilled' AND voidedBy IS NULL ORDER BY at, coalesce(standsAt, seq)`,
    potId,
  ).map(({ id, at, on, payload }) => {
    const p = filledOf(payload);
    const look = lookOf(p);
    const line: Line = {
      at,
      on,
      id,
      dueOn: p.brought ? undefined : p.dueOn,
      told: p.told,
      batchId: p.batchId,
      waterId: p.waterId,
      waterEcUsCm: p.waterEcUsCm,
      ml: p.pouredMl,
      flushMl: p.flushMl,
      flushWith: p.flushWith,
      ppm: readingMiddle(p.oldReservoir.ppm),
      ph: readingMiddle(p.oldReservoir.ph),
      leftMl: p.oldReservoir.leftMl,
      ppmMeterId: p.ppmMeterId,
      phMeterId: p.phMeterId,
      troubles: look && troublesIn(look),
      leafCm: look && measuredAt(look)?.leafCm,
      pouredOn: before !== undefined && toppedUp.some((t) => t.at > before! && t.at < at),
    };
    before = at;
    return line;
  });
}

const troublesIn = (look: Look) => CUE_NAMES.filter((cue) => toneOf(cue, gradeIn(look, cue)) !== 'good').length;

const pastIn = ({ lines, leaves }: Lines, reservoirMl: number, c: Collection): PotPast => ({
  visits: visitsIn(lines, reservoirMl, c),
  grown: grownOf(leaves),
});
const grownOf = memo((leaves: readonly Measured[]): readonly Grown[] => relativeGrowth(leaves));

const visitsIn = (lines: readonly Line[], reservoirMl: number, c: Collection) =>
  visitsOf(lines, reservoirMl, c.meters, c.batches, c.waters, c.bottles, c.products);

/** Kept while nothing that is looked up changed: a commit that made no mix leaves every other pot's as it was. */
const visitsOf = memo(visitsAnew);
function visitsAnew(
  lines: readonly Line[],
  reservoirMl: number,
  meters: Collection['meters'],
  batches: Collection['batches'],
  waters: Collection['waters'],
  bottles: Collection['bottles'],
  products: Collection['products'],
): readonly PastVisit[] {
  const collection = { meters, batches, waters, bottles, products };
  let before: { readonly line: Line; readonly given: Given } | undefined;
  return lines.map((line) => {
    const given = givenIn(line, collection);
    const read = before && !line.pouredOn ? readIn(line, collection) : NOTHING_READ;
    const gap =
      read.ec === undefined || before?.given.soundEc === undefined ? undefined : read.ec - before.given.soundEc;
    const visit: PastVisit = {
      on: line.on,
      since: before?.line.on,
      daysLate: line.dueOn === undefined ? undefined : daysBetween(line.dueOn, line.on),
      batchId: line.batchId,
      waterId: line.waterId,
      givenEcUsCm: given.ec,
      givenPh: given.ph,
      flushMl: line.flushMl,
      flushStillMl: given.flushStillMl,
      oldEcUsCm: read.ec,
      gapEcUsCm: gap,
      oldPh: read.ph,
      leftMl: read.leftMl,
      dry: read.leftMl === undefined ? undefined : read.leftMl <= DRY_SHARE * reservoirMl,
      stillL: given.stillL,
      cost: given.cost,
      troubles: line.troubles,
      tainted: read.tainted,
    };
    before = { line, given };
    return visit;
  });
}

type Given = {
  readonly ec: number | undefined;
  /** The same, where the pen that read it was in order. */
  readonly soundEc: number | undefined;
  readonly ph: number | undefined;
  readonly flushStillMl: number;
  readonly stillL: number;
  readonly cost: number | undefined;
};

function givenIn(line: Line, named: Named & Pick<Collection, 'bottles'>): Given {
  const { batches, waters, bottles } = named;
  const batch =
    line.batchId === null ? toldBatch(line, { ...line, pouredMl: line.ml }, named) : batches.get(line.batchId);
  const poured = { batch, waterId: line.waterId, ml: line.ml, flushWith: line.flushWith };
  const { afterAcidEcUsCm, pouredEcUsCm } = pouredFigures(batch, line);
  const ec = afterAcidEcUsCm ?? pouredEcUsCm;
  return {
    ec,
    soundEc: batch?.ppmTainted ? undefined : ec,
    // What is only remembered is no figure to judge by.
    ph: batch?.row.pouredPh === null ? undefined : batch?.pouredPh,
    flushStillMl: stillMlOf({ ...poured, batch: undefined, waterId: null }, waters),
    stillL: stillMlOf(poured, waters) / 1000,
    cost: pouredCost(poured, waters, bottles),
  };
}

type Read = {
  readonly ec: number | undefined;
  readonly ph: number | undefined;
  readonly leftMl: number | undefined;
  readonly tainted: boolean;
};
const NOTHING_READ: Read = { ec: undefined, ph: undefined, leftMl: undefined, tainted: false };

/** What was read of the old reservoir, without what a pen that was off says; a pH pen off by a known amount is put right. */
function readIn(line: Line, { meters }: Pick<Collection, 'meters'>): Read {
  const pen = line.ppmMeterId === null ? undefined : meters.get(line.ppmMeterId);
  const phPen = line.phMeterId === null ? undefined : meters.get(line.phMeterId);
  const off = isTainted(pen, line.at);
  return {
    ec: line.ppm === undefined || off ? undefined : line.ppm / scaleOf(pen),
    ph: line.ph === undefined ? undefined : trustedPh(line.ph, phPen, line.at),
    leftMl: line.leftMl ?? undefined,
    tainted: (line.ppm !== undefined && off) || (line.ph !== undefined && isTainted(phPen, line.at)),
  };
}
