import { z } from 'zod';
import { LIGHT_WORDS, TREATMENT_WORDS, type Light } from '../../../contract/kinds.ts';
import type { Turn, TurnKind } from '../../../contract/turns.ts';
import { upperFirst } from '../../../core/quantity/index.ts';
import { daysBetween, localDateOf, plusDays } from '../../../core/regimen/index.ts';
import { lastingChanges, regimenDifferences, type Used } from '../../../core/turn/index.ts';
import {
  growersScale,
  memo,
  readParams,
  versionsOf,
  type Collection,
  type Past,
  type PastVisit,
  type PotEntry,
  type Rows,
} from '../../collection/index.ts';
import type { RegimenRow } from '../../database/entities.ts';
import { readJson } from '../../database/read-json.ts';

/** A turn as the log has it, before the grower said anything of it. */
export type FoundTurn = Pick<Turn, 'id' | 'kind' | 'on' | 'until' | 'title' | 'what'> & {
  readonly potIds: readonly string[] | null;
};

/** What changes in a few pots today and in others next week is one turn. House rule. */
const ONE_TURN_DAYS = 21;
/** What stood there as the collection was set up is no turn. House rule. */
const SET_UP_DAYS = 14;
/** Codes named before the rest are counted. */
const NAMED = 6;

type Change = { readonly on: string; readonly key: string; readonly potId: string };

/** Every turn there was, oldest first; found once a commit. */
export const findTurns = memo(foundTurns);
function foundTurns(rows: Rows, collection: Collection, past: Past): FoundTurn[] {
  const first = firstDay(past);
  if (first === undefined) return [];
  return [
    ...ofRegimens(collection),
    ...ofUse(collection, past, 'feed'),
    ...ofUse(collection, past, 'water'),
    ...ofClay(rows, collection),
    ...ofPens(rows, collection, plusDays(first, SET_UP_DAYS)),
    ...ofPlaces(rows, collection, plusDays(first, SET_UP_DAYS)),
    ...ofTreatments(collection),
    ...ofLines(rows, collection),
  ].sort((a, b) => (a.on < b.on ? -1 : a.on > b.on ? 1 : a.id < b.id ? -1 : 1));
}

export function firstDay(past: Past): string | undefined {
  let first: string | undefined;
  for (const { visits } of past.values())
    if (visits[0] && (first === undefined || visits[0].on < first)) first = visits[0].on;
  return first;
}

/** Changes of several pots that are one: the same thing, not far apart. */
function together(changes: readonly Change[]): { on: string; key: string; potIds: string[] }[] {
  const found: { on: string; key: string; potIds: string[] }[] = [];
  const last = new Map<string, (typeof found)[number]>();
  for (const { on, key, potId } of [...changes].sort((a, b) => (a.on < b.on ? -1 : a.on > b.on ? 1 : 0))) {
    const before = last.get(key);
    if (before && daysBetween(before.on, on) <= ONE_TURN_DAYS) {
      if (!before.potIds.includes(potId)) before.potIds.push(potId);
      continue;
    }
    const turn = { on, key, potIds: [potId] };
    last.set(key, turn);
    found.push(turn);
  }
  return found;
}

const idOf = (kind: TurnKind, on: string, key: string) => `${kind}|${on}|${key}`;

/** "R-01, R-02, R-11"; "R-01 and 20 more". */
export function codesOf(collection: Pick<Collection, 'pots'>, potIds: readonly string[]): string {
  const codes = potIds.flatMap((id) => collection.pots.get(id)?.pot.code ?? []).sort();
  return codes.length <= NAMED ? codes.join(', ') : `${codes[0]} and ${codes.length - 1} more`;
}

const SEP = '>';

function ofRegimens(collection: Collection): FoundTurn[] {
  const scale = growersScale(collection.meters);
  const changes = [...collection.pots.values()].flatMap(({ pot, follows }): Change[] =>
    follows.slice(1).map((spell, i) => ({
      on: spell.fromDate,
      key: `${follows[i]!.regimenId}${SEP}${spell.regimenId}`,
      potId: pot.id,
    })),
  );
  return together(changes).flatMap(({ on, key, potIds }) => {
    const [from, to] = key.split(SEP).map((id) => collection.regimens.get(id));
    if (!from || !to) return [];
    const differs = differing(from, to, scale);
    if (differs.length === 0) return [];
    const title = differs.length > 2 ? `“${to.name}”` : upperFirst(differs[0]!);
    const what = [
      `${to.name}, not ${from.name}`,
      ...differs.slice(title.startsWith('“') ? 0 : 1),
      codesOf(collection, potIds),
    ];
    return [
      { id: idOf('regimen', on, key), kind: 'regimen', on, until: null, title, what: what.map(upperFirst), potIds },
    ];
  });
}

const differing = memo((from: RegimenRow, to: RegimenRow, scale: number): readonly string[] =>
  regimenDifferences(readParams(from), readParams(to), scale).map(({ words }) => words),
);

/** Which feed, or which water, a pot is given for good. */
function ofUse(collection: Collection, past: Past, kind: 'feed' | 'water'): FoundTurn[] {
  const changes = [...past].flatMap(([potId, { visits }]): Change[] =>
    lastingChanges(
      visits.flatMap((visit): Used[] => {
        const what = kind === 'feed' ? feedIn(visit, collection) : waterIn(visit, collection);
        return what === undefined ? [] : [{ on: visit.on, what }];
      }),
    ).map(({ on, from, to }) => ({ on, key: `${from}${SEP}${to}`, potId })),
  );
  return together(changes).map(({ on, key, potIds }) => {
    const [from, to] = key.split(SEP).map((ids) => namesOf(ids, collection, kind));
    return {
      id: idOf(kind, on, key),
      kind,
      on,
      until: null,
      title: kind === 'feed' ? `New feed: ${to}` : `Moved to ${to}`,
      what: [`${upperFirst(to!)}, not ${from}`, codesOf(collection, potIds)],
      potIds,
    };
  });
}

/** What a mix's strength came from, without what is only there for pH. */
function feedIn({ batchId }: PastVisit, { batches }: Collection): string | undefined {
  const batch = batchId === null ? undefined : batches.get(batchId);
  if (!batch) return undefined;
  const ids = batch.parts.filter(({ dosedMl }) => dosedMl > 0).map(({ productId }) => productId);
  return ids.length === 0 ? undefined : [...new Set(ids)].sort().join('+');
}

function waterIn({ batchId, waterId }: PastVisit, { batches }: Collection): string | undefined {
  return (batchId === null ? waterId : batches.get(batchId)?.row.waterId) ?? undefined;
}

function namesOf(ids: string, { products, waters }: Collection, kind: 'feed' | 'water'): string {
  const name = (id: string) => (kind === 'feed' ? products.get(id)?.row.name : waters.get(id)?.row.name.toLowerCase());
  return ids
    .split('+')
    .map((id) => name(id) ?? 'one no longer here')
    .join(' with ');
}

/** A batch of clay that came into use. */
function ofClay(rows: Rows, collection: Collection): FoundTurn[] {
  const potted = rows<{ on: string; potId: string; clayId: string; name: string }>(
    `SELECT e.localDate AS "on", json_extract(e.payload, '$.potId') AS potId, c.id AS clayId, c.name
     FROM care_event e JOIN clay_batch c ON c.id = json_extract(e.payload, '$.clayId')
     WHERE e.kind = 'potPotted' AND e.voidedBy IS NULL ORDER BY e.at`,
  );
  const names = new Map(potted.map(({ clayId, name }) => [clayId, name]));
  return together(potted.map(({ on, potId, clayId }) => ({ on, key: clayId, potId }))).map(({ on, key, potIds }) => ({
    id: idOf('clay', on, key),
    kind: 'clay',
    on,
    until: null,
    title: `Clay ${names.get(key)}`,
    what: [`Potted up in ${names.get(key)}: ${codesOf(collection, potIds)}`],
    potIds,
  }));
}

/** Pens that came into use after the beginning, and the times in which one read wrong. */
function ofPens(rows: Rows, { meters, settings }: Collection, after: string): FoundTurn[] {
  const came = new Map(
    rows<{ id: string; on: string }>(
      `SELECT substr(t.subject, 7) AS id, min(e.localDate) AS "on" FROM event_touch t JOIN care_event e ON e.id = t.eventId
       WHERE t.subject >= 'meter:' AND t.subject < 'meter;' AND e.kind = 'recordsChanged' AND e.voidedBy IS NULL GROUP BY t.subject`,
    ).map(({ id, on }) => [id, on]),
  );
  return [...meters.values()].flatMap((meter): FoundTurn[] => {
    const what = meter.quantity === 'pH' ? 'pH pen' : 'strength pen';
    const on = came.get(meter.id);
    const isNew: FoundTurn[] =
      on !== undefined && on > after
        ? [
            {
              id: idOf('pen', on, meter.id),
              kind: 'pen',
              on,
              until: null,
              title: `New ${what}`,
              what: [meter.name],
              potIds: null,
            },
          ]
        : [];
    const off = meter.taints.flatMap(({ from, to, offBy, markId }): FoundTurn[] => {
      if (from === null) return [];
      const day = localDateOf(new Date(from), settings.zone);
      const how = offBy === null ? 'wrong' : offBy < 0 ? 'low' : 'high';
      return [
        {
          id: idOf('penOff', day, markId),
          kind: 'penOff',
          on: day,
          until: to === null ? null : localDateOf(new Date(to), settings.zone),
          title: `${what === 'pH pen' ? what : upperFirst(what)} ${how}`,
          what: [
            `${meter.name}: what it read in that time is told apart and counts for nothing, or is put right by what it is off`,
          ],
          potIds: null,
        },
      ];
    });
    return [...isNew, ...off];
  });
}

/** Pots that moved, and places whose light changed. */
function ofPlaces(rows: Rows, collection: Collection, after: string): FoundTurn[] {
  const { zone } = collection.settings;
  const dayOf = (at: string) => localDateOf(new Date(at), zone);
  const moved = [...versionsOf(rows, 'pot', [...collection.pots.keys()], 'placeId')].flatMap(([potId, versions]) =>
    versions.slice(1).flatMap(({ from, value }, i): Change[] => {
      const before = versions[i]!.value;
      return value === null || before === null || value === before
        ? []
        : [{ on: dayOf(from), key: `${before}${SEP}${value}`, potId }];
    }),
  );
  const moves = together(moved).map(({ on, key, potIds }): FoundTurn => {
    const [from, to] = key.split(SEP).map((id) => collection.places.get(id)?.name ?? 'a place no longer here');
    return {
      id: idOf('place', on, key),
      kind: 'place',
      on,
      until: null,
      title: `Moved to ${to}`,
      what: [`From ${from} to ${to}: ${codesOf(collection, potIds)}`],
      potIds,
    };
  });
  return [...moves, ...ofLight(rows, collection, after)];
}

function ofLight(rows: Rows, collection: Collection, after: string): FoundTurn[] {
  return rows<{ id: string; on: string; before: Light | null; after: Light | null }>(
    `SELECT json_extract(c.value, '$.id') AS id, e.localDate AS "on", json_extract(c.value, '$.before.light') AS before, json_extract(c.value, '$.after.light') AS after
     FROM event_touch t JOIN care_event e ON e.id = t.eventId AND e.kind = 'recordsChanged' AND e.voidedBy IS NULL, json_each(e.payload, '$.changes') c
     WHERE t.subject >= 'place:' AND t.subject < 'place;' AND json_extract(c.value, '$.table') = 'place' AND 'place:' || json_extract(c.value, '$.id') = t.subject
       AND json_type(c.value, '$.before') = 'object' AND json_type(c.value, '$.after.light') IS NOT NULL AND e.localDate > ?`,
    after,
  ).map(({ id, on, before, after: now }) => {
    const words = (light: Light | null) => (light === null ? 'light not said' : LIGHT_WORDS[light]);
    const place = collection.places.get(id)?.name ?? 'A place no longer here';
    return {
      id: idOf('light', on, id),
      kind: 'light',
      on,
      until: null,
      title: `${place}: ${words(now)}`,
      what: [`${upperFirst(words(now))}, not ${words(before)}`],
      potIds: [...collection.pots.values()].filter(({ pot }) => pot.placeId === id).map(({ pot }: PotEntry) => pot.id),
    };
  });
}

/** Of a line of one's own so much is its title. */
const TITLE = 40;

/** Lines of one's own that were said to last. One that was put right stays the same turn. */
function ofLines(rows: Rows, collection: Collection): FoundTurn[] {
  const lines = rows<{
    id: string;
    corrects: string | null;
    on: string;
    words: string;
    potIds: string;
    stands: number;
  }>(
    `SELECT id, corrects, localDate AS "on", json_extract(payload, '$.words') AS words, json_extract(payload, '$.potIds') AS potIds,
       voidedBy IS NULL AND json_extract(payload, '$.lasts') = 1 AS stands
     FROM care_event WHERE kind = 'noteWritten' AND json_valid(payload)`,
  );
  const before = new Map(lines.map(({ id, corrects }) => [id, corrects]));
  const firstOf = (id: string): string => {
    const earlier = before.get(id);
    return earlier ? firstOf(earlier) : id;
  };
  return lines
    .filter(({ stands }) => stands === 1)
    .map(({ id, on, words, potIds }) => {
      const pots = (readJson(potList, potIds) ?? []).filter((potId) => collection.pots.has(potId));
      const [line] = words.split('\n');
      const title = line!.length <= TITLE ? line! : `${line!.slice(0, TITLE - 1).trimEnd()}…`;
      return {
        id: idOf('own', on, firstOf(id)),
        kind: 'own',
        on,
        until: null,
        title: upperFirst(title),
        what: [...(title === words ? [] : [words]), ...(pots.length > 0 ? [codesOf(collection, pots)] : [])],
        potIds: pots.length > 0 ? pots : null,
      };
    });
}
const potList = z.array(z.string());

function ofTreatments(collection: Collection): FoundTurn[] {
  return together(collection.treatments.map(({ fromDate, kind, potId }) => ({ on: fromDate, key: kind, potId }))).map(
    ({ on, key, potIds }) => ({
      id: idOf('treatment', on, key),
      kind: 'treatment',
      on,
      until: null,
      title: TREATMENT_WORDS[key as keyof typeof TREATMENT_WORDS],
      what: [`Tried in ${codesOf(collection, potIds)}`],
      potIds,
    }),
  );
}
