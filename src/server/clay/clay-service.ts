import type { EntityManager } from 'typeorm';
import type { CareKind } from '../../contract/care.ts';
import { MOST_TOLD, type ClayAct, type ClayValues } from '../../contract/clay.ts';
import { isBelief, spreadOf, playLeach } from '../../core/clay/index.ts';
import { ecFromPpm, ppmFromEc, readingMiddle } from '../../core/quantity/index.ts';
import { localDateOf } from '../../core/regimen/index.ts';
import { AppError, fieldError } from '../app-error.ts';
import { appendCareEvent } from '../database/care-log.ts';
import type { ClayBatch, Pot } from '../database/entities.ts';
import { changeRecords, readRecord, touch, type RecordChange } from '../database/records.ts';
import {
  ecOfRead,
  fittedBatch,
  HALF,
  readClayEvents,
  leachOf,
  toldOf,
  type ClayEvent,
  type Leach,
} from './clay-log.ts';
import { requireBatch } from './clay-common.ts';
import type { When } from '../when.ts';
import { drainHold, planHolds, readHold, startHold } from './hold-service.ts';
import { potUp } from './pot-up.ts';
import { basesOf, growersScale, metersOf, scaleOf } from '../collection/index.ts';

type Done = { repeated: boolean };
type ActOf<K extends ClayAct['kind']> = Extract<ClayAct, { kind: K }>;

/**
 * One act in the Clay room, logged and undoable.
 * @throws AppError `not-found`, `not-soaking`, `not-read`, `too-soon`, `reading-below-base`, `reading-odd`, `not-ready`, `hold-running`,
 * `invalid-request` with the field
 */
export async function actOnClay(manager: EntityManager, eventId: string, act: ClayAct, when: When): Promise<Done> {
  const [known] = await manager.query<{ kind: string }[]>('SELECT kind FROM care_event WHERE id = ?', [eventId]);
  if (known?.kind === EVENT_OF[act.kind]) return { repeated: true };
  if (known)
    throw new AppError(
      'id-reused',
      'An act with this number is already logged with other contents. Reload the page and do it again.',
    );
  return (BY_KIND[act.kind] as (on: On, act: ClayAct) => Promise<Done>)({ manager, eventId, when }, act);
}

type On = { readonly manager: EntityManager; readonly eventId: string; readonly when: When };

const BY_KIND: { readonly [K in ClayAct['kind']]: (on: On, act: Extract<ClayAct, { kind: K }>) => Promise<Done> } = {
  put: ({ manager, eventId, when }, act) => putBatch(manager, eventId, act, when),
  prep: async ({ manager, eventId, when }, act) => {
    const batch = await requireBatch(manager, act.clayId);
    const column = act.step === 'rinsed' ? 'rinsedOn' : 'boiledOn';
    const words = act.done ? `${STEP_WORDS[act.step]} ${batch.name}` : `${batch.name} was not ${act.step} after all`;
    return change(manager, eventId, when, words, [
      { table: 'clay_batch', id: batch.id, after: { [column]: act.done ? when.localDate : null } },
    ]);
  },
  retire: async ({ manager, eventId, when }, act) => {
    const batch = await requireBatch(manager, act.clayId);
    return change(manager, eventId, when, `${batch.name} is used up or gone`, [
      { table: 'clay_batch', id: batch.id, after: { retiredOn: when.localDate } },
    ]);
  },
  bringBack: async ({ manager, eventId, when }, act) => {
    const batch = await requireBatch(manager, act.clayId);
    return change(manager, eventId, when, `Brought ${batch.name} back`, [
      { table: 'clay_batch', id: batch.id, after: { retiredOn: null } },
    ]);
  },
  told: ({ manager, eventId, when }, act) => putTold(manager, eventId, act, when),
  letGoTold: async ({ manager, eventId, when }, act) => {
    const batch = await requireBatch(manager, act.clayId);
    return change(manager, eventId, when, `${batch.name} begins from your own bags again`, [
      { table: 'clay_batch', id: batch.id, after: { told: null } },
    ]);
  },
  fill: ({ manager, eventId, when }, act) => fill(manager, eventId, act, when),
  read: ({ manager, eventId, when }, act) => read(manager, eventId, act, when),
  drain: ({ manager, eventId, when }, act) => drain(manager, eventId, act, when),
  dried: ({ manager, eventId, when }, act) => dried(manager, eventId, act, when),
  startHold: ({ manager, eventId, when }, act) => startHold(manager, eventId, act, when),
  readHold: ({ manager, eventId, when }, act) => readHold(manager, eventId, act, when),
  drainHold: ({ manager, eventId, when }, act) => drainHold(manager, eventId, act, when),
  planHolds: ({ manager, eventId, when }, act) => planHolds(manager, eventId, act, when),
  potUp: ({ manager, eventId, when }, act) => potUp(manager, eventId, act, when),
};
const EVENT_OF: Record<ClayAct['kind'], CareKind> = {
  put: 'recordsChanged',
  prep: 'recordsChanged',
  told: 'recordsChanged',
  letGoTold: 'recordsChanged',
  retire: 'recordsChanged',
  bringBack: 'recordsChanged',
  planHolds: 'recordsChanged',
  fill: 'clayFilled',
  read: 'clayRead',
  drain: 'clayDrained',
  dried: 'clayDried',
  startHold: 'potHoldStarted',
  readHold: 'potHoldRead',
  drainHold: 'potHoldDrained',
  potUp: 'potPotted',
};
const STEP_WORDS = { rinsed: 'Rinsed until it ran clear:', boiled: 'Boiled ten minutes:' };

/** Another grower's bag to begin from. @throws AppError at `bag` where it is no belief of this model, or there are many already */
async function putTold(manager: EntityManager, eventId: string, act: ActOf<'told'>, when: When): Promise<Done> {
  const batch = await requireBatch(manager, act.clayId);
  if (!isBelief(act.bag))
    throw fieldError('bag', 'What that file says of its clay cannot be: it was changed, or is of another kind.');
  const [own] = await manager.query<unknown[]>('SELECT 1 FROM clay_batch WHERE id = ?', [act.bag.bagId]);
  if (own) throw fieldError('bag', 'That is a bag of your own: what it was found to do counts already.');
  // A later file of the same bag takes the place of the one before.
  const before = toldOf(batch).filter(({ bagId }) => bagId !== act.bag.bagId);
  if (before.length >= MOST_TOLD)
    throw fieldError('bag', `Of ${MOST_TOLD} other bags it begins already. Let them go first.`);
  return change(
    manager,
    eventId,
    when,
    `${batch.name} begins from what ${act.bag.name}, another grower’s, was found to do`,
    [{ table: 'clay_batch', id: batch.id, after: { told: JSON.stringify([...before, act.bag]) } }],
  );
}

async function putBatch(manager: EntityManager, eventId: string, act: ActOf<'put'>, when: When): Promise<Done> {
  const scale = growersScale(metersOf(manager));
  const old = (await readRecord(manager, 'clay_batch', act.clayId)) as unknown as ClayBatch | undefined;
  await requireFreeName(manager, act.clayId, act.values.name);
  const changes: RecordChange[] = [];
  const { gatePpm, ...fields } = act.values;
  const gate =
    old && Math.round(ppmFromEc(old.gateEcUsCm, scale)) === gatePpm ? old.gateEcUsCm : ecFromPpm(gatePpm, scale);
  const [top] = await manager.query<{ position: number | null }[]>('SELECT max(position) AS position FROM clay_batch');
  const more = old
    ? {}
    : { rinsedOn: null, boiledOn: null, told: null, position: (top?.position ?? -1) + 1, retiredOn: null };
  changes.push({ table: 'clay_batch', id: act.clayId, after: { ...fields, gateEcUsCm: gate, ...more } });
  // Pots name their clay by the batch's name, so a new name goes to them too.
  if (old && old.name !== act.values.name) {
    const pots = await manager.query<Pick<Pot, 'id'>[]>('SELECT id FROM pot WHERE lower(clay) = lower(?)', [old.name]);
    for (const pot of pots) changes.push({ table: 'pot', id: pot.id, after: { clay: act.values.name } });
  }
  return change(
    manager,
    eventId,
    when,
    old ? wordsOfChange(old, act.values, scale) : `Added ${act.values.name}, ${act.values.volumeL} L of clay`,
    changes,
  );
}

function wordsOfChange(old: ClayBatch, values: ClayValues, scale: number): string {
  if (old.way !== values.way) return `${values.name}: ${WAY_WORDS[values.way]}`;
  if (Math.round(ppmFromEc(old.gateEcUsCm, scale)) !== values.gatePpm)
    return `${values.name}: ready at ${values.gatePpm} ppm flat`;
  return `Changed ${values.name}`;
}
const WAY_WORDS = { litres: 'follows the fewest litres', days: 'follows the fewest days', own: 'goes on as it went' };

async function fill(manager: EntityManager, eventId: string, act: ActOf<'fill'>, when: When): Promise<Done> {
  const { batch, events, leach } = await known(manager, act.clayId);
  const at = momentOf(act.at, when, events, 'fill');
  const [water] = await manager.query<{ name: string }[]>('SELECT name FROM water WHERE id = ?', [act.waterId]);
  if (!water) throw new AppError('not-found', 'That water is not on the shelf.');
  const lastFill = events.findLast((e) => e.kind === 'clayFilled');
  if (lastFill && Math.abs(at.at.getTime() - Date.parse(lastFill.at)) < MINUTE_MS)
    throw new AppError(
      'too-soon',
      `The water on ${batch.name} was changed less than a minute ago. If that was meant twice, wait a minute; if not, it is logged already.`,
    );
  requirePouredOff(act.pouredOffL, leach);
  if (leach && leach.drainedAt === null && !leach.readSinceFilled && !act.unread)
    throw new AppError(
      'not-read',
      'This water was not read yet, so it would teach nothing. Read it first, or change it all the same.',
    );
  const baseEcUsCm = basesOf(manager, metersOf(manager)).get(act.waterId) ?? null;
  const payload = {
    clayId: batch.id,
    waterId: act.waterId,
    pouredOffL: act.pouredOffL,
    offMeasured: act.offMeasured,
    to: act.to,
    freshL: act.freshL,
    baseEcUsCm,
  };
  return logged(
    manager,
    batch.id,
    await appendCareEvent(manager, { id: eventId, kind: 'clayFilled', ...at, payload }),
    eventId,
  );
}

async function drain(manager: EntityManager, eventId: string, act: ActOf<'drain'>, when: When): Promise<Done> {
  const { batch, events, leach } = await known(manager, act.clayId);
  if (!leach || leach.drainedAt !== null) throw notLeaching(batch);
  const at = momentOf(act.at, when, events, 'fill');
  requirePouredOff(act.pouredOffL, leach);
  const payload = { clayId: batch.id, pouredOffL: act.pouredOffL, offMeasured: act.offMeasured, to: act.to };
  return logged(
    manager,
    batch.id,
    await appendCareEvent(manager, { id: eventId, kind: 'clayDrained', ...at, payload }),
    eventId,
  );
}

async function read(manager: EntityManager, eventId: string, act: ActOf<'read'>, when: When): Promise<Done> {
  const { batch, events, leach } = await known(manager, act.clayId);
  if (!leach || leach.drainedAt !== null) throw notLeaching(batch);
  if (act.ppm.kind === 'notMeasured' && act.ph.kind === 'notMeasured')
    throw fieldError('ppm', 'Type what the pen reads, ppm or pH or both.');
  const at = momentOf(act.at, when, events, 'read');
  const meters = metersOf(manager);
  const { kind: _kind, at: _at, confirmedOdd, ...payload } = act;
  const [shown, ec] = [readingMiddle(act.ppm), ecOfRead({ payload }, meters)];
  if (shown !== undefined && ec !== undefined && !confirmedOdd)
    await requireLikely(manager, batch, leach, at.at, {
      shown,
      ec,
      scale: scaleOf(meters.get(act.ppmMeterId ?? '')),
    });
  return logged(
    manager,
    batch.id,
    await appendCareEvent(manager, { id: eventId, kind: 'clayRead', ...at, payload }),
    eventId,
  );
}

/** A pen may show the base a little low: its digit and its noise. */
const BASE_SLACK_EC = 6;
/** This many times what was expected, or less than its inverse, is asked about once. */
const ODD_TIMES = 1.7;

/** A figure that cannot be, or is far from what the model expects, is asked about once: nothing is averaged in silently. */
async function requireLikely(
  manager: EntityManager,
  batch: ClayBatch,
  leach: Leach,
  at: Date,
  { shown, ec, scale }: { shown: number; ec: number; scale: number },
): Promise<void> {
  const baseEc = leach.baseEcUsCm ?? 0;
  if (ec < baseEc - BASE_SLACK_EC)
    throw new AppError(
      'reading-below-base',
      `The pen reads ${shown}, and the water alone read ${Math.round(baseEc * scale)} before it went on. Rinse the pen and read again, or check the water’s own reading. Keep it once more if it stands.`,
    );
  const { fit } = fittedBatch(manager, batch.id);
  const hours = (at.getTime() - Date.parse(leach.startedAt)) / HOUR_MS;
  const history = { ...leach.history, acts: leach.history.acts.filter((act) => act.atHours <= hours) };
  const range = spreadOf(fit, (clay) => playLeach(clay, history, hours).leach.ppm);
  const net = (ec - baseEc) * HALF;
  const slack = 4;
  if (net <= range.high * ODD_TIMES + slack && net >= range.low / ODD_TIMES - slack) return;
  const onPen = (half: number) => Math.round((half / HALF + baseEc) * scale);
  const ratio = net / range.mean;
  const hint =
    ratio > 1.6 && ratio < 2.6
      ? ' About twice that: is the pen showing µS/cm?'
      : ratio > 0.38 && ratio < 0.62
        ? ' About half that: is it another pen, or another scale?'
        : '';
  throw new AppError(
    'reading-odd',
    `${shown} is far from the ${onPen(range.low)} to ${onPen(range.high)} expected by now.${hint} Stir, read again, or keep it once more if it stands.`,
  );
}

async function dried(manager: EntityManager, eventId: string, act: ActOf<'dried'>, when: When): Promise<Done> {
  const batch = act.clayId === null ? undefined : await requireBatch(manager, act.clayId);
  const [pot] =
    act.potId === null ? [] : await manager.query<Pick<Pot, 'id'>[]>('SELECT id FROM pot WHERE id = ?', [act.potId]);
  if (!batch && !pot) throw new AppError('not-found', 'Say which batch or which pot dried out.');
  const words = 'Dried out: the clay lifts pH as it did when new';
  await appendCareEvent(manager, {
    id: eventId,
    kind: 'clayDried',
    at: when.at,
    localDate: when.localDate,
    potId: pot?.id ?? null,
    payload: { clayId: batch?.id ?? null, words },
  });
  await touch(manager, eventId, [...(batch ? [`clay_batch:${batch.id}`] : []), ...(pot ? [`pot:${pot.id}`] : [])]);
  return { repeated: false };
}

const HOUR_MS = 3_600_000;
const MINUTE_MS = 60_000;

/** When an act happened: now, or as it says, in its place among what is logged of the batch. */
function momentOf(
  typed: string | null,
  when: When,
  events: readonly ClayEvent[],
  what: 'fill' | 'read',
): { at: Date; localDate: string } {
  if (typed === null) return { at: when.at, localDate: when.localDate };
  const at = new Date(typed);
  const time = (iso: string) =>
    new Date(iso).toLocaleString('en-GB', {
      weekday: 'short',
      hour: '2-digit',
      minute: '2-digit',
      timeZone: when.zone,
    });
  if (at.getTime() > when.at.getTime() + MINUTE_MS)
    throw fieldError('at', 'That is still to come. Give the time at which it was done.');
  const last = events.findLast(
    (e) => e.kind === 'clayFilled' || e.kind === 'clayDrained' || (what === 'fill' && e.kind === 'clayRead'),
  );
  if (last && at.getTime() <= Date.parse(last.at)) {
    const of = last.kind === 'clayRead' ? 'read' : last.kind === 'clayDrained' ? 'drained' : 'filled';
    throw fieldError(
      'at',
      `That is before it was last ${of} (${time(last.at)}), so it would stand out of order. Put the time right, or take the later act back first.`,
    );
  }
  return { at, localDate: localDateOf(at, when.zone) };
}

function requirePouredOff(pouredOffL: number, leach: Leach | undefined): void {
  if (pouredOffL <= (leach?.waterL ?? 0) + 1e-6) return;
  throw fieldError(
    'pouredOffL',
    leach
      ? `There were ${Number(leach.waterL.toFixed(1))} L in it, so ${pouredOffL} L cannot have come off. Check the figure.`
      : 'There is no water on it yet to pour off: leave this at nothing.',
  );
}

async function known(
  manager: EntityManager,
  clayId: string,
): Promise<{ batch: ClayBatch; events: ClayEvent[]; leach: Leach | undefined }> {
  const batch = await requireBatch(manager, clayId);
  const events = readClayEvents(manager, clayId).get(clayId) ?? [];
  return { batch, events, leach: leachOf(batch, events, metersOf(manager)) };
}

async function requireFreeName(manager: EntityManager, clayId: string, name: string): Promise<void> {
  const [other] = await manager.query<unknown[]>('SELECT 1 FROM clay_batch WHERE lower(name) = lower(?) AND id <> ?', [
    name,
    clayId,
  ]);
  if (other) throw fieldError('values.name', `There is a batch called ${name} already. Call this one something else.`);
}

const notLeaching = (batch: ClayBatch) =>
  new AppError('not-soaking', `${batch.name} does not stand in water. Pour its water on first.`);

async function logged(manager: EntityManager, clayId: string, { repeated }: Done, eventId: string): Promise<Done> {
  await touch(manager, eventId, [`clay_batch:${clayId}`]);
  return { repeated };
}

function change(
  manager: EntityManager,
  eventId: string,
  when: When,
  words: string,
  changes: RecordChange[],
): Promise<Done> {
  return changeRecords(manager, { eventId, when, group: 'Clay', words, changes });
}
