import type { EntityManager } from 'typeorm';
import type { LabelFigures, Recipe, ShelfAct, ShelfKind, ShelfValues } from '../../contract/shelf.ts';
import { STANDARDS, type StandardId } from '../../core/quantity/index.ts';
import { startOfLocalDay } from '../../core/regimen/index.ts';
import { readLabel, waterFromAnalysis, type ReadLabel } from '../../core/solution/index.ts';
import { AppError } from '../app-error.ts';
import { appendCareEvent } from '../database/care-log.ts';
import type { Meter, Water } from '../database/entities.ts';
import { changeRecords, readRecord, type RecordChange } from '../database/records.ts';
import { recipeOf } from './recipe.ts';
import { canBeAtHand, forgetLearnedWith, regimenEcRescaled, rescaleBatches } from '../collection/index.ts';
import type { CarePayload } from '../../contract/care.ts';

type When = { at: Date; localDate: string; zone: string };
const WORDS: Record<ShelfKind, string> = {
  water: 'water',
  meter: 'meter',
  tool: 'measure',
  vessel: 'vessel',
  product: 'product',
};

/**
 * One act on the Shelf, logged and undoable. Nothing is ever deleted: what is not used any more is retired, and history keeps it.
 * @throws AppError `not-found`, `in-use`, `invalid-request` with the field
 */
export async function actOnShelf(
  manager: EntityManager,
  eventId: string,
  act: ShelfAct,
  when: When,
): Promise<{ repeated: boolean }> {
  return (BY_KIND[act.kind] as (on: On, act: ShelfAct) => Promise<{ repeated: boolean }>)(
    { manager, eventId, when },
    act,
  );
}

type On = { readonly manager: EntityManager; readonly eventId: string; readonly when: When };

/** Something found of a pen: what was learned by its readings is learned anew. */
async function logOfPen<K extends 'meterChecked' | 'meterMarkedOff'>(
  { manager, eventId, when }: On,
  kind: K,
  payload: CarePayload<K>,
): Promise<{ repeated: boolean }> {
  const done = await appendCareEvent(manager, { id: eventId, kind, at: when.at, localDate: when.localDate, payload });
  await forgetLearnedWith(manager, payload.meterId);
  return done;
}

const BY_KIND: {
  readonly [K in ShelfAct['kind']]: (on: On, act: Extract<ShelfAct, { kind: K }>) => Promise<{ repeated: boolean }>;
} = {
  put: ({ manager, eventId, when }, act) => putThing(manager, eventId, act, when),
  retire: async ({ manager, eventId, when }, act) => {
    const row = await requireThing(manager, act.what, act.id);
    if (act.what !== 'product') await requireNotLast(manager, act.what, act.id);
    const words = `Retired the ${WORDS[act.what]} ${String(row['name'])}`;
    return change(manager, eventId, when, words, [
      { table: act.what, id: act.id, after: { retiredOn: when.localDate } },
    ]);
  },
  bringBack: async ({ manager, eventId, when }, act) => {
    const row = await requireThing(manager, act.what, act.id);
    return change(manager, eventId, when, `Brought the ${WORDS[act.what]} ${String(row['name'])} back`, [
      { table: act.what, id: act.id, after: { retiredOn: null } },
    ]);
  },
  openBottle: async ({ manager, eventId, when }, act) => {
    const product = await requireThing(manager, 'product', act.productId);
    return change(
      manager,
      eventId,
      when,
      `Opened a new bottle of ${String(product['name'])}`,
      await openBottle(manager, act.productId, act.bottleId, act, when),
    );
  },
  readWater: async ({ manager, eventId, when }, act) => {
    await requireThing(manager, 'water', act.waterId);
    if (act.ppm.kind === 'notMeasured' && act.ph.kind === 'notMeasured') {
      const message = 'Give what a pen read, ppm or pH or both.';
      throw new AppError('invalid-request', message, { errors: [{ path: 'ppm', message }] });
    }
    const { kind: _kind, ...payload } = act;
    return appendCareEvent(manager, {
      id: eventId,
      kind: 'waterRead',
      at: when.at,
      localDate: when.localDate,
      payload,
    });
  },
  countWater: async ({ manager, eventId, when }, act) => {
    const water = (await requireThing(manager, 'water', act.waterId)) as unknown as Water;
    if (water.tankL !== null && act.litres > water.tankL) {
      const message = `The tank holds ${water.tankL} L, and this is ${act.litres} L. Check the figure, or change the tank.`;
      throw new AppError('invalid-request', message, { errors: [{ path: 'litres', message }] });
    }
    return appendCareEvent(manager, {
      id: eventId,
      kind: 'waterCounted',
      at: when.at,
      localDate: when.localDate,
      payload: { waterId: act.waterId, litres: act.litres },
    });
  },
  checkMeter: async ({ manager, eventId, when }, act) => {
    const meter = (await requireThing(manager, 'meter', act.meterId)) as unknown as Meter;
    requireStandard(meter, act.standard);
    const { kind: _kind, ...payload } = act;
    return logOfPen({ manager, eventId, when }, 'meterChecked', payload);
  },
  markMeter: async ({ manager, eventId, when }, act) => {
    await requireThing(manager, 'meter', act.meterId);
    if (act.fromOn !== null && act.fromOn > when.localDate)
      throw fieldError('fromOn', 'That day is still to come. Give the day from which it read wrong.');
    const from = act.fromOn === null ? null : startOfLocalDay(act.fromOn, when.zone).toISOString();
    const payload = { meterId: act.meterId, from, offBy: act.offBy, why: act.why };
    return logOfPen({ manager, eventId, when }, 'meterMarkedOff', payload);
  },
  main: async ({ manager, eventId, when }, act) => {
    const meter = (await requireThing(manager, 'meter', act.meterId)) as unknown as Meter;
    if (!canBeAtHand(meter))
      throw new AppError(
        'invalid-request',
        `Everything is shown in the ppm of the pen at hand, and ${meter.name} shows none. Keep it for checks.`,
      );
    const key = meter.quantity === 'ppm' ? 'mainPpmMeter' : 'mainPhMeter';
    return change(manager, eventId, when, `${meter.name} is the pen at hand`, [
      { table: 'setting', id: key, after: { value: meter.id } },
    ]);
  },
};

async function putThing(
  manager: EntityManager,
  eventId: string,
  act: Extract<ShelfAct, { kind: 'put' }>,
  when: When,
): Promise<{ repeated: boolean }> {
  const row = await readRecord(manager, act.what, act.id);
  const words = `${row ? 'Changed' : 'Added'} the ${WORDS[act.what]} ${act.values.name}`;
  await requireFreeName(manager, act.what, act.id, act.values.name);
  const position = row ? {} : { position: await nextPosition(manager, act.what), retiredOn: null };
  const changes = await changesOf({ manager, when }, act, row, position);
  const done = await change(manager, eventId, when, words, changes);
  if (act.what === 'meter' && row)
    await rescaleBatches(manager, act.id, row['scale'] as number | null, act.values.scale);
  return done;
}

type Put = Extract<ShelfAct, { kind: 'put' }>;
type PutOf<W extends ShelfKind> = Extract<Put, { what: W }>;
type Place = { readonly position?: number; readonly retiredOn?: null };

/** What putting a thing sets, once it can be so. @param row as it stood @param place on its board, where it is new */
function changesOf(
  { manager, when }: { readonly manager: EntityManager; readonly when: When },
  act: Put,
  row: object | undefined,
  place: Place,
): RecordChange[] | Promise<RecordChange[]> {
  switch (act.what) {
    case 'water':
      return putWater(manager, act, place);
    case 'vessel':
      return [{ table: 'vessel', id: act.id, after: { ...act.values, ...place } }];
    case 'tool':
      requireSizes(act.values);
      return [{ table: 'tool', id: act.id, after: { ...act.values, ...place } }];
    case 'meter':
      return putMeter(manager, act, row as Meter | undefined, place);
    case 'product':
      return putProduct(manager, act, row, place, when);
  }
}

async function putWater(manager: EntityManager, { id, values }: PutOf<'water'>, place: Place): Promise<RecordChange[]> {
  await requireTankHolds(manager, id, values);
  requireWater(values);
  const known = values.known === null ? null : JSON.stringify(values.known);
  return [{ table: 'water', id, after: { ...values, known, ...place } }];
}

async function putMeter(
  manager: EntityManager,
  { id, values }: PutOf<'meter'>,
  before: Meter | undefined,
  place: Place,
): Promise<RecordChange[]> {
  const changes: RecordChange[] = [
    { table: 'meter', id, after: { ...values, ...(before ? {} : { device: 'typed' }), ...place } },
  ];
  if (before?.scale && values.scale && before.scale !== values.scale)
    await rescale(manager, changes, before, values.scale);
  return changes;
}

async function putProduct(
  manager: EntityManager,
  { id, values }: PutOf<'product'>,
  row: object | undefined,
  place: Place,
  when: When,
): Promise<RecordChange[]> {
  const { recipe, analysis, ...rest } = values;
  const label = analysis && requireLabel(analysis);
  const strength = recipe ? await recipeOf(manager, recipe) : undefined;
  const fields = {
    ...rest,
    recipe: recipe ? JSON.stringify(recipe) : null,
    analysis: analysis ? JSON.stringify(analysis) : null,
    shortName: rest.shortName || rest.name.toLowerCase().slice(0, SHORT_NAME).trim(),
  };
  const put: RecordChange = {
    table: 'product',
    id,
    after: { ...fields, ...guessOf(row, recipe, strength, label), ...place },
  };
  return row
    ? [put]
    : [put, ...(await openBottle(manager, id, bottleIdFor(id), { note: '', sizeMl: null, price: null }, when))];
}

/** The guess of strength that follows from the recipe, or else from a liquid's label; a product that never had either keeps what it had. */
function guessOf(
  row: object | undefined,
  recipe: Recipe | null,
  strength: Awaited<ReturnType<typeof recipeOf>> | undefined,
  label: ReadLabel | null,
): { guessEcPerMlL?: number | null } {
  if (strength?.known) return { guessEcPerMlL: strength.ecPerMlL };
  if (label && label.ecPerUnitL > 0) return { guessEcPerMlL: label.ecPerUnitL };
  return row && !recipe ? {} : { guessEcPerMlL: null };
}

/**
 * A pen's scale found to be another than was thought. What the pen showed stays what it showed: regimens keep their figure on the pen, so
 * plants get what they always got, and batches' strengths are read anew.
 */
async function rescale(manager: EntityManager, changes: RecordChange[], before: Meter, scale: number): Promise<void> {
  const [first] = await manager.query<{ id: string }[]>(
    `SELECT m.id FROM meter m LEFT JOIN setting s ON s.key = 'mainPpmMeter' WHERE m.quantity = 'ppm' ORDER BY m.id = s.value DESC, m.retiredOn IS NOT NULL, m.position LIMIT 1`,
  );
  if (first?.id === before.id) changes.push(...(await regimenEcRescaled(manager, before.scale! / scale)));
}

/** A short name stands in a sentence; a long name's beginning serves. */
const SHORT_NAME = 20;
type NewBottle = { note: string; sizeMl: number | null; price: number | null };
async function openBottle(
  manager: EntityManager,
  productId: string,
  bottleId: string,
  { note, sizeMl, price }: NewBottle,
  when: When,
): Promise<RecordChange[]> {
  const open = await manager.query<{ id: string }[]>(
    'SELECT id FROM bottle WHERE productId = ? AND finishedOn IS NULL AND id <> ?',
    [productId, bottleId],
  );
  const [top] = await manager.query<{ position: number | null }[]>('SELECT max(position) AS position FROM bottle');
  return [
    ...open.map((b): RecordChange => ({ table: 'bottle', id: b.id, after: { finishedOn: when.localDate } })),
    {
      table: 'bottle',
      id: bottleId,
      after: {
        productId,
        openedOn: when.localDate,
        note,
        sizeMl,
        price,
        position: (top?.position ?? 0) + 1,
        finishedOn: null,
      },
    },
  ];
}

/** The first bottle's id follows from its product's, so that adding a product twice opens one bottle. */
function bottleIdFor(productId: string): string {
  const last = productId.slice(-1).toLowerCase();
  return productId.slice(0, -1) + ((parseInt(last, 16) + 1) % 16).toString(16);
}

function change(
  manager: EntityManager,
  eventId: string,
  when: When,
  words: string,
  changes: RecordChange[],
): Promise<{ repeated: boolean }> {
  return changeRecords(manager, { eventId, when, group: 'Shelf', words, changes });
}

async function requireThing(
  manager: EntityManager,
  what: ShelfKind,
  id: string,
): Promise<Record<string, string | number | null>> {
  const row = await readRecord(manager, what, id);
  if (!row) throw new AppError('not-found', `That ${WORDS[what]} is not on the shelf.`);
  return row;
}

async function requireFreeName(manager: EntityManager, what: ShelfKind, id: string, name: string): Promise<void> {
  const [other] = await manager.query<unknown[]>(
    `SELECT 1 FROM "${what}" WHERE lower(name) = lower(?) AND id <> ? AND retiredOn IS NULL`,
    [name, id],
  );
  if (!other) return;
  const message = `There is a ${WORDS[what]} called ${name} already. Call this one something else.`;
  throw new AppError('invalid-request', message, { errors: [{ path: 'values.name', message }] });
}

function fieldError(path: string, message: string): AppError {
  return new AppError('invalid-request', message, { errors: [{ path, message }] });
}

/** A label is kept as it declares itself, once it does not contradict itself. */
function requireLabel(figures: LabelFigures): ReadLabel {
  const read = readLabel(figures);
  if (read.ok) return read;
  const errors = read.issues.map(({ at, message }) => ({
    path: `values.analysis.${isItem(at) ? `percent.${at}` : at}`,
    message,
  }));
  throw new AppError('invalid-request', errors[0]!.message, { errors });
}
const isItem = (at: string) => at !== 'densityGMl' && at !== 'thinned' && at !== 'percent';

/** An analysis must be of one water: its charges meet within a tenth, its pH can be. */
function requireWater(values: ShelfValues<'water'>): void {
  if (values.known?.method !== 'analysis') return;
  const water = waterFromAnalysis(values.known.lines, values.known.ph);
  if (water.ok) return;
  const line = values.known.lines.findIndex((l) => l.item === water.at);
  throw fieldError(
    water.at === 'ph' ? 'values.known.ph' : line >= 0 ? `values.known.lines.${line}.value` : 'values.known.lines',
    water.message,
  );
}

function requireStandard(meter: Meter, standard: StandardId | 'zero'): void {
  const wanted = standard === 'zero' ? 'ppm' : STANDARDS[standard].quantity;
  if (wanted === meter.quantity) return;
  const message =
    meter.quantity === 'pH'
      ? `${meter.name} reads pH: check it in a pH standard.`
      : `${meter.name} reads conductivity: check it in air, then in the 1413 µS/cm standard.`;
  throw fieldError('standard', message);
}

/** An open batch must keep what it is made with. */
async function requireNotLast(manager: EntityManager, what: ShelfKind, id: string): Promise<void> {
  const column = { water: 'waterId', vessel: 'vesselId', meter: 'ppmMeterId', tool: undefined, product: undefined }[
    what
  ];
  if (!column) return;
  const [open] = await manager.query<{ name: string }[]>(
    `SELECT name FROM batch WHERE "${column}" = ? AND status = 'open' LIMIT 1`,
    [id],
  );
  if (open)
    throw new AppError(
      'in-use',
      `The batch ${open.name} on the bench is being made with it. Finish or throw out that batch first.`,
    );
}

async function requireTankHolds(manager: EntityManager, id: string, values: ShelfValues<'water'>): Promise<void> {
  if (values.tankL === null) return;
  const [last] = await manager.query<{ litres: number }[]>(
    `SELECT json_extract(payload, '$.litres') AS litres FROM care_event WHERE kind = 'waterCounted' AND voidedBy IS NULL AND json_extract(payload, '$.waterId') = ? ORDER BY at DESC LIMIT 1`,
    [id],
  );
  if (!last || last.litres <= values.tankL) return;
  const message = `The tank was last seen with ${last.litres} L in it, so it holds more than ${values.tankL} L. Check the figure.`;
  throw new AppError('invalid-request', message, { errors: [{ path: 'values.tankL', message }] });
}

/** A syringe without marks cannot measure; a dropper or a spoon may be of unknown size, and is then said to be. */
function requireSizes(tool: ShelfValues<'tool'>): void {
  const at = (path: string, message: string) =>
    new AppError('invalid-request', message, { errors: [{ path: `values.${path}`, message }] });
  if (tool.kind === 'syringe' && tool.capacityMl === null)
    throw at('capacityMl', 'Give what the syringe holds, such as 5 mL.');
  if (tool.kind === 'syringe' && tool.stepMl === null) throw at('stepMl', 'Give its smallest mark, such as 0.2 mL.');
  if (tool.kind === 'syringe' && tool.stepMl! > tool.capacityMl!)
    throw at('stepMl', 'The smallest mark is larger than the whole syringe.');
  if (tool.kind === 'scale' && tool.stepG === null) throw at('stepG', 'Give its smallest step, such as 0.1 g.');
}

async function nextPosition(manager: EntityManager, what: ShelfKind): Promise<number> {
  const [top] = await manager.query<{ position: number | null }[]>(`SELECT max(position) AS position FROM "${what}"`);
  return (top?.position ?? -1) + 1;
}
