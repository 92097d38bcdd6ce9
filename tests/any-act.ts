import type { ClayRoom } from '../src/contract/clay.ts';
import type { Kit } from './server-kit.ts';
import { testId, TODAY } from './server-kit.ts';

/** One request that a grower's device might send; `id`: the act's number. */
export type Act = { readonly url: string; readonly body: Record<string, unknown>; readonly id: string };
/** Chooses: a whole number from 0 up to, not including, `n`. */
export type Pick = (n: number) => number;
type Maker = (kit: Kit, pick: Pick) => Promise<Act | undefined>;

const one = <T>(list: readonly T[], pick: Pick): T | undefined =>
  list.length === 0 ? undefined : list[pick(list.length)];
const value = (figure: number) => ({ kind: 'value', value: figure });
const NOTHING = { kind: 'notMeasured' };
const act = (url: string, body: Record<string, unknown>): Act => {
  const id = testId();
  return { url: `${url}/${id}`, body, id };
};

const potOf = async (kit: Kit, pick: Pick, where = 'retiredOn IS NULL') =>
  one(
    await kit.rows<{ id: string; fillMl: number; reservoirMl: number; placeId: string }>(
      `SELECT * FROM pot WHERE ${where} ORDER BY code LIMIT 12`,
    ),
    pick,
  );
const pens = async (kit: Kit, pick: Pick) => {
  const of = async (quantity: string) =>
    one(
      await kit.rows<{ id: string }>(
        `SELECT id FROM meter WHERE quantity = ? AND unit IN ('ppm', 'pH') ORDER BY retiredOn IS NOT NULL, position`,
        [quantity],
      ),
      pick,
    )!.id;
  return { ppmMeterId: await of('ppm'), phMeterId: await of('pH') };
};
/** A water in use; where all were put away one of those, which is refused, as in life. */
const waterOf = async (kit: Kit, pick: Pick) =>
  one(
    await kit.rows<{ id: string }>(
      `SELECT id FROM water WHERE retiredOn IS NULL OR NOT EXISTS (SELECT 1 FROM water WHERE retiredOn IS NULL) ORDER BY position`,
    ),
    pick,
  )!.id;
const pouredOf = async (kit: Kit, pick: Pick) =>
  one(
    await kit.rows<{ id: string }>(
      `SELECT id FROM batch WHERE status = 'poured' AND emptied = 0 ORDER BY startedAt DESC LIMIT 4`,
    ),
    pick,
  )?.id ?? null;
const openOf = async (kit: Kit) =>
  (await kit.rows<{ id: string }>(`SELECT id FROM batch WHERE status = 'open' ORDER BY startedAt DESC`))[0]?.id;
const eventOf = async (kit: Kit, pick: Pick, kinds: string) =>
  one(
    await kit.rows<{ id: string; potId: string }>(
      `SELECT id, potId FROM care_event WHERE kind IN (${kinds}) AND voidedBy IS NULL ORDER BY seq DESC LIMIT 6`,
    ),
    pick,
  );
const dueOf = async (kit: Kit, potId: string) => {
  const round = await kit.call<{ places: { pots: { id: string; due: { dueOn: string } }[] }[] }>('GET', '/api/round');
  return round.body.places.flatMap((p) => p.pots).find((p) => p.id === potId)?.due.dueOn ?? TODAY;
};
type ShelfThing = 'waters' | 'meters' | 'products';
const shelfThing = async (kit: Kit, pick: Pick, what: ShelfThing) => {
  const { body } = await kit.call<
    Record<ShelfThing, { id: string; retiredOn: string | null; values: Record<string, unknown> }[]>
  >('GET', '/api/shelf/room');
  return one(body[what], pick)!;
};
const changeThing =
  (
    what: 'water' | 'meter' | 'product',
    change: (values: Record<string, unknown>, pick: Pick) => Record<string, unknown>,
  ): Maker =>
  async (kit, pick) => {
    const { id, values } = await shelfThing(kit, pick, `${what}s`);
    return act('/api/shelf/acts', { kind: 'put', what, id, values: { ...values, ...change(values, pick) } });
  };
const step =
  (body: (kit: Kit, pick: Pick) => Promise<Record<string, unknown>>): Maker =>
  async (kit, pick) => {
    const batch = await openOf(kit);
    return batch === undefined ? undefined : act(`/api/bench/batches/${batch}/steps`, await body(kit, pick));
  };
const dosing = async (kit: Kit) =>
  (
    await kit.rows<{ id: string }>(
      `SELECT id FROM tool WHERE kind = 'dropper' AND dropsPerMl IS NOT NULL ORDER BY position`,
    )
  )[0]!.id;

/** Every kind of act, by a name of its own, as it may be sent at any moment: some are refused, as in life. */
export const ANY_ACT: Readonly<Record<string, Maker>> = {
  filled: async (kit, pick) => {
    const pot = (await potOf(kit, pick))!;
    const plain = pick(4) === 0;
    const batchId = plain ? null : await pouredOf(kit, pick);
    const stage = { waterId: await waterOf(kit, pick), ml: 100 + 50 * pick(4) };
    return act('/api/round/acts', {
      kind: 'filled',
      potId: pot.id,
      dueOn: await dueOf(kit, pot.id),
      batchId,
      waterId: plain ? await waterOf(kit, pick) : null,
      pouredMl: pot.fillMl,
      flushMl: stage.ml,
      flushWith: pick(2) === 0 ? [stage] : [],
      oldReservoir: {
        ppm: pick(3) === 0 ? NOTHING : value(90 + 15 * pick(20)),
        ph: pick(3) === 0 ? NOTHING : value(5.8 + pick(16) / 10),
        leftMl: pick(2) === 0 ? null : 10 + pick(40),
      },
      ...(pick(2) === 0
        ? { askedFor: { ppm: one(['turn', 'odd', null], pick), ph: one(['near', 'mate', null], pick) } }
        : {}),
      runOffPpm: pick(3) === 0 ? value(60 + pick(80)) : NOTHING,
      ...(await pens(kit, pick)),
    });
  },
  measured: async (kit, pick) => {
    const pot = (await potOf(kit, pick))!;
    const from = null;
    const on = pick(2) === 0 ? TODAY : '2026-11-01';
    return act(`/api/pots/${pot.id}/measures`, {
      figures: { leaves: 3 + pick(9), leafCm: 10 + pick(40) / 2 },
      on,
      from,
    });
  },
  several: async (kit, pick) => {
    const pots = await kit.rows<{ id: string; fillMl: number }>('SELECT id, fillMl FROM pot WHERE retiredOn IS NULL');
    const from = pick(pots.length);
    const fills = await Promise.all(
      pots.slice(from, from + 1 + pick(3)).map(async (pot) => ({
        eventId: testId(),
        act: {
          ...{ kind: 'filled', potId: pot.id, dueOn: await dueOf(kit, pot.id), batchId: null, waterId: null },
          ...{ pouredMl: pot.fillMl, flushMl: 300, flushWith: [], runOffPpm: NOTHING },
          ...{ oldReservoir: { ppm: NOTHING, ph: NOTHING, leftMl: null }, ppmMeterId: null, phMeterId: null },
        },
      })),
    );
    return act('/api/round/many', { fills });
  },
  note: async (kit, pick) =>
    act('/api/book/notes', {
      words: ['moved the lamps up', 'pests under the leaves', '?'][pick(3)],
      potIds: pick(2) === 0 ? [] : [(await potOf(kit, pick))!.id],
      on: pick(3) === 0 ? TODAY : '2026-11-20',
      image: null,
    }),
  startTrial: async (kit, pick) => {
    const busy = `SELECT p.potId FROM trial_pot p JOIN trial t ON t.id = p.trialId WHERE t.endedOn IS NULL`;
    const pots = await kit.rows<{ id: string }>(
      `SELECT id FROM pot WHERE retiredOn IS NULL AND id NOT IN (${busy}) ORDER BY code DESC LIMIT 6`,
    );
    const change = [
      { kind: 'strength', share: 0.5 },
      { kind: 'own', words: 'lamp a hand higher' },
      { kind: 'treatment', treatment: 'wet' },
    ][pick(3)];
    return act('/api/book/trials/acts', {
      kind: 'start',
      trialId: testId(),
      question: 'Does it?',
      change,
      measure: ['strength', 'ph', 'left', 'dry'][pick(4)],
      matters: 0.2,
      weeks: 4,
      potIds: pots.map(({ id }) => id),
      alike: [],
    });
  },
  endTrial: async (kit, pick) => {
    const trial = one(await kit.rows<{ id: string }>(`SELECT id FROM trial WHERE endedOn IS NULL ORDER BY id`), pick);
    return (
      trial &&
      act('/api/book/trials/acts', { kind: 'end', trialId: trial.id, why: '', after: ['back', 'keep', 'all'][pick(3)] })
    );
  },
  markTurn: async (kit, pick) => {
    const { body } = await kit.call<{ turns: { id: string }[] }>('GET', '/api/book/turns');
    const turn = one(body.turns, pick);
    return (
      turn && act('/api/book/turns/marks', { id: turn.id, name: ['', 'The new feed'][pick(2)], hidden: pick(2) === 0 })
    );
  },
  leftovers: async (kit) => {
    const left = await kit.rows<{ id: string }>(
      `SELECT id FROM batch WHERE status = 'poured' AND emptied = 0 ORDER BY startedAt LIMIT 1`,
    );
    const leftovers = left.map(({ id }) => ({ eventId: testId(), batchId: id }));
    if (leftovers.length === 0) return undefined;
    return act('/api/bench/leftovers', { leftovers, to: '' });
  },
  howMuchRead: async (kit, pick) => {
    const most = pick(12);
    return act(
      '/api/round/reading',
      pick(3) === 0
        ? { kind: 'never', potId: (await potOf(kit, pick))!.id, never: pick(2) === 0 }
        : {
            kind: 'howMuch',
            choice: one(
              [
                { how: 'everything' },
                { how: 'asked' },
                { how: 'little' },
                { how: 'atMost', most, of: 'dips' },
                { how: 'atMost', most, of: 'minutes' },
              ],
              pick,
            ),
          },
    );
  },
  skipped: async (kit, pick) => {
    const pot = (await potOf(kit, pick))!;
    return act('/api/round/acts', {
      kind: 'skipped',
      potId: pot.id,
      dueOn: await dueOf(kit, pot.id),
      reason: 'still wet',
      lookAgainOn: '2026-11-28',
    });
  },
  supplement: async (kit, pick) => {
    const pot = (await potOf(kit, pick, `retiredOn IS NULL AND medium = 'clay'`))!;
    const what = one(['magnesium', 'silicate', 'both'], pick);
    return act('/api/round/acts', {
      kind: 'supplement',
      potId: pot.id,
      batchId: await pouredOf(kit, pick),
      clockId: testId(),
      dueOn: await dueOf(kit, pot.id),
      what,
      way: 'soak',
      pouredMl: pot.reservoirMl,
      holdMinutes: 30,
    });
  },
  drained: async (kit, pick) => {
    const soak = await eventOf(kit, pick, `'supplementStarted'`);
    return soak && act('/api/round/acts', { kind: 'drained', potId: soak.potId, supplementId: soak.id });
  },
  toppedUp: async (kit, pick) =>
    act('/api/round/acts', {
      kind: 'toppedUp',
      potId: (await potOf(kit, pick))!.id,
      waterId: await waterOf(kit, pick),
      ml: 20 + pick(60),
    }),
  looked: async (kit, pick) =>
    act('/api/round/acts', {
      kind: 'looked',
      potId: (await potOf(kit, pick))!.id,
      look: {
        cues: { crust: one(['none', 'trace', 'ring'], pick), tips: 'brown' },
        note: '',
        growths: null,
        leafMm: null,
      },
    }),
  reread: async (kit, pick) =>
    act('/api/round/acts', {
      kind: 'reread',
      potId: (await potOf(kit, pick))!.id,
      ppm: value(90 + 5 * pick(60)),
      ph: value(5.5 + pick(20) / 10),
      leftMl: pick(3) === 0 ? null : 40 + pick(60),
      ...(await pens(kit, pick)),
    }),
  startBatch: async (kit, pick) => {
    const batch = testId();
    const bottle = one(
      await kit.rows<{ id: string }>(
        'SELECT b.id FROM bottle b JOIN product p ON p.id = b.productId WHERE b.finishedOn IS NULL AND p.kind = ?',
        ['feed'],
      ),
      pick,
    )!.id;
    const vessel = (
      await kit.rows<{ id: string }>('SELECT id FROM vessel WHERE retiredOn IS NULL ORDER BY capacityL DESC')
    )[0]!.id;
    return {
      id: batch,
      url: `/api/bench/batches/${batch}`,
      body: {
        mixKey:
          one(
            await kit.rows<{ mixKey: string }>(
              'SELECT DISTINCT mixKey FROM batch WHERE mixKey IS NOT NULL ORDER BY mixKey',
            ),
            pick,
          )?.mixKey ?? null,
        name: 'Any mix',
        waterId: await waterOf(kit, pick),
        vesselId: vessel,
        parts: [{ bottleId: bottle, aim: { kind: 'net', ppm: 80 + 10 * pick(4) } }],
        ...(await pens(kit, pick)),
        toolIds: [await dosing(kit)],
        volumeL: 3,
        phLow: 5.5,
        phHigh: 6.5,
      },
    };
  },
  base: step(async (_kit, pick) => ({ kind: 'base', reading: value(6 + pick(8)), confirmedOdd: true })),
  portion: step(async (kit, pick) => {
    const steps = 10 + pick(20);
    return {
      kind: 'portion',
      dose: { toolId: await dosing(kit), steps, doseMl: steps / 18, relativeSd: 0.05 },
      reading: value(40 + 10 * pick(8)),
      confirmedOdd: true,
    };
  }),
  reading: step(async (_kit, pick) => ({ kind: 'reading', reading: value(80 + 5 * pick(10)), confirmedOdd: true })),
  thin: step(async () => ({ kind: 'thin', pourOffL: 0, addL: 0.2, reading: value(90) })),
  leave: step(async () => ({ kind: 'leave', part: 0, why: 'enough' })),
  ph: step(async (_kit, pick) => ({ kind: 'ph', reading: value(6 + pick(12) / 10), confirmedOdd: true })),
  correction: step(async (kit) => {
    const [acid] = await kit.rows<{ id: string }>(
      `SELECT id FROM product WHERE kind = 'acid' AND retiredOn IS NULL ORDER BY position`,
    );
    return {
      kind: 'correction',
      productId: acid!.id,
      dose: { toolId: await dosing(kit), steps: 2, doseMl: 2 / 18, relativeSd: 0.05 },
      ratio: 1,
      reading: value(6.1),
      confirmedOdd: true,
    };
  }),
  pour: step(async () => ({ kind: 'pour' })),
  abandon: step(async () => ({ kind: 'abandon', reason: 'spilt' })),
  empty: async (kit, pick) => {
    const batch = await pouredOf(kit, pick);
    return batch === null ? undefined : act(`/api/bench/batches/${batch}/steps`, { kind: 'empty', to: 'the herbs' });
  },
  readWater: async (kit, pick) =>
    act('/api/shelf/acts', {
      kind: 'readWater',
      waterId: await waterOf(kit, pick),
      ppm: pick(4) === 0 ? NOTHING : value(4 + pick(12)),
      ph: pick(2) === 0 ? value(6 + pick(15) / 10) : NOTHING,
      ...(await pens(kit, pick)),
      temperatureC: null,
    }),
  countWater: async (kit, pick) =>
    act('/api/shelf/acts', { kind: 'countWater', waterId: await waterOf(kit, pick), litres: 3 + pick(12) }),
  testWater: changeThing('water', (_values, pick) => ({
    known: pick(4) === 0 ? null : { method: 'kit', alkalinity: { value: 1 + pick(6), unit: '°dKH' }, hardness: null },
    costPerL: pick(10) / 100,
  })),
  renameWater: changeThing('water', (values, pick) => ({ note: `shelf ${pick(9)}`, tankL: values['tankL'] })),
  rescalePen: changeThing('meter', (values, pick) =>
    values['quantity'] === 'ppm' && values['unit'] === 'ppm'
      ? { scale: one([0.5, 0.64, 0.7], pick), scaleFrom: 'print' }
      : {},
  ),
  label: changeThing('product', (values, pick) => {
    const analysis = values['analysis'] as { percent: Record<string, number> } | null;
    return analysis ? { analysis: { ...analysis, percent: { ...analysis.percent, K2O: 4 + pick(6) } } } : {};
  }),
  unlabel: changeThing('product', () => ({ analysis: null })),
  openBottle: async (kit, pick) =>
    act('/api/shelf/acts', {
      kind: 'openBottle',
      productId: (await shelfThing(kit, pick, 'products')).id,
      bottleId: testId(),
      note: '',
      sizeMl: 500,
      price: 9,
    }),
  checkPen: async (kit, pick) =>
    act('/api/shelf/acts', {
      kind: 'checkMeter',
      meterId: (await pens(kit, pick)).phMeterId,
      standard: 'ph686',
      shown: 6.6 + pick(5) / 10,
      temperatureC: 25,
      settled: true,
      adjusted: pick(2) === 0,
    }),
  markPen: async (kit, pick) => {
    const { ppmMeterId, phMeterId } = await pens(kit, pick);
    return act('/api/shelf/acts', {
      kind: 'markMeter',
      meterId: pick(2) === 0 ? ppmMeterId : phMeterId,
      fromOn: pick(2) === 0 ? null : '2026-11-15',
      offBy: pick(3) === 0 ? null : -0.1,
      why: 'drifted',
    });
  },
  mainPen: async (kit, pick) => act('/api/shelf/acts', { kind: 'main', meterId: (await pens(kit, pick)).ppmMeterId }),
  retireThing: async (kit, pick) =>
    act('/api/shelf/acts', { kind: 'retire', what: 'water', id: (await shelfThing(kit, pick, 'waters')).id }),
  bringThingBack: async (kit, pick) =>
    act('/api/shelf/acts', { kind: 'bringBack', what: 'water', id: (await shelfThing(kit, pick, 'waters')).id }),
  changePot: async (kit, pick) => {
    const pot = (await potOf(kit, pick))!;
    const { body } = await kit.call<{ values: Record<string, unknown> }>('GET', `/api/pots/${pot.id}`);
    const change = one(
      [
        { clay: 'Clay batch 9' },
        { stage: 'rest' },
        { note: 'turned' },
        { repottedOn: '2026-11-20' },
        { sensitivity: 'tender' },
      ],
      pick,
    );
    return act('/api/pots/acts', { kind: 'change', potId: pot.id, values: { ...body.values, ...change } });
  },
  movePot: async (kit, pick) => {
    const place = one(
      await kit.rows<{ id: string }>('SELECT id FROM place WHERE retiredOn IS NULL ORDER BY position'),
      pick,
    )!;
    return act('/api/pots/acts', {
      kind: 'move',
      potIds: [(await potOf(kit, pick))!.id],
      placeId: place.id,
      beforePotId: null,
    });
  },
  follow: async (kit, pick) => {
    const regimen = one(
      await kit.rows<{ id: string }>('SELECT id FROM regimen WHERE retiredOn IS NULL ORDER BY name'),
      pick,
    )!;
    return act('/api/pots/acts', {
      kind: 'regimen',
      potIds: [(await potOf(kit, pick))!.id],
      regimenId: regimen.id,
      reason: 'tried',
      fromDate: one([TODAY, '2026-12-02'], pick),
    });
  },
  askSoak: async (kit, pick) =>
    act('/api/pots/acts', {
      kind: 'soak',
      potIds: [(await potOf(kit, pick))!.id],
      planIds: [testId()],
      what: one(['magnesium', 'silicate'], pick),
      fromDate: TODAY,
    }),
  retirePot: async (kit, pick) =>
    act('/api/pots/acts', { kind: 'retire', potIds: [(await potOf(kit, pick))!.id], became: 'given away' }),
  bringPotBack: async (kit, pick) => {
    const pot = await potOf(kit, pick, 'retiredOn IS NOT NULL');
    return pot && act('/api/pots/acts', { kind: 'bringBack', potIds: [pot.id] });
  },
  placeYear: async (kit, pick) => {
    const [place] = await kit.rows<{ id: string; name: string; note: string }>(
      'SELECT * FROM place WHERE retiredOn IS NULL ORDER BY position',
    );
    const year = {
      temperatureC: Array.from({ length: 12 }, () => 18 + pick(6)),
      humidityPct: Array.from({ length: 12 }, () => 40 + pick(30)),
    };
    return act('/api/pots/acts', {
      kind: 'putPlace',
      placeId: place!.id,
      values: { name: place!.name, note: place!.note, light: one(['bright', 'lamps', 'low'], pick), year },
    });
  },
  changeRegimen: async (kit, pick) => {
    const { body } = await kit.call<{
      regimens: { id: string; values: { feeds: Record<string, unknown>[] } & Record<string, unknown> }[];
    }>('GET', '/api/pots');
    const regimen = one(body.regimens, pick)!;
    const feeds = regimen.values.feeds.map((f, i) =>
      i === 0 && f['what'] !== 'plain' ? { ...f, netPpm: 80 + 10 * pick(5) } : f,
    );
    return act('/api/pots/acts', { kind: 'putRegimen', regimenId: regimen.id, values: { ...regimen.values, feeds } });
  },
  driedPot: async (kit, pick) =>
    act('/api/clay/acts', { kind: 'dried', clayId: null, potId: (await potOf(kit, pick))!.id }),
  fillClay: async (kit, pick) => {
    const clay = one(
      await kit.rows<{ id: string }>('SELECT id FROM clay_batch WHERE retiredOn IS NULL ORDER BY name'),
      pick,
    )!;
    return act('/api/clay/acts', {
      kind: 'fill',
      clayId: clay.id,
      waterId: await waterOf(kit, pick),
      pouredOffL: 0,
      to: '',
      freshL: 2,
      at: null,
      unread: true,
    });
  },
  toldClay: async (kit, pick) => {
    const { batches } = (await kit.call<ClayRoom>('GET', '/api/clay')).body;
    const card = batches.find((batch) => batch.card !== null)?.card;
    const clay = one(
      batches.filter(({ retiredOn }) => retiredOn === null),
      pick,
    )!;
    return card && pick(3) > 0
      ? act('/api/clay/acts', {
          kind: 'told',
          clayId: clay.id,
          bag: { name: 'Somebody’s bag', ...card, bagId: testId() },
        })
      : act('/api/clay/acts', { kind: 'letGoTold', clayId: clay.id });
  },
  startHold: async (kit, pick) => {
    const pot = (await potOf(kit, pick, `retiredOn IS NULL AND medium = 'clay'`))!;
    return act('/api/clay/acts', {
      kind: 'startHold',
      potId: pot.id,
      clockId: testId(),
      planId: null,
      purpose: 'check',
      waterId: await waterOf(kit, pick),
      waterL: pot.reservoirMl / 1000,
      minutes: 60,
    });
  },
  readHold: async (kit, pick) => {
    const hold = await eventOf(kit, pick, `'potHoldStarted'`);
    return (
      hold &&
      act('/api/clay/acts', {
        kind: 'readHold',
        holdId: hold.id,
        where: 'top',
        reading: value(60 + 10 * pick(20)),
        ppmMeterId: (await pens(kit, pick)).ppmMeterId,
        confirmedOdd: true,
      })
    );
  },
  drainHold: async (kit, pick) => {
    const hold = await eventOf(kit, pick, `'potHoldStarted'`);
    return hold && act('/api/clay/acts', { kind: 'drainHold', holdId: hold.id, to: '' });
  },
  keepPlan: async (kit, pick) => {
    const [season] = await kit.rows<{ madeAt: string }>(`SELECT madeAt FROM season WHERE madeAt <> ''`);
    const [first, second] = [await potOf(kit, pick), await potOf(kit, pick)];
    if (!first || !second || first.id === second.id) return undefined;
    const day = (n: number) => new Date(Date.parse(`${TODAY}T12:00:00Z`) + n * 86_400_000).toISOString().slice(0, 10);
    const days = [pick(5), 7 + pick(5)];
    const visits = days.map((n) => ({ on: day(n), late: pick(2), soaks: pick(3) === 0 ? ['magnesium'] : [] }));
    const pins = pick(2) === 0 ? [{ on: day(days[0]!), soak: null }] : [];
    return act('/api/season/plan', {
      basis: season?.madeAt ?? null,
      aim: one(['nobodyLate', 'fewestMixes', 'leastWater'], pick),
      minutesADay: pick(2) === 0 ? null : 60,
      did: { kind: 'kept' },
      clay: {},
      pots: [
        { potId: first.id, visits, pins, nots: [] },
        { potId: second.id, visits: visits.slice(1), pins: [], nots: [day(pick(9))] },
      ],
    });
  },
  goAway: async (_kit, pick) => {
    const day = (n: number) => new Date(Date.parse(`${TODAY}T12:00:00Z`) + n * 86_400_000).toISOString().slice(0, 10);
    const from = pick(9);
    return Promise.resolve(
      act('/api/season/acts', { kind: 'away', awayId: testId(), fromDate: day(from), untilDate: day(from + pick(12)) }),
    );
  },
  stayAfterAll: async (kit, pick) => {
    const away = one(await kit.rows<{ id: string }>('SELECT id FROM away ORDER BY id'), pick);
    return away && act('/api/season/acts', { kind: 'notAway', awayId: away.id });
  },
  stillOnDay: async (kit, pick) => {
    if (!(await kit.rows(`SELECT 1 FROM water WHERE kind = 'still' AND retiredOn IS NULL`)).length) return undefined;
    const on = new Date(Date.parse(`${TODAY}T12:00:00Z`) + (1 + pick(9)) * 86_400_000).toISOString().slice(0, 10);
    return act('/api/season/acts', { kind: 'made', on, litres: pick(3) === 0 ? null : pick(30) });
  },
  sayWorkTimes: async (_kit, pick) => {
    const minutes = () => (pick(3) === 0 ? null : 1 + pick(20));
    return Promise.resolve(
      act('/api/season/acts', {
        ...{ kind: 'workTimes', mix: minutes(), pot: 1 + pick(40) },
        ...{ soakedPot: minutes(), leach: minutes() },
      }),
    );
  },
  notePart: async (_kit, pick) =>
    Promise.resolve(
      act('/api/season/acts', {
        ...{ kind: 'part', partId: testId(), name: one(['membrane', 'cartridge'], pick) },
        ...{ everyDays: 30 + pick(300), changedOn: TODAY },
      }),
    ),
  changePart: async (kit, pick) => {
    const part = one(await kit.rows<{ id: string }>('SELECT id FROM water_part WHERE droppedOn IS NULL'), pick);
    return part && act('/api/season/acts', { kind: 'partChanged', partId: part.id, on: '2026-11-01' });
  },
  dropPart: async (kit, pick) => {
    const part = one(await kit.rows<{ id: string }>('SELECT id FROM water_part WHERE droppedOn IS NULL'), pick);
    return part && act('/api/season/acts', { kind: 'dropPart', partId: part.id });
  },
  letPlanGo: async () => Promise.resolve(act('/api/season/acts', { kind: 'dropPlan' })),
  startSoakTest: async (kit, pick) => {
    const pot = (await potOf(kit, pick, `retiredOn IS NULL AND medium = 'clay'`))!;
    const feed = pick(2) === 0 ? await pouredOf(kit, pick) : null;
    return act('/api/drift/acts', {
      kind: 'startSoak',
      potId: pot.id,
      clockIds: [testId(), testId(), testId()],
      batchId: feed,
      soakKind: feed === null ? 'still' : 'feed',
      waterId: feed === null ? await waterOf(kit, pick) : null,
      fillMl: pot.reservoirMl,
      aged: pick(2) === 0,
      covered: pick(2) === 0,
      minutes: 60,
    });
  },
  readSoakTest: async (kit, pick) => {
    const soak = await eventOf(kit, pick, `'soakStarted'`);
    return (
      soak &&
      act('/api/drift/acts', {
        kind: 'readSoak',
        soakId: soak.id,
        afterMinutes: one([0, 10, 30, 60], pick),
        opened: false,
        ph: value(6.4 + pick(10) / 10),
        ppm: NOTHING,
        ...(await pens(kit, pick)),
        confirmedOdd: true,
      })
    );
  },
  endSoakTest: async (kit, pick) => {
    const soak = await eventOf(kit, pick, `'soakStarted'`);
    return soak && act('/api/drift/acts', { kind: 'endSoak', soakId: soak.id, leakedMl: pick(2) === 0 ? null : 10 });
  },
  startTreatment: async (kit, pick) =>
    act('/api/drift/acts', {
      kind: 'startTreatment',
      treatmentId: testId(),
      potId: (await potOf(kit, pick))!.id,
      treatment: 'wet',
      note: 'more air',
      fromDate: '2026-11-20',
    }),
  endTreatment: async (kit, pick) => {
    const treatment = one(
      await kit.rows<{ id: string }>('SELECT id FROM treatment WHERE toDate IS NULL ORDER BY rowid'),
      pick,
    );
    return treatment && act('/api/drift/acts', { kind: 'endTreatment', treatmentId: treatment.id });
  },
  answerAdvice: async (kit, pick) => {
    const { body } = await kit.call<{ pots: { id: string; advices: { rule: string; evidenceKey: string }[] }[] }>(
      'GET',
      '/api/advice',
    );
    const pot = one(body.pots, pick);
    const advice = pot && one(pot.advices, pick);
    return (
      advice &&
      act('/api/advice/acts', {
        kind: one(['accept', 'decline'], pick),
        potId: pot.id,
        rule: advice.rule,
        evidenceKey: advice.evidenceKey,
        answerId: testId(),
        planId: testId(),
      })
    );
  },
  settings: async (kit, pick) => {
    const { body } = await kit.call('GET', '/api/shell/settings');
    return act('/api/shell/settings', {
      ...body,
      latitude: one([54.1, 50, -33], pick),
      workingDays: one(
        [
          [1, 2, 3, 4, 5, 6, 7],
          [3, 6],
        ],
        pick,
      ),
    });
  },
  plan: async (kit, pick) =>
    act('/api/shell/plans/acts', {
      kind: 'plan',
      planId: testId(),
      subjectKind: 'pot',
      subjectId: (await potOf(kit, pick))!.id,
      words: 'Stake it',
      onDate: '2026-11-29',
      origin: 'round',
    }),
  correct: async (kit, pick) => {
    const event = await eventOf(
      kit,
      pick,
      `'potFilled', 'potReread', 'waterRead', 'batchBase', 'batchPh', 'batchPortion', 'potHoldRead', 'soakRead'`,
    );
    if (!event) return undefined;
    const { status, body } = await kit.call<{ kind: string; payload: Record<string, unknown> }>(
      'GET',
      `/api/book/acts/${event.id}`,
    );
    if (status !== 200) return undefined;
    const { kind, payload } = body;
    const put: Record<string, Record<string, unknown>> = {
      potFilled: {
        pouredMl: 60 + pick(40),
        oldReservoir: { ppm: value(120 + pick(90)), ph: value(6 + pick(12) / 10), leftMl: 30 },
      },
      potReread: { ppm: value(100 + pick(99)) },
      waterRead: { ppm: value(5 + pick(9)), ph: value(6.5) },
      batchBase: { reading: value(5 + pick(9)) },
      batchPh: { reading: value(5.5 + pick(15) / 10) },
      batchPortion: { reading: value(60 + pick(60)) },
      potHoldRead: { reading: value(70 + pick(90)) },
      soakRead: { ph: value(6.5 + pick(9) / 10) },
    };
    return act('/api/book/corrections', { targetId: event.id, payload: { ...payload, ...put[kind] } });
  },
  undo: async (kit, pick) => {
    const target = one(
      await kit.rows<{ id: string }>('SELECT id FROM care_event WHERE voidedBy IS NULL ORDER BY seq DESC LIMIT 8'),
      pick,
    );
    return target && act('/api/book/undos', { targetId: target.id });
  },
};
