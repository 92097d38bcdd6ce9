import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { serverKit, testId, type Kit } from '../../../tests/server-kit.ts';
import type { BatchView, BeforeStart } from '../../contract/bench.ts';
import type { BenchList } from '../../contract/bench-list.ts';
import type { ManyDone } from '../../contract/common.ts';
import type { Problem } from '../../contract/errors.ts';
import type { RecipeBook, RecipeValues } from '../../contract/recipes.ts';
import type { RoundView } from '../../contract/round.ts';
import type { ShelfRoom, ShelfView } from '../../contract/shelf.ts';

/* Batches of several parts over the API: order, bands, stocks, recipes and the trust they earn, leftovers, what is asked before a start. */

let kit: Kit;
let shelf: ShelfView;
beforeAll(async () => {
  kit = await serverKit(6);
  shelf = (await kit.call<ShelfView>('GET', '/api/shelf')).body;
});
afterAll(() => kit.close());

type Answer = BatchView & Partial<Omit<Problem, 'status'>>;
const value = (v: number) => ({ kind: 'value', value: v });
const net = (ppm: number) => ({ kind: 'net', ppm });
const bottle = (name: RegExp) => shelf.bottles.find((b) => name.test(b.name))!;
const water = (name: RegExp) => shelf.waters.find((w) => name.test(w.name))!.id;
const vessel = (litres: number) => shelf.vessels.find((v) => v.capacityL === litres)!.id;
const request = (more: object = {}) => ({
  mixKey: null,
  name: 'Test can',
  waterId: water(/Still/),
  vesselId: vessel(10),
  parts: [{ bottleId: bottle(/House/).id, aim: net(90) }],
  ppmMeterId: shelf.meters.find((m) => m.quantity === 'ppm')!.id,
  phMeterId: shelf.meters.find((m) => m.quantity === 'pH')!.id,
  toolIds: shelf.tools.filter((t) => t.dropsPerMl !== null || t.kind === 'syringe').map((t) => t.id),
  volumeL: 4,
  phLow: 5.5,
  phHigh: 6.5,
  ...more,
});
async function start(more: object = {}) {
  const id = testId();
  return { id, ...(await kit.call<Answer>('PUT', `/api/bench/batches/${id}`, request(more))) };
}
const step = async (batchId: string, body: object, id = testId()) => ({
  id,
  ...(await kit.call<Answer>('PUT', `/api/bench/batches/${batchId}/steps/${id}`, body)),
});
const undo = (targetId: string) => kit.call('PUT', `/api/book/undos/${testId()}`, { targetId });
/** Every part to its end by readings that agree with the coach. */
async function toStrength(id: string, base = 9): Promise<Answer> {
  let view = (await step(id, { kind: 'base', reading: value(base) })).body;
  for (let n = 0; n < 12 && view.advice.kind === 'add'; n++) {
    const { part, toolId, steps, doseMl, relativeSd, expected } = view.advice;
    const dose = { toolId, steps, doseMl, relativeSd };
    view = (
      await step(id, { kind: 'portion', part, dose, reading: value(Math.round(expected.ppm)), confirmedOdd: true })
    ).body;
  }
  return view;
}

describe('several parts in one can', () => {
  it('go in by the order that clouds least, each with its own band over what was read before it', async () => {
    const { id, body } = await start({
      parts: [
        { bottleId: bottle(/House/).id, aim: net(90) },
        { bottleId: bottle(/silicate/).id, aim: { kind: 'perL', units: 0.3 } },
        { bottleId: bottle(/Calcium/).id, aim: net(50) },
      ],
    });
    expect(body.parts.map((p) => p.short)).toEqual(['silicate', 'cal-mag', 'feed']);
    expect(body.parts.map((p) => p.reason)).toEqual([
      expect.stringMatching(/alone and well stirred/),
      expect.stringMatching(/calcium before the feed/),
      expect.any(String),
    ]);
    const view = await toStrength(id);
    expect(view.advice.kind).toBe('inside');
    expect(view.parts.map((p) => p.state)).toEqual(['measured', 'inside', 'inside']);
    expect(view.parts[2]!.overPpm).toBeGreaterThan(60);
    expect(view.expected.known && view.expected.inside.elements.map((e) => e.symbol)).toEqual(
      expect.arrayContaining(['N', 'Ca', 'Si']),
    );
    const odd = await step(id, {
      kind: 'portion',
      part: 0,
      dose: { toolId: view.tools[0]!.id, steps: 1, doseMl: 0.1, relativeSd: 0.05 },
      reading: null,
      confirmedOdd: false,
    });
    expect(odd.body).toMatchObject({ code: 'batch-step-order', detail: expect.stringMatching(/Take that back first/) });
    await step(id, { kind: 'abandon', reason: '' });
  });
  it('the order can be overruled with a reason, which is kept; what it risks is said all the same', async () => {
    const parts = [
      { bottleId: bottle(/Calcium/).id, aim: net(200) },
      { bottleId: bottle(/silicate/).id, aim: { kind: 'perL', units: 1 } },
    ];
    const asked = await kit.call<BeforeStart>(
      'POST',
      '/api/bench/before',
      request({ parts, ownOrder: 'as its maker says' }),
    );
    expect(asked.body.steps.map((s) => s.words.split(':')[0])).toEqual([
      expect.stringMatching(/Read the plain/),
      expect.stringMatching(/^Calcium/),
      expect.stringMatching(/silicate/),
      expect.stringMatching(/^pH/),
    ]);
    expect(asked.body.steps[2]!.why).toMatch(/in your order: as its maker says; calcium meets silicate/);
    const { id, body } = await start({ parts, ownOrder: 'as its maker says' });
    expect(body.parts.map((p) => p.short)).toEqual(['cal-mag', 'silicate']);
    expect(body.parts[1]!.reason).toBe('in your order: as its maker says');
    await step(id, { kind: 'abandon', reason: '' });
    expect((await start({ parts, ownOrder: ' ' })).body.errors?.[0]?.path).toBe('ownOrder');
  });
  it('silicate is offered as the alkali where silica belongs and has room, thinned and with its care', async () => {
    const { id } = await start({ phLow: 7.2, phHigh: 7.6 });
    await toStrength(id);
    const view = (await step(id, { kind: 'ph', reading: value(6), confirmedOdd: true })).body;
    const silicate = view.ph.choices.find((c) => /silicate/i.test(c.name));
    expect(silicate).toMatchObject({ direction: 'up', brings: expect.stringMatching(/silicon/) as unknown });
    expect(silicate!.caution).toMatch(/gloves|acid/i);
    const { dose, productId } = silicate!;
    const { toolId, steps, doseMl, relativeSd, ratio } = dose!;
    const given = await step(id, {
      ...{ kind: 'correction', productId, ratio, dose: { toolId, steps, doseMl, relativeSd } },
      ...{ reading: value(Number(dose!.expected.ph.toFixed(1))), confirmedOdd: true },
    });
    expect(given.body.ph.corrections).toBe(1);
    await step(id, { kind: 'abandon', reason: '' });
    // Not into a soak that is meant to be something else.
    const soak = await start({
      ...{ use: 'soak', holdMinutes: 30, phLow: 7.2, phHigh: 7.6 },
      parts: [{ bottleId: bottle(/Epsom/).id, aim: net(100) }],
    });
    await toStrength(soak.id);
    const there = (await step(soak.id, { kind: 'ph', reading: value(6), confirmedOdd: true })).body;
    expect(there.ph.choices.map((c) => c.name).filter((name) => /silicate/i.test(name))).toEqual([]);
    await step(soak.id, { kind: 'abandon', reason: '' });
  });
  it('each teaches its own product, and undoing a batch unteaches both', async () => {
    const room = async (name: RegExp) =>
      (await kit.call<ShelfRoom>('GET', '/api/shelf/room')).body.products.find((p) => name.test(p.values.name))!
        .learned;
    const before = await room(/Calcium/);
    const { id } = await start({
      parts: [
        { bottleId: bottle(/House/).id, aim: net(90) },
        { bottleId: bottle(/Calcium/).id, aim: net(50) },
      ],
    });
    await toStrength(id);
    const poured = await step(id, { kind: 'pour' });
    const after = await room(/Calcium/);
    expect(after!.batches).toBe((before?.batches ?? 0) + 1);
    await undo(poured.id);
    expect((await room(/Calcium/))?.batches ?? 0).toBe(before?.batches ?? 0);
    await step(id, { kind: 'abandon', reason: '' });
  });
  it('a product twice, an element its label has not, silicate past its top dose: each at its field', async () => {
    const twice = await start({
      parts: [
        { bottleId: bottle(/House/).id, aim: net(90) },
        { bottleId: bottle(/House/).id, aim: net(20) },
      ],
    });
    expect(twice.body.errors).toEqual([{ path: 'parts.1.bottleId', message: expect.stringMatching(/stands twice/) }]);
    const none = await start({
      parts: [{ bottleId: bottle(/Epsom/).id, aim: { kind: 'element', element: 'P', mgL: 5 } }],
    });
    expect(none.body.errors).toEqual([{ path: 'parts.0.aim', message: expect.stringMatching(/no phosphorus in it/) }]);
    const unlabelled = await start({
      parts: [{ bottleId: bottle(/Peat/).id, aim: { kind: 'element', element: 'N', mgL: 5 } }],
    });
    expect(unlabelled.body.errors?.[0]?.message).toMatch(/Copy the label of Peat granules/);
  });
  it('an element’s mg/L become the reading that the label gives it: 22 mg/L magnesium of Epsom salt is about +100', async () => {
    const { id, body } = await start({
      use: 'soak',
      waterId: water(/Rain/),
      parts: [{ bottleId: bottle(/Epsom/).id, aim: { kind: 'element', element: 'Mg', mgL: 22 } }],
    });
    expect(body.parts[0]!.aim!.netPpm).toBeGreaterThan(95);
    expect(body.parts[0]!.aim!.netPpm).toBeLessThan(105);
    expect(body.parts[0]!).toMatchObject({ method: 'stock', unit: 'g', aimWords: '22 mg/L magnesium' });
    await step(id, { kind: 'abandon', reason: '' });
  });
  it('plain water needs no parts, is read and poured', async () => {
    const { id } = await start({ use: 'water', parts: [] });
    const read = (await step(id, { kind: 'base', reading: value(9) })).body;
    expect(read).toMatchObject({ stage: 'ph', advice: { kind: 'inside' } });
    expect((await step(id, { kind: 'pour' })).body.status).toBe('poured');
    await step(id, { kind: 'empty', to: 'soil plants' });
  });
});

describe('solids and small batches', () => {
  it('granules are counted where they can be, and refused where they cannot', async () => {
    const granules = { bottleId: bottle(/Epsom/).id, aim: net(80), solid: 'granules' };
    const { id, body } = await start({ use: 'soak', volumeL: 1, vesselId: vessel(2), parts: [granules] });
    expect(body.parts[0]).toMatchObject({ method: 'granules', mlPerUnit: 1 });
    const view = (await step(id, { kind: 'base', reading: value(9) })).body;
    expect(view.advice).toMatchObject({ kind: 'add', toolId: null, toolKind: 'granules' });
    await step(id, { kind: 'abandon', reason: '' });
    const many = await start({ use: 'soak', volumeL: 9, parts: [{ ...granules, aim: net(150) }] });
    expect(many.body.errors?.[0]).toMatchObject({
      path: 'parts.0.aim',
      message: expect.stringMatching(/Too many to count/),
    });
  });
  it('a fresh stock starts from the wide spread again; the band of a soak is its own', async () => {
    const soak = {
      use: 'soak',
      waterId: water(/Rain/),
      parts: [{ bottleId: bottle(/Epsom/).id, aim: net(80) }],
      holdMinutes: 30,
      phLow: 6.5,
      phHigh: 7,
    };
    const one = await start(soak);
    await toStrength(one.id, 24);
    await step(one.id, { kind: 'pour' });
    const two = await start(soak);
    expect(two.body.parts[0]!.strength.sd).toBeGreaterThan(0.2 * two.body.parts[0]!.strength.ppmPerMlL);
    expect(two.body.parts[0]!.aim).toMatchObject({ netPpm: 80, lowPpm: 70, highPpm: 110, hardPpm: 160 });
    // A large one serves the next batch too, with what was learned of it; used up or never drawn on, it is not offered.
    const jar = async () =>
      (await kit.call<ShelfView>('GET', '/api/shelf')).body.bottles.find((b) => /Epsom/.test(b.name))!;
    const none = await start({ ...soak, parts: [{ bottleId: bottle(/Epsom/).id, aim: net(80), solid: 'large' }] });
    await step(none.id, { kind: 'abandon', reason: '' });
    const three = await start({ ...soak, parts: [{ bottleId: bottle(/Epsom/).id, aim: net(80), solid: 'large' }] });
    expect((await jar()).stock?.grams).toBe(one.body.parts[0]!.stock!.grams);
    const { parts } = await toStrength(three.id, 24);
    expect((await jar()).stock).toMatchObject({
      grams: parts[0]!.stock!.grams,
      leftMl: expect.closeTo(parts[0]!.stock!.waterMl - parts[0]!.totalMl, 6),
    });
    await step(three.id, { kind: 'pour' });
    const four = await start({ ...soak, parts: [{ bottleId: bottle(/Epsom/).id, aim: net(80), solid: 'made' }] });
    expect(four.body.parts[0]).toMatchObject({
      method: 'stock',
      mlPerUnit: parts[0]!.mlPerUnit,
      stock: { madeOn: expect.any(String) },
      strength: { batches: 1 },
    });
    expect(four.body.parts[0]!.strength.sd).toBeLessThan(0.1 * four.body.parts[0]!.strength.ppmPerMlL);
    const far = await start({
      ...soak,
      volumeL: 10,
      parts: [{ bottleId: bottle(/Epsom/).id, aim: net(400), solid: 'made' }],
    });
    expect(far.body.errors?.[0]?.message).toMatch(/mL of the stock are left: too little/);
    for (const { id } of [three, four])
      await step(id, { kind: id === four.id ? 'abandon' : 'empty', reason: '', to: '' });
    for (const { id } of [one, two]) await step(id, { kind: id === two.id ? 'abandon' : 'empty', reason: '', to: '' });
  });
});

describe('recipes and the trust they earn', () => {
  const values = (): RecipeValues => ({
    name: 'Cal-mag, then feed',
    use: 'feed',
    parts: [
      { productId: bottle(/House/).productId, aim: { kind: 'net', ppm: 90 }, solid: 'stock' },
      { productId: bottle(/Calcium/).productId, aim: { kind: 'net', ppm: 50 }, solid: 'stock' },
    ],
    waterId: null,
    phLow: 5.5,
    phHigh: 6.5,
    holdMinutes: null,
    note: '',
  });
  const act = (body: object, id = testId()) =>
    kit.call<{ eventId: string } & Partial<Problem>>('PUT', `/api/bench/recipes/acts/${id}`, body);
  const book = async () => (await kit.call<RecipeBook>('GET', '/api/bench/recipes')).body;
  const mine = async () => (await book()).recipes.find((r) => r.id === recipeId)!;
  const before = (more: object) => kit.call<BeforeStart>('POST', '/api/bench/before', request(more));
  const recipeId = testId();
  const can = () => ({
    recipeId,
    parts: [
      { bottleId: bottle(/House/).id, aim: net(90) },
      { bottleId: bottle(/Calcium/).id, aim: net(50) },
    ],
  });

  it('is kept, changed, put away and taken up, each undoable', async () => {
    await act({ kind: 'put', id: recipeId, values: values() });
    expect(await mine()).toMatchObject({ netPpm: expect.closeTo(140, 6), made: { times: 0 }, values: values() });
    const id = testId();
    await act({ kind: 'retire', id: recipeId }, id);
    expect((await mine()).retiredOn).not.toBeNull();
    await undo(id);
    expect((await mine()).retiredOn).toBeNull();
  });
  it('refuses an acid as a part, and one that brings nothing wanted', async () => {
    const bad = { ...values(), parts: [{ productId: bottle(/Nitric/).productId, aim: { kind: 'perL', units: 1 } }] };
    expect((await act({ kind: 'put', id: testId(), values: bad })).body.errors?.[0]).toMatchObject({
      path: 'parts.0',
      message: expect.stringMatching(/pH comes after/),
    });
  });
  it('right three times from the same water and bottles, it may be made unread; not from another water, not after a change', async () => {
    expect((await start({ ...can(), byRecipe: true })).body.errors?.[0]).toMatchObject({
      path: 'byRecipe',
      message: expect.stringMatching(/not yet read right/),
    });
    for (let n = 0; n < 3; n++) {
      const { id } = await start(can());
      await toStrength(id);
      await step(id, { kind: 'pour' });
      await step(id, { kind: 'empty', to: '' });
    }
    expect((await before(can())).body.trust).toEqual({
      trusted: true,
      why: expect.stringMatching(/right 3 times running/),
    });
    expect((await before({ ...can(), waterId: water(/Rain/) })).body.trust).toMatchObject({ trusted: false });
    const changed = {
      ...can(),
      parts: [
        { bottleId: bottle(/House/).id, aim: net(100) },
        { bottleId: bottle(/Calcium/).id, aim: net(50) },
      ],
    };
    expect((await before(changed)).body.trust).toMatchObject({ trusted: false });
    const { id, body } = await start({ ...can(), byRecipe: true });
    expect(body.byRecipe).toBe(true);
    let view = (await step(id, { kind: 'base', reading: value(9) })).body;
    expect(view.advice).toMatchObject({ kind: 'add', way: 'recipe' });
    for (const part of [0, 1]) {
      if (view.advice.kind !== 'add') throw new Error('nothing to add');
      const { toolId, steps, doseMl, relativeSd } = view.advice;
      view = (
        await step(id, {
          kind: 'portion',
          part,
          dose: { toolId, steps, doseMl, relativeSd },
          reading: null,
          confirmedOdd: false,
          byRecipe: true,
        })
      ).body;
    }
    expect(view.parts.map((p) => p.state)).toEqual(['byRecipe', 'byRecipe']);
    await step(id, { kind: 'pour' });
    expect(await kit.rows('SELECT pouredEcUsCm FROM batch WHERE id = ?', [id])).toEqual([{ pouredEcUsCm: null }]);
    expect((await mine()).made).toMatchObject({ times: 4, right: 3, unread: 1 });
    await step(id, { kind: 'empty', to: '' });
  });
  it('a fifth past what a recipe usually comes to is said, with the usual figure; short of that nothing is', async () => {
    const strong = await start(can());
    const inside = await toStrength(strong.id);
    expect(inside.usualNetPpm).toBeNull();
    const more = (await step(strong.id, { kind: 'reading', reading: value(240), confirmedOdd: true })).body;
    expect(more.usualNetPpm).toBeCloseTo(140, -1);
    await step(strong.id, { kind: 'abandon', reason: '' });
  });
  it('a use’s rule holds from when it is set, for batches made after it', async () => {
    const id = testId();
    const rule = { netPpm: 100, bandIn: 'ppm', below: 5, above: 15, hard: 40, phLow: 6.4, phHigh: 7, holdMinutes: 45 };
    await act({ kind: 'rule', id: testId(), use: 'soak', values: rule }, id);
    expect((await book()).rules.find((r) => r.use === 'soak')).toMatchObject({
      values: rule,
      earlier: [{ since: null, values: { below: 10 } }],
    });
    const made = await start({ use: 'soak', parts: [{ bottleId: bottle(/Epsom/).id, aim: net(80) }] });
    expect(made.body.parts[0]!.aim).toMatchObject({ lowPpm: 75, highPpm: 95, hardPpm: 120 });
    await step(made.id, { kind: 'abandon', reason: '' });
    await undo(id);
    expect((await book()).rules.find((r) => r.use === 'soak')).toMatchObject({ values: { below: 10 }, earlier: [] });
    const wrong = await act({ kind: 'rule', id: testId(), use: 'soak', values: { ...rule, hard: 10 } });
    expect(wrong.body.errors?.[0]).toMatchObject({
      path: 'values.hard',
      message: expect.stringMatching(/limit lies above/),
    });
  });
});

describe('before a start', () => {
  it('what is not in the collection, or leaves no room, is answered at its field and starts nothing', async () => {
    const refused: [object, string, RegExp][] = [
      [{ recipeId: testId() }, 'recipeId', /not in this collection/],
      [{ forPots: [testId()] }, 'forPots', /not in this collection/],
      [{ phLow: 6, phHigh: 6 }, 'phLow', /room between them/],
      [{ waterId: testId() }, 'waterId', /Choose a water/],
      [{ ppmMeterId: testId() }, 'ppmMeterId', /Choose a TDS pen/],
      [{ phMeterId: testId() }, 'phMeterId', /Choose a pH pen/],
    ];
    for (const [wrong, path, message] of refused) {
      const { id, body } = await start(wrong);
      expect(body.errors?.[0]).toMatchObject({ path, message: expect.stringMatching(message) });
      expect(await kit.rows('SELECT id FROM batch WHERE id = ?', [id])).toEqual([]);
    }
  });
  it('says what is short, what is due, and which pots it does not suit', async () => {
    const pots = (await kit.call<RoundView>('GET', '/api/round')).body.places.flatMap((p) =>
      p.pots.map((pot) => pot.id),
    );
    const asked = await kit.call<BeforeStart>(
      'POST',
      '/api/bench/before',
      request({
        use: 'soak',
        waterId: water(/tap/),
        volumeL: 9.5,
        parts: [{ bottleId: bottle(/Epsom/).id, aim: net(200) }],
        forPots: pots,
      }),
    );
    const words = asked.body.notices.map((n) => n.words).join(' | ');
    expect(words).toMatch(/chlorinated: let it stand open for 24 h/);
    expect(words).toMatch(/even for a short soak/);
    expect(words).toMatch(/nearly full/);
    expect(words).toMatch(/Yellow pen reads about/);
    expect(words).toMatch(/a basket cannot be filled to the brim/);
    expect(words).toMatch(/at rest/);
    expect(asked.body.steps.map((s) => s.words)[0]).toMatch(/Read the plain kitchen tap/);
  });
  it('where the water does not reach, who goes first is said, and when there is enough', async () => {
    const count = (litres: number) =>
      kit.call('PUT', `/api/shelf/acts/${testId()}`, { kind: 'countWater', waterId: water(/Still/), litres });
    const due = (await kit.call<RoundView>('GET', '/api/round')).body.places
      .flatMap((p) => p.pots)
      .filter((p) => p.due.daysLate >= 0);
    const fillL = due.reduce((sum, p) => sum + p.fillMl, 0) / 1000;
    const said = async () => {
      const body = request({ volumeL: Number(fillL.toFixed(2)), forPots: due.map((p) => p.id) });
      const { notices } = (await kit.call<BeforeStart>('POST', '/api/bench/before', body)).body;
      return notices.map((n) => n.words).find((words) => words.includes('stand in the tank')) ?? '';
    };
    await count(fillL / 2);
    expect(await said()).toMatch(/It fills \d+ of \d+: first .+, by how dry, salty and late they are/);
    expect(await said()).toMatch(/there is enough (tomorrow|in \d+ days)/);
    await count(0);
    expect(await said()).toMatch(/It fills none of its pots/);
    await count(25);
    expect(await said()).toBe('');
  });
  it('what is left of the mix goes to the same pots: strengths add up, pH asks to be read', async () => {
    const { key } = (await kit.call<RoundView>('GET', '/api/round')).body.mixes.find((m) => m.use === 'feed')!;
    const said = async () =>
      (await kit.call<BeforeStart>('POST', '/api/bench/before', request({ mixKey: key }))).body.notices
        .map((n) => n.words)
        .join(' | ');
    expect(await said()).not.toMatch(/Poured together/);
    const { id } = await start({ mixKey: key });
    await toStrength(id);
    const poured = await step(id, { kind: 'pour' });
    expect(await said()).toMatch(/of Test can of today are left\. .*strengths add up by litres; pH does not/);
    await undo(poured.id);
    await step(id, { kind: 'abandon', reason: '' });
  });
  it('a batch that cannot be is told why, and nothing is started', async () => {
    const asked = await kit.call<BeforeStart>('POST', '/api/bench/before', request({ volumeL: 40 }));
    expect(asked.body).toMatchObject({
      notices: [{ level: 'stop', words: expect.stringMatching(/holds 10 L/) }],
      steps: [],
    });
  });
});

describe('slips, dead pens and what is left over', () => {
  it('a base ten times what the water ever read is questioned once', async () => {
    const { id } = await start();
    const slip = await step(id, { kind: 'base', reading: value(90) });
    expect(slip.body).toMatchObject({
      code: 'reading-odd',
      detail: expect.stringMatching(/far from the \d+ this water usually reads/),
    });
    expect((await step(id, { kind: 'base', reading: value(90), confirmedOdd: true })).status).toBe(200);
    await step(id, { kind: 'abandon', reason: '' });
  });
  it('with a dead pen the water is taken as it last read, and nothing is kept as a reading', async () => {
    const { id } = await start();
    const view = (await step(id, { kind: 'base', reading: { kind: 'notMeasured' } })).body;
    expect(view.advice.kind).toBe('add');
    expect(view.rows[0]).toMatchObject({ kind: 'base' });
    if (view.advice.kind !== 'add') return;
    const { toolId, steps, doseMl, relativeSd } = view.advice;
    await step(id, {
      kind: 'portion',
      dose: { toolId, steps, doseMl, relativeSd },
      reading: null,
      confirmedOdd: false,
    });
    const left = (await step(id, { kind: 'leave', part: 0, why: 'unread' })).body;
    expect(left).toMatchObject({ stage: 'ph', parts: [{ state: 'left', netPpm: null }] });
    await step(id, { kind: 'pour' });
    expect(await kit.rows('SELECT pouredEcUsCm FROM batch WHERE id = ?', [id])).toEqual([{ pouredEcUsCm: null }]);
    await step(id, { kind: 'empty', to: '' });
  });
  it('a pH that no dose explains is questioned once; kept again it stands, and less is taken for known', async () => {
    const { id } = await start({ waterId: water(/tap/) });
    await toStrength(id, 212);
    await step(id, { kind: 'ph', reading: value(7.2) });
    const before = (await kit.call<BatchView>('GET', `/api/bench/batches/${id}`)).body;
    const dose = before.ph.choices[0]!.dose!;
    const { toolId, steps, doseMl, relativeSd, ratio } = dose;
    const correct = (more: object) =>
      step(id, {
        kind: 'correction',
        productId: before.ph.choices[0]!.productId,
        dose: { toolId, steps, doseMl, relativeSd },
        ratio,
        ...more,
      });
    const odd = await correct({ reading: value(8.4) });
    expect(odd.body).toMatchObject({
      code: 'reading-odd',
      detail: expect.stringMatching(/8\.4 is far from the \d\.\d to \d\.\d it should read/),
    });
    expect((await kit.call<BatchView>('GET', `/api/bench/batches/${id}`)).body.ph.corrections).toBe(0);
    const kept = await correct({ reading: value(7.1), confirmedOdd: true });
    expect(kept.body.ph.corrections).toBe(1);
    const spread = (view: BatchView) =>
      view.ph.choices[0]!.dose!.expected.high - view.ph.choices[0]!.dose!.expected.low;
    // Read with trust, two readings and a dose between them would leave a third of it.
    expect(spread(kept.body)).toBeGreaterThan(0.7 * spread(before));
    await step(id, { kind: 'abandon', reason: '' });
  });
  it('a photo stands beside the pH reading it belongs to, through a correction, an undo and a second sending', async () => {
    const { id } = await start();
    await toStrength(id);
    const read = await step(id, { kind: 'ph', reading: { kind: 'range', low: 6, high: 6.5 } });
    const jpeg = (length: number) =>
      Buffer.concat([Buffer.from([0xff, 0xd8, 0xff, 0xe0]), Buffer.alloc(length, 7)]).toString('base64');
    const photo = async (body: object, photoId = testId()) => ({
      photoId,
      ...(await kit.call<Answer>('PUT', `/api/bench/batches/${id}/photos/${photoId}`, body)),
    });
    expect((await photo({ ofEventId: read.id, jpeg: Buffer.alloc(500, 1).toString('base64') })).body).toMatchObject({
      code: 'invalid-request',
    });
    expect((await photo({ ofEventId: read.id, jpeg: jpeg(301_000) })).body.code).toBe('invalid-request');
    expect((await photo({ ofEventId: testId(), jpeg: jpeg(500) })).body.code).toBe('not-found');
    const { photoId, body } = await photo({ ofEventId: read.id, jpeg: jpeg(500) });
    expect(body.ph.readings.at(-1)?.photos).toEqual([{ id: photoId, time: expect.any(String) }]);
    await photo({ ofEventId: read.id, jpeg: jpeg(500) }, photoId);
    expect(await kit.rows('SELECT length(jpeg) AS bytes FROM photo')).toEqual([{ bytes: 504 }]);
    const correction = testId();
    await kit.call('PUT', `/api/book/corrections/${correction}`, {
      targetId: read.id,
      payload: { reading: { kind: 'range', low: 6.2, high: 6.4 } },
    });
    const readings = async () => (await kit.call<BatchView>('GET', `/api/bench/batches/${id}`)).body.ph.readings;
    expect((await readings()).at(-1)).toMatchObject({ eventId: correction, photos: [{ id: photoId }] });
    await undo(photoId);
    expect((await readings()).at(-1)?.photos).toEqual([]);
    for (let n = 0; n < 4; n++) await photo({ ofEventId: correction, jpeg: jpeg(500 + n) });
    expect((await photo({ ofEventId: correction, jpeg: jpeg(700) })).body.detail).toMatch(
      /4 photos stand beside this reading already/,
    );
    await step(id, { kind: 'abandon', reason: '' });
  });
  it('what is poured off a batch too strong is kept with a label, and comes back with an undo', async () => {
    const { id } = await start({ volumeL: 1.8, vesselId: vessel(2) });
    const view = (await step(id, { kind: 'base', reading: value(9) })).body;
    if (view.advice.kind !== 'add') throw new Error('nothing to add');
    const { toolId, steps, doseMl, relativeSd } = view.advice;
    const over = (
      await step(id, {
        kind: 'portion',
        dose: { toolId, steps, doseMl, relativeSd },
        reading: value(240),
        confirmedOdd: true,
      })
    ).body;
    if (over.advice.kind !== 'thin') throw new Error('not over');
    const keepAs = testId();
    const thinned = await step(id, {
      kind: 'thin',
      pourOffL: over.advice.aim.pourOffL,
      addL: over.advice.aim.addL,
      reading: value(99),
      to: 'kept',
      keepAs,
    });
    expect(thinned.body.advice.kind).toBe('inside');
    const kept = (await kit.call<BatchView>('GET', `/api/bench/batches/${keepAs}`)).body;
    expect(kept).toMatchObject({ status: 'poured', name: 'Test can, poured off', pouredPpm: 240, aimPpm: 90 });
    expect(kept.leftMl).toBeCloseTo(over.advice.aim.pourOffL * 1000, 3);
    await undo(thinned.id);
    expect((await kit.call<BatchView>('GET', `/api/bench/batches/${keepAs}`)).body).toMatchObject({
      status: 'abandoned',
      leftMl: 0,
    });
    await step(id, { kind: 'abandon', reason: '' });
  });
  it('a feed left over in the band of a mix is offered to the round, taken, and given back', async () => {
    const { id } = await start({ name: 'Can of yesterday' });
    await toStrength(id);
    await step(id, { kind: 'pour' });
    const mix = async () =>
      (await kit.call<RoundView>('GET', '/api/round')).body.mixes.find((m) => Math.round(m.netPpm) === 90)!;
    expect((await mix()).leftover).toMatchObject({ id, name: 'Can of yesterday', leftMl: 4000 });
    const taken = await step(id, { kind: 'assign', mixKey: (await mix()).key });
    expect(await mix()).toMatchObject({ leftover: null, batch: { id, leftMl: 4000 } });
    await undo(taken.id);
    expect((await mix()).leftover?.id).toBe(id);
    await step(id, { kind: 'empty', to: 'soil plants' });
    expect((await mix()).leftover).toBeNull();
  });
  it('leftovers past their day are told in one line and poured out in one act, once, and given back', async () => {
    const made = [];
    for (const name of ['Can one', 'Can two', 'Can three']) {
      const { id } = await start({ name });
      await toStrength(id);
      await step(id, { kind: 'pour' });
      made.push(id);
    }
    const list = async () => (await kit.call<BenchList>('GET', '/api/bench/batches')).body;
    const before = (await list()).pastDay?.ids ?? [];
    expect(before).not.toContain(made[0]);
    const now = kit.clock.at;
    kit.clock.at = new Date(now.getTime() + 30 * 86_400_000);
    const past = (await list()).pastDay!;
    expect(past.ids).toEqual(expect.arrayContaining([...before, ...made]));
    expect(past.ml).toBeGreaterThanOrEqual(12_000);
    const leftovers = made.map((batchId) => ({ eventId: testId(), batchId }));
    const id = testId();
    const send = () => kit.call<ManyDone>('PUT', `/api/bench/leftovers/${id}`, { leftovers, to: '' });
    // One that another device emptied meanwhile is left as it is.
    await step(made[1]!, { kind: 'empty', to: 'soil plants' });
    expect((await send()).body).toMatchObject({
      loggedIds: [leftovers[0]!.eventId, leftovers[2]!.eventId],
      already: ['Can two'],
    });
    expect((await send()).body).toMatchObject({ repeated: true });
    expect((await list()).pastDay?.ids ?? []).toEqual(expect.not.arrayContaining(made));
    const undone = await kit.call('PUT', `/api/book/undos/${testId()}`, {
      targetId: leftovers[0]!.eventId,
      alsoIds: [leftovers[2]!.eventId],
    });
    expect(undone.status).toBe(200);
    expect((await list()).pastDay!.ids).toEqual(expect.arrayContaining([made[0], made[2]]));
    const none = await kit.call<Problem>('PUT', `/api/bench/leftovers/${testId()}`, {
      leftovers: [
        { eventId: testId(), batchId: made[0] },
        { eventId: testId(), batchId: testId() },
      ],
      to: '',
    });
    expect(none.body.code).toBe('not-found');
    expect((await list()).pastDay!.ids).toContain(made[0]);
    for (const batchId of [made[0]!, made[2]!]) await step(batchId, { kind: 'empty', to: '' });
    kit.clock.at = now;
  });
});

describe('without a strength pen', () => {
  const unread = { reading: { kind: 'notMeasured' }, confirmedOdd: false };
  it('all goes in by measure, the water is taken as it last read and kept as not measured', async () => {
    const { id, status, body } = await start({ ppmMeterId: null, phMeterId: null });
    expect(status).toBe(200);
    expect(body).toMatchObject({ ppmMeter: null, baseIsThought: true, stage: 'strength' });
    expect(body.parts[0]).toMatchObject({ aim: null, state: 'now' });
    if (body.advice.kind !== 'add') throw new Error(body.advice.kind);
    expect(body.advice.way).toBe('measure');
    // 90 ppm of it are within a tenth of what the bottle is known to give.
    const { strength, mlPerUnit } = body.parts[0]!;
    expect((body.advice.doseMl / mlPerUnit / 4) * strength.ppmPerMlL).toBeCloseTo(90, -1);
    const [base] = await kit.rows<{ payload: string }>(
      `SELECT payload FROM care_event WHERE batchId = ? AND kind = 'batchBase'`,
      [id],
    );
    expect(JSON.parse(base!.payload)).toMatchObject({ reading: { kind: 'notMeasured' } });
    expect(body.rows[0]).toMatchObject({ kind: 'base', readsPpm: null });
    const { toolId, steps, doseMl, relativeSd } = body.advice;
    const dose = { toolId, steps, doseMl, relativeSd };
    const known = (await step(id, { kind: 'portion', part: 0, dose, ...unread })).body;
    expect(known.advice.kind).toBe('inside');
    const poured = (await step(id, { kind: 'pour' })).body;
    expect(poured).toMatchObject({ status: 'poured', pouredPpm: null });
    // Nobody read it, so that nothing was learned.
    const again = await start();
    expect(again.body.parts[0]!.strength.batches).toBe(strength.batches);
    await step(again.id, { kind: 'abandon', reason: '' });
  });
  it('its pH may be read all the same, and corrected', async () => {
    const { id, body } = await start({ ppmMeterId: null });
    if (body.advice.kind !== 'add') throw new Error(body.advice.kind);
    const { toolId, steps, doseMl, relativeSd } = body.advice;
    const dose = { toolId, steps, doseMl, relativeSd };
    expect((await step(id, { kind: 'portion', part: 0, dose, ...unread })).body.stage).toBe('ph');
    const read = (await step(id, { kind: 'ph', reading: value(6.9), confirmedOdd: true })).body;
    // Put right by what that pen is known to be off.
    expect(read.ph.latest).toBeGreaterThan(6.5);
    expect(read.ph.inside).toBe(false);
    expect(read.ph.choices.some((c) => c.direction === 'down' && c.dose !== null)).toBe(true);
    await step(id, { kind: 'abandon', reason: '' });
  });
  it('the same start sent twice is one, its base taken back can be given again', async () => {
    const { id, body } = await start({ ppmMeterId: null, phMeterId: null, name: 'Twice' });
    const again = await kit.call<Answer>(
      'PUT',
      `/api/bench/batches/${id}`,
      request({ ppmMeterId: null, phMeterId: null, name: 'Twice' }),
    );
    expect(again.body.lastEventId).toBe(body.lastEventId);
    await undo(body.lastEventId!);
    const without = (await kit.call<Answer>('GET', `/api/bench/batches/${id}`)).body;
    expect(without.advice.kind).toBe('readBase');
    expect((await step(id, { kind: 'base', ...unread })).body.advice.kind).toBe('add');
    await step(id, { kind: 'abandon', reason: '' });
  });
  it('a strength nobody knows is not guessed: the label’s dose is asked for', async () => {
    const productId = testId();
    await kit.call('PUT', `/api/shelf/acts/${testId()}`, {
      kind: 'put',
      what: 'product',
      id: productId,
      values: { name: 'Green bottle', shortName: '', kind: 'feed', label: '', caution: '', recipe: null },
    });
    const room = (await kit.call<ShelfView>('GET', '/api/shelf')).body;
    const mine = room.bottles.find((b) => b.productId === productId)!;
    expect(mine).toMatchObject({ labelDose: null, strengthKnown: false });
    const bare = { ppmMeterId: null, phMeterId: null };
    const refused = await start({ ...bare, parts: [{ bottleId: mine.id, aim: net(90) }] });
    expect(refused.body).toMatchObject({
      errors: [{ path: 'parts.0.aim', message: expect.stringMatching(/give the dose its label says/) as string }],
    });
    const { id, body } = await start({ ...bare, parts: [{ bottleId: mine.id, aim: { kind: 'perL', units: 0.5 } }] });
    expect(body.advice).toMatchObject({ kind: 'add', way: 'measure' });
    await step(id, { kind: 'abandon', reason: '' });
  });
});

describe('what the mix asks to be minded', () => {
  const noticesOf = async (more: object) =>
    (await kit.call<BeforeStart>('POST', '/api/bench/before', request(more))).body.notices
      .map((n) => n.words)
      .join(' | ');
  it('silica that would stay, and not where it is drained; the first soak of its season', async () => {
    const silicate = bottle(/silicate/i);
    const much = [{ bottleId: silicate.id, aim: { kind: 'element', element: 'SiO2', mgL: 100 } }];
    expect(await noticesOf({ parts: much })).toMatch(/about 100 mg\/L of silica, and it stays in the pot/);
    const soak = await noticesOf({ parts: much, use: 'soak', holdMinutes: 30 });
    expect(soak).not.toMatch(/stays in the pot/);
    expect(soak).toMatch(/The first soak with/);
  });
  it('a feed without calcium and magnesium on still water', async () => {
    const epsom = bottle(/epsom/i);
    const only = [{ bottleId: epsom.id, aim: net(20), solid: 'stock' }];
    expect(await noticesOf({ parts: only })).toMatch(/hardly any calcium/);
    expect(await noticesOf({ parts: only, waterId: water(/tap/i) })).not.toMatch(/hardly any/);
  });
});
