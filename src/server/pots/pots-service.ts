import { randomUUID } from 'node:crypto';
import type { EntityManager } from 'typeorm';
import { volumesProblem, type PlaceValues, type PotsAct, type PotValues } from '../../contract/pots.ts';
import { countWords, upperFirst } from '../../core/quantity/index.ts';
import { AppError, fieldError } from '../app-error.ts';
import type { Place, Pot, RegimenRow } from '../database/entities.ts';
import { changeRecords, requirePot, type RecordChange } from '../database/records.ts';
import { lightSteps, plusDays, SOAKS } from '../../core/regimen/index.ts';
import { putRegimen } from './regimen-service.ts';
import { ASKED_BY, collectionOf, followFrom, metersOf, openSupplement, requireFreeCodes } from '../collection/index.ts';

type When = { at: Date; localDate: string };

/**
 * One act on the collection: pots added (a whole list is one act), changed, moved, put on another regimen, retired; places and regimens
 * kept. Logged and undoable as a whole.
 * @throws AppError `not-found`, `code-taken`, `in-use`, `invalid-request` with the field
 */
export async function actOnPots(
  manager: EntityManager,
  eventId: string,
  act: PotsAct,
  when: When,
): Promise<{ repeated: boolean }> {
  const [known] = await manager.query<{ kind: string }[]>('SELECT kind FROM care_event WHERE id = ?', [eventId]);
  if (known?.kind === 'recordsChanged') return { repeated: true };
  const { words, changes } = await plan(manager, eventId, act, when);
  return changeRecords(manager, { eventId, when, group: 'Pots', words, changes });
}

/** A change of regimen is set this far ahead at the most. */
const MOST_DAYS_AHEAD = 120;

/** A pot with its holes taped and water to its brim is not carried about. */
async function requireNotInSoak(manager: EntityManager, potIds: readonly string[]): Promise<void> {
  for (const id of potIds) {
    if (!(await openSupplement(manager, id))) continue;
    const { code } = await requirePot(manager, id);
    throw new AppError(
      'in-soak',
      `${code} stands in its soak. Drain it first, or take the soak back; nothing was changed.`,
    );
  }
}

type Planned = { words: string; changes: RecordChange[] };

async function plan(manager: EntityManager, eventId: string, act: PotsAct, when: When): Promise<Planned> {
  const on: On = { manager, eventId, at: when.at.toISOString(), today: when.localDate };
  return (BY_KIND[act.kind] as (on: On, act: PotsAct) => Promise<Planned>)(on, act);
}

type On = {
  readonly manager: EntityManager;
  readonly eventId: string;
  readonly at: string;
  readonly today: string;
};

/** What each kind of act changes. */
const BY_KIND: { readonly [K in PotsAct['kind']]: (on: On, act: Extract<PotsAct, { kind: K }>) => Promise<Planned> } = {
  add: ({ manager, today }, act) => addPots(manager, act, today),
  change: async ({ manager }, act) => {
    const pot = await requirePot(manager, act.potId);
    checkVolumes(act.values, 'values');
    await requireFreeCodes(manager, [{ code: act.values.code, potId: pot.id, path: 'values.code' }]);
    const place = await requirePlace(manager, act.values.placeId);
    const position = place.id === pot.placeId ? {} : { position: await endOf(manager, place.id) };
    return {
      words: `Changed ${titleOf(act.values)}`,
      changes: [{ table: 'pot', id: pot.id, after: { ...act.values, ...position } }],
    };
  },
  move: async ({ manager, today }, act) => {
    await requireNotInSoak(manager, act.potIds);
    return movePots(manager, act, today);
  },
  regimen: async ({ manager, today }, act) => {
    const regimen = await manager.getRepository<RegimenRow>('regimen').findOneBy({ id: act.regimenId });
    if (!regimen || regimen.retiredOn)
      throw new AppError('not-found', 'That regimen is not in use any more. Choose another.');
    const pots = await requirePots(manager, act.potIds);
    const changes: RecordChange[] = [];
    const from = act.fromDate ?? today;
    if (from < today)
      throw fieldError(
        'fromDate',
        'That day is past, and what was done then is judged by what held then. Choose today or later.',
      );
    if (from > plusDays(today, MOST_DAYS_AHEAD))
      throw fieldError('fromDate', `Choose a day within the next ${MOST_DAYS_AHEAD} days.`);
    for (const pot of pots) changes.push(...(await followFrom(manager, pot.id, act.regimenId, from, act.reason)));
    return {
      words: `${listOf(pots)} on ${regimen.name}${from === today ? '' : ` from ${from}`}: ${act.reason}`,
      changes,
    };
  },
  soak: async ({ manager, today }, act) => {
    if (act.fromDate < today) throw fieldError('fromDate', 'That day is past. Choose today or later.');
    if (act.fromDate > plusDays(today, MOST_DAYS_AHEAD))
      throw fieldError('fromDate', `Choose a day within the next ${MOST_DAYS_AHEAD} days.`);
    if (act.planIds.length !== act.potIds.length) throw fieldError('planIds', 'One plan for each pot.');
    const pots = await requirePots(manager, act.potIds);
    const { pots: entries } = collectionOf(manager);
    const words = upperFirst(SOAKS[act.what].name);
    const fresh = pots.flatMap((pot, i) =>
      entries.get(pot.id)?.asked.some((a) => a.what === act.what) ? [] : [{ pot, planId: act.planIds[i]! }],
    );
    if (fresh.length === 0)
      throw fieldError('what', `A ${words.toLowerCase()} is asked for already. It comes at the next watering.`);
    return {
      words: `${words} asked for ${listOf(fresh.map(({ pot }) => pot))}, from ${act.fromDate}`,
      changes: fresh.map(({ pot, planId }) => ({
        table: 'planned_act',
        id: planId,
        after: {
          subjectKind: 'pot',
          subjectId: pot.id,
          words,
          onDate: act.fromDate,
          origin: ASKED_BY,
          originId: act.what,
          doneOn: null,
          droppedOn: null,
        },
      })),
    };
  },
  retire: async ({ manager, today }, act) => {
    await requireNotInSoak(manager, act.potIds);
    const pots = await requirePots(manager, act.potIds);
    return {
      words: `Retired ${listOf(pots)}: ${act.became}`,
      changes: pots.map((pot) => ({ table: 'pot', id: pot.id, after: { retiredOn: today, became: act.became } })),
    };
  },
  bringBack: async ({ manager }, act) => {
    const pots = await requirePots(manager, act.potIds);
    await requireFreeCodes(
      manager,
      pots.map((pot) => ({ code: pot.code, potId: pot.id, path: 'potIds' })),
    );
    return {
      words: `Brought ${listOf(pots)} back`,
      changes: pots.map((pot) => ({ table: 'pot', id: pot.id, after: { retiredOn: null, became: '' } })),
    };
  },
  putPlace: async ({ manager }, act) => {
    const old = await manager.getRepository<Place>('place').findOneBy({ id: act.placeId });
    await requireFreePlaceNames(manager, [{ name: act.values.name, placeId: act.placeId, path: 'values.name' }]);
    const more = old ? {} : { position: await endOfPlaces(manager), retiredOn: null };
    return {
      words: `${old ? 'Changed' : 'Added'} the place ${act.values.name}`,
      changes: [{ table: 'place', id: act.placeId, after: { ...placeFields(act.values), ...more } }],
    };
  },
  retirePlace: async ({ manager, today }, act) => {
    const place = await requirePlace(manager, act.placeId);
    const [left] = await manager.query<{ n: number }[]>(
      'SELECT count(*) AS n FROM pot WHERE placeId = ? AND retiredOn IS NULL',
      [place.id],
    );
    if (left && left.n > 0)
      throw new AppError(
        'in-use',
        `${countWords(left.n, 'pot stands', 'pots stand')} on ${place.name}. Move them first.`,
      );
    return {
      words: `Retired the place ${place.name}`,
      changes: [{ table: 'place', id: place.id, after: { retiredOn: today } }],
    };
  },
  movePlace: ({ manager }, act) => movePlace(manager, act.placeId, act.beforePlaceId),
  putRegimen: ({ manager, eventId, at, today }, act) => {
    return putRegimen(manager, act.regimenId, eventId, act.values, metersOf(manager), at, today);
  },
};

async function addPots(
  manager: EntityManager,
  act: Extract<PotsAct, { kind: 'add' }>,
  today: string,
): Promise<Planned> {
  await requireFreePlaceNames(
    manager,
    act.places.map((p, i) => ({ name: p.values.name, placeId: p.id, path: `places.${i}.values.name` })),
  );
  const changes: RecordChange[] = [];
  let placePosition = await endOfPlaces(manager);
  for (const place of act.places)
    changes.push({
      table: 'place',
      id: place.id,
      after: { ...placeFields(place.values), position: placePosition++, retiredOn: null },
    });
  const newPlaces = new Set(act.places.map((p) => p.id));
  await requireFreeCodes(
    manager,
    act.pots.map((pot, i) => ({ code: pot.values.code, potId: pot.id, path: `pots.${i}.values.code` })),
  );
  const ends = new Map<string, number>();
  for (const [i, pot] of act.pots.entries()) {
    checkVolumes(pot.values, `pots.${i}.values`);
    const { placeId } = pot.values;
    if (!newPlaces.has(placeId) && !ends.has(placeId)) await requirePlace(manager, placeId, `pots.${i}.values.placeId`);
    const position = ends.get(placeId) ?? (newPlaces.has(placeId) ? 0 : await endOf(manager, placeId));
    ends.set(placeId, position + 1);
    changes.push({ table: 'pot', id: pot.id, after: { ...pot.values, position, retiredOn: null, became: '' } });
  }
  const regimens = new Set(
    (await manager.query<{ id: string }[]>('SELECT id FROM regimen WHERE retiredOn IS NULL')).map((r) => r.id),
  );
  for (const [i, pot] of act.pots.entries()) {
    if (!regimens.has(pot.regimenId)) {
      const message = 'Choose a regimen for it.';
      throw new AppError('invalid-request', message, { errors: [{ path: `pots.${i}.regimenId`, message }] });
    }
    changes.push({
      table: 'pot_regimen',
      id: randomUUID(),
      after: { potId: pot.id, regimenId: pot.regimenId, fromDate: today, reason: 'From the start here.' },
    });
  }
  return {
    words:
      act.pots.length === 1
        ? `Added ${titleOf(act.pots[0]!.values)}`
        : `Added ${act.pots.length} pots, ${codesOf(act.pots.map((p) => p.values))}`,
    changes,
  };
}

/** Moves pots together, in the order they were chosen, before a pot of the place or to its end. */
/** Moved pots, and the steps by which those that come to stronger light get used to it. */
async function movePots(
  manager: EntityManager,
  act: Extract<PotsAct, { kind: 'move' }>,
  today: string,
): Promise<Planned> {
  const place = await requirePlace(manager, act.placeId);
  const pots = await requirePots(manager, act.potIds);
  const order = await manager.query<Pot[]>(
    'SELECT * FROM pot WHERE placeId = ? AND retiredOn IS NULL ORDER BY position',
    [place.id],
  );
  const rest = order.filter((pot) => !act.potIds.includes(pot.id));
  const at = act.beforePotId === null ? rest.length : rest.findIndex((pot) => pot.id === act.beforePotId);
  if (at < 0) throw new AppError('not-found', 'The pot it was to stand before is not on that place any more.');
  const low = rest[at - 1]?.position ?? (rest[at]?.position ?? 1) - 1;
  const high = rest[at]?.position ?? low + pots.length + 1;
  const step = (high - low) / (pots.length + 1);
  const steps = await shadingSteps(manager, pots, place, today);
  const words = `Moved ${listOf(pots)} ${pots.every((p) => p.placeId === place.id) ? 'along' : 'to'} ${place.name}${steps.some((step) => 'words' in step.after) ? ', to its light by steps' : ''}`;
  // Between two pots there is room for about fifty halvings; then the whole place is numbered anew.
  if (step < 1e-6) {
    const line = [...rest.slice(0, at), ...pots, ...rest.slice(at)];
    return {
      words,
      changes: [
        ...line.map((pot, i): RecordChange => ({
          table: 'pot',
          id: pot.id,
          after: { placeId: place.id, position: i },
        })),
        ...steps,
      ],
    };
  }
  return {
    words,
    changes: [
      ...pots.map((pot, i): RecordChange => ({
        table: 'pot',
        id: pot.id,
        after: { placeId: place.id, position: low + step * (i + 1) },
      })),
      ...steps,
    ],
  };
}

/** Steps to stronger light on the list of plans, told by this. */
const BY_STEPS = 'light';

/** Steps to the light of a place; those of a move before, not done yet, are dropped. Pots that stay on their place keep theirs. */
async function shadingSteps(
  manager: EntityManager,
  all: readonly Pot[],
  to: Place,
  today: string,
): Promise<RecordChange[]> {
  const pots = all.filter((pot) => pot.placeId !== to.id);
  const open = await manager.query<{ id: string }[]>(
    `SELECT id FROM planned_act WHERE originId = ? AND subjectKind = 'pot' AND doneOn IS NULL AND droppedOn IS NULL AND subjectId IN (SELECT value FROM json_each(?))`,
    [BY_STEPS, JSON.stringify(pots.map((pot) => pot.id))],
  );
  const dropped = open.map(({ id }): RecordChange => ({ table: 'planned_act', id, after: { droppedOn: today } }));
  const places = new Map((await manager.query<Place[]>('SELECT * FROM place')).map((p) => [p.id, p]));
  const steps = pots.flatMap((pot) =>
    lightSteps(places.get(pot.placeId)?.light ?? null, to.light, today).map(({ on, words }): RecordChange => ({
      table: 'planned_act',
      id: randomUUID(),
      after: {
        subjectKind: 'pot',
        subjectId: pot.id,
        words,
        onDate: on,
        origin: 'round',
        originId: BY_STEPS,
        doneOn: null,
        droppedOn: null,
      },
    })),
  );
  return [...dropped, ...steps];
}

async function movePlace(manager: EntityManager, placeId: string, beforePlaceId: string | null): Promise<Planned> {
  const place = await requirePlace(manager, placeId);
  const places = await manager.query<Place[]>('SELECT * FROM place WHERE retiredOn IS NULL ORDER BY position');
  const rest = places.filter((p) => p.id !== placeId);
  const at = beforePlaceId === null ? rest.length : rest.findIndex((p) => p.id === beforePlaceId);
  if (at < 0) throw new AppError('not-found', 'That place is not here any more.');
  const line = [...rest.slice(0, at), place, ...rest.slice(at)];
  return {
    words: `Moved the place ${place.name}`,
    changes: line.map((p, i) => ({ table: 'place', id: p.id, after: { position: i } })),
  };
}

const placeFields = ({ year, ...values }: PlaceValues) => ({
  ...values,
  ...(year === undefined ? {} : { year: year && JSON.stringify(year) }),
});

function checkVolumes(values: PotValues, path: string): void {
  const problem = volumesProblem(values);
  if (problem)
    throw new AppError('invalid-request', problem.message, {
      errors: [{ path: `${path}.${problem.path}`, message: problem.message }],
    });
}

async function requireFreePlaceNames(
  manager: EntityManager,
  wanted: readonly { name: string; placeId: string; path: string }[],
): Promise<void> {
  const rows = await manager.query<Pick<Place, 'id' | 'name'>[]>('SELECT id, name FROM place WHERE retiredOn IS NULL');
  const taken = new Map(rows.map((row) => [row.name.toLowerCase(), row.id]));
  for (const { name, placeId, path } of wanted) {
    const holder = taken.get(name.toLowerCase());
    if (holder !== undefined && holder !== placeId) {
      const message = `There is a place called ${name} already. Call this one something else.`;
      throw new AppError('invalid-request', message, { errors: [{ path, message }] });
    }
    taken.set(name.toLowerCase(), placeId);
  }
}

async function requirePots(manager: EntityManager, ids: readonly string[]): Promise<Pot[]> {
  const pots: Pot[] = [];
  for (const id of new Set(ids)) pots.push(await requirePot(manager, id));
  return pots;
}

async function requirePlace(manager: EntityManager, id: string, path = 'placeId'): Promise<Place> {
  const place = await manager.getRepository<Place>('place').findOneBy({ id });
  if (place && !place.retiredOn) return place;
  const message = 'That place is not here any more. Choose another.';
  throw new AppError('invalid-request', message, { errors: [{ path, message }] });
}

async function endOf(manager: EntityManager, placeId: string): Promise<number> {
  const [row] = await manager.query<{ position: number | null }[]>(
    'SELECT max(position) AS position FROM pot WHERE placeId = ?',
    [placeId],
  );
  return Math.floor(row?.position ?? -1) + 1;
}

async function endOfPlaces(manager: EntityManager): Promise<number> {
  const [row] = await manager.query<{ position: number | null }[]>('SELECT max(position) AS position FROM place');
  return Math.floor(row?.position ?? -1) + 1;
}

const titleOf = (pot: Pick<Pot, 'code' | 'name' | 'plant'>) => `${pot.code} ${pot.name || pot.plant}`;
const codesOf = (pots: readonly { code: string }[]) =>
  pots.length > 6 ? `${pots[0]!.code} to ${pots.at(-1)!.code}` : pots.map((p) => p.code).join(', ');
const listOf = (pots: readonly Pot[]) =>
  pots.length === 1 ? titleOf(pots[0]!) : `${pots.length} pots (${codesOf(pots)})`;
