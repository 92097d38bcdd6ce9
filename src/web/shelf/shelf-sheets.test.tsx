import { screen, within } from '@testing-library/react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { ShelfRoom } from '../../contract/shelf.ts';
import { openPage } from '../../../tests/component-page.tsx';
import { ComparePage, MixPage, ShelfPage } from './index.ts';
import { aMeter, aProduct, aWater } from './shelf-fixtures.ts';

const label = {
  form: 'liquid',
  basis: 'w/w',
  densityGMl: 1.2,
  percent: { 'NO3-N': 5, 'NH4-N': 1, P2O5: 3, K2O: 9, CaO: 3, MgO: 1.1, SO3: 1 },
  thinned: 2,
} as const;
const reading = (ppm: number, more = {}) => ({
  eventId: `r${ppm}`,
  on: '2026-11-20',
  at: '2026-11-20T08:00:00Z',
  ppm,
  ph: null,
  from: 'alone' as const,
  tainted: false,
  ...more,
});
const months = ['2026-06', '2026-07', '2026-08', '2026-09', '2026-10', '2026-11'].map((month, i) => ({
  month,
  ppm: 6 + 0.7 * i,
  readings: 4,
}));
const room: ShelfRoom = {
  today: '2026-11-25',
  scale: 0.5,
  mainPpmMeterId: 'm1',
  mainPhMeterId: 'm2',
  waters: [
    {
      id: 'w1',
      retiredOn: null,
      uses: 3,
      values: aWater({ name: 'Still water', kind: 'still', tankL: 25, perDayL: 9 }),
      readings: [reading(9.2), reading(400, { tainted: true, eventId: 'x', at: '2026-11-24T08:00:00Z' })],
      months,
      stock: null,
    },
    {
      id: 'w2',
      retiredOn: null,
      uses: 0,
      values: aWater({
        name: 'Kitchen tap',
        kind: 'tap',
        chlorine: 'chloramine',
        known: { method: 'kit', alkalinity: { value: 8, unit: '°dKH' }, hardness: null },
      }),
      readings: [reading(224, { ph: 7.6 })],
      months: [],
      stock: null,
    },
  ],
  meters: [
    aMeter(
      'm1',
      { name: 'Grey pen' },
      { dueOn: '2026-12-20', lastGoodOn: '2026-11-20', wouldTaintFromOn: '2026-11-20', offset: 0.01 },
    ),
    aMeter(
      'm2',
      { name: 'Yellow pen', quantity: 'pH', scale: null, scaleFrom: null, resolution: 0.1 },
      {
        taints: [
          {
            markId: 'k',
            from: '2026-11-04T00:00:00Z',
            to: null,
            fromOn: '2026-11-04',
            toOn: null,
            offBy: -0.2,
            why: 'flat battery',
            readings: 23,
            batches: 4,
          },
        ],
      },
    ),
    aMeter('m3', { name: 'Bench meter', unit: 'mS/cm', scale: 0.001 }),
  ],
  tools: [
    {
      id: 't1',
      retiredOn: null,
      uses: 0,
      values: {
        kind: 'dropper',
        name: 'Plastic dropper',
        dropsPerMl: null,
        capacityMl: null,
        stepMl: null,
        stepG: null,
      },
    },
    {
      id: 't3',
      retiredOn: null,
      uses: 9,
      values: { kind: 'dropper', name: 'Glass dropper', dropsPerMl: 18, capacityMl: null, stepMl: null, stepG: null },
    },
  ],
  vessels: [],
  products: [
    aProduct(
      'p1',
      { name: 'House feed', analysis: label, hydroponics: 'yes' },
      {
        bottle: {
          id: 'b',
          openedOn: '2026-07-01',
          note: '',
          sizeMl: 500,
          price: 10,
          leftMl: 310,
          perDayMl: 2,
          daysLeft: 155,
          runSince: '2026-07-01',
        },
      },
    ),
    aProduct('p2', {
      name: 'Epsom salt',
      kind: 'magnesium',
      analysis: { form: 'powder', basis: 'w/w', densityGMl: null, percent: { Epsom: 100 }, thinned: 1 },
    }),
    aProduct('p3', {
      name: 'Nitric pH-down',
      kind: 'acid',
      caution: 'Eye protection and gloves.',
      analysis: { form: 'liquid', basis: 'w/w', densityGMl: 1.055, percent: { nitric: 10 }, thinned: 1 },
    }),
    aProduct('p4', {
      name: 'Liquid silicate',
      kind: 'silicate',
      analysis: { form: 'liquid', basis: 'w/w', densityGMl: 1.1, percent: { SiO2: 9 }, thinned: 1 },
    }),
    aProduct(
      'p5',
      { name: 'Slow tonic', kind: 'other', slowsGrowth: true, longestDays: 7, topDoseMlL: 0.07 },
      {
        bottle: {
          id: 'c',
          openedOn: '2026-11-01',
          note: '',
          sizeMl: null,
          price: null,
          leftMl: null,
          perDayMl: 0,
          daysLeft: null,
          runSince: '2026-11-10',
        },
      },
    ),
  ],
};
const reads = {
  '/api/shelf/room': room,
  '/api/shelf/products/p1/strength': { points: [] },
  '/api/shelf/meters/m2/readings?since=2026-09-26': { readings: [] },
};
const open = (path = '/shelf') => openPage(<ShelfPage />, reads, path);
afterEach(() => vi.unstubAllGlobals());

describe('the picture of the Shelf', () => {
  it('says the state of each thing in words, and lays the chosen one’s sheet beside it', async () => {
    const { user } = open();
    const instruments = await screen.findByRole('region', { name: 'Instruments and measures' });
    expect(within(instruments).getByRole('button', { name: /Yellow pen.*reads wrong/ })).toBeInTheDocument();
    expect(within(instruments).getByRole('button', { name: /Grey pen.*½ scale.*fine/ })).toBeInTheDocument();
    expect(within(instruments).getByRole('button', { name: /Plastic dropper.*not counted/ })).toBeInTheDocument();
    expect(screen.getByRole('region', { name: 'House feed' })).toBeInTheDocument();
    await user.click(screen.getByRole('button', { name: /224.*Kitchen tap/ }));
    const tap = screen.getByRole('region', { name: 'Kitchen tap' });
    expect(tap).toHaveTextContent(/between 200 and 250 practice does not say/);
    expect(tap).toHaveTextContent(/8\.0 ± 0\.6 °dKH.*by drop kit/);
    expect(tap).toHaveTextContent(/Chloramine does not leave by standing/);
    expect(tap).not.toHaveTextContent(/Let a can stand/);
  });
  it('goes by the readings of pens that can be trusted', async () => {
    const { user } = open();
    await user.click(await screen.findByRole('button', { name: /Still water/ }));
    expect(screen.getByRole('region', { name: 'Still water' })).toHaveTextContent(/best for feeds/);
    expect(screen.getAllByRole('img', { name: /2 readings in ppm.*1 hollow/ }).length).toBeGreaterThan(0);
  });
});

it('an empty Shelf says what to add to each board, and has no sheet', async () => {
  const empty = {
    ...room,
    waters: [],
    meters: [],
    tools: [],
    vessels: [],
    products: [],
    mainPpmMeterId: null,
    mainPhMeterId: null,
  };
  openPage(<ShelfPage />, { '/api/shelf/room': empty }, '/shelf');
  expect(await screen.findByText(/No water yet/)).toBeInTheDocument();
  expect(screen.getByText(/No feed yet/)).toBeInTheDocument();
  expect(screen.getByText(/Nothing to measure with yet/)).toBeInTheDocument();
  expect(screen.getByText(/Add a pen, and its checks stand here/)).toBeInTheDocument();
});

describe('the sheet of a product', () => {
  it('tells the elements at any strength: worked by hand, 36 mg nitrogen in a mL of the thinned bottle', async () => {
    const { user } = open();
    const feed = await screen.findByRole('region', { name: 'House feed' });
    const row = () => within(feed).getByRole('row', { name: /^N nitrogen/ });
    expect(row()).toHaveTextContent(/19\.\d36\.0/);
    const net = within(feed).getByLabelText('Net ppm');
    await user.clear(net);
    await user.type(net, '180');
    expect(row()).toHaveTextContent(/38\.\d36\.0/);
    expect(feed).toHaveTextContent(/Ten litres in still water cost/);
    expect(feed).toHaveTextContent(/thinned 1 \+ 1/);
  });
  it('the acid card: how much, what it then reads, where the pH goes, what it brings, and the caution', async () => {
    const { user } = open();
    await user.click(await screen.findByRole('button', { name: /Nitric pH-down/ }));
    const card = screen.getByRole('region', { name: 'How much Nitric pH-down' });
    await user.clear(within(card).getByLabelText('to pH'));
    await user.type(within(card).getByLabelText('to pH'), '5.5');
    await user.clear(within(card).getByLabelText('Litres'));
    await user.type(within(card).getByLabelText('Litres'), '1');
    // By hand: 2.85 meq/L of alkalinity, of which pH 5.5 leaves an eighth, at 1.67 meq/mL.
    expect(card).toHaveTextContent(/1\.4\d.mLabout 26 drops|1\.4\d.mL about 26 drops/);
    expect(card).toHaveTextContent(/7\.6 → 5\.5standing open 7\.[678]/);
    expect(card).toHaveTextContent(/34\.\d mg\/L nitrogen/);
    expect(card).toHaveTextContent('Eye protection and gloves.');
    await user.selectOptions(within(card).getByLabelText('Hold it'), 'standing');
    expect(card).toHaveTextContent(/1\.[67]\d?.mL/);
  });
  it('says when a run must end, and that a growth-slowing one’s run is over', async () => {
    const { user } = open();
    await user.click(await screen.findByRole('button', { name: /Slow tonic/ }));
    expect(screen.getByRole('region', { name: 'Slow tonic' })).toHaveTextContent(
      /At most 0\.07 mL.*run of 7 days was over on 17 Nov: stop.*overdosing stunts/,
    );
  });
});

describe('the cards', () => {
  it('what my pen’s 100 means: worked by hand for Epsom salt', async () => {
    const { user } = open();
    const card = await screen.findByRole('region', { name: "What my pen's figure means" });
    const row = () => within(card).getByRole('row', { name: /Grey pen says/ });
    // 0.2 mS/cm is 0.22 g/L of the salt and, at 98.6 mg/g, 22 mg/L magnesium.
    expect(row()).toHaveTextContent(/100 ?1400\.2022\d22\.\d/);
    expect(within(card).getByRole('row', { name: /0.7 pen says 100/ })).toHaveTextContent(/71 ?1000\.1415\d15\.\d/);
    await user.clear(within(card).getByLabelText('My pen says, ppm'));
    await user.type(within(card).getByLabelText('My pen says, ppm'), '50');
    expect(row()).toHaveTextContent(/50700\.10/);
    await user.clear(within(card).getByLabelText('My pen says, ppm'));
    expect(card).toHaveTextContent('Give a figure your pen can show');
  });
  it('a pen found off: how many readings it taints, to be undone', async () => {
    const { user, asked } = open();
    const card = await screen.findByRole('region', { name: 'What a pen taints' });
    expect(card).toHaveTextContent(/23 readings since 4 Nov are drawn hollow.*−0\.2/);
    await user.click(within(card).getByRole('button', { name: 'Undo, draw them solid' }));
    expect(asked.at(-1)).toMatchObject({ body: { targetId: 'k' } });
  });
  it('still water that creeps up says what it will read', async () => {
    open();
    expect(
      await screen.findByRole('img', { name: /Still water read 6 at first and 10 now.*Rising: about 1\d by/ }),
    ).toBeInTheDocument();
  });
});

describe('the forms', () => {
  it('work the elements out while a label is copied, and say what contradicts', async () => {
    const { user, asked } = open();
    await user.click(await screen.findByRole('button', { name: 'Add something' }));
    await user.click(screen.getByRole('button', { name: 'A bottle or jar' }));
    const dialog = screen.getByRole('dialog');
    await user.type(within(dialog).getByLabelText('What you call it'), 'Kitchen feed');
    await user.type(within(dialog).getByLabelText('nitrogen, all, percent'), '4');
    await user.type(within(dialog).getByLabelText('as nitrate, percent'), '6');
    expect(within(dialog).getByRole('status')).toHaveTextContent(/needs the density|weigh 10 mL/);
    await user.type(within(dialog).getByLabelText('Density, g per mL'), '1.2');
    expect(within(dialog).getByRole('status')).toHaveTextContent(/forms of nitrogen add up to 6 %/);
    await user.clear(within(dialog).getByLabelText('nitrogen, all, percent'));
    await user.type(within(dialog).getByLabelText('K₂O, percent'), '8');
    expect(within(dialog).getByRole('status')).toHaveTextContent(
      /nitrogen 72\.0.*potassium 7\d\.\d.*A pen should read about/,
    );
    await user.click(within(dialog).getByRole('button', { name: 'Add' }));
    expect(asked.at(-1)!.body).toMatchObject({
      what: 'product',
      values: {
        analysis: { form: 'liquid', basis: 'w/w', densityGMl: 1.2, percent: { 'NO3-N': 6, K2O: 8 }, thinned: 1 },
      },
    });
  });
  it('check a pen: what it finds is said before it is kept, and a pen found off is marked at once', async () => {
    const { user, asked } = open('/shelf?thing=meter:m1');
    const sheet = await screen.findByRole('region', { name: 'Grey pen' });
    await user.click(within(sheet).getByRole('button', { name: 'Check it now' }));
    let dialog = screen.getByRole('dialog', { name: 'Check Grey pen' });
    await user.type(within(dialog).getByLabelText('It shows'), '622');
    expect(within(dialog).getByRole('status')).toHaveTextContent('It reads 12 % low');
    await user.click(within(dialog).getByRole('button', { name: 'Keep it, and mark the pen' }));
    expect(asked.at(-1)!.body).toEqual({
      kind: 'checkMeter',
      meterId: 'm1',
      standard: 'ec1413',
      shown: 622,
      temperatureC: null,
      settled: true,
      adjusted: false,
    });
    dialog = await screen.findByRole('dialog', { name: 'Grey pen reads wrong' });
    expect(within(dialog).getByLabelText('Off by, percent')).toHaveValue('-12');
    await user.click(within(dialog).getByLabelText('Since a day I can name'));
    await user.click(within(dialog).getByRole('button', { name: 'Draw its readings hollow' }));
    expect(asked.at(-1)!.body).toEqual({
      kind: 'markMeter',
      meterId: 'm1',
      fromOn: '2026-11-04',
      offBy: -0.12,
      why: '',
    });
  });
  it('a pen not at zero in air is marked, by an amount nobody knows', async () => {
    const { user, asked } = open('/shelf?thing=meter:m1');
    await user.click(
      within(await screen.findByRole('region', { name: 'Grey pen' })).getByRole('button', { name: 'Check it now' }),
    );
    const dialog = screen.getByRole('dialog', { name: 'Check Grey pen' });
    await user.selectOptions(within(dialog).getByLabelText('In'), 'air');
    await user.type(within(dialog).getByLabelText('It shows'), '8');
    expect(within(dialog).getByRole('status')).toHaveTextContent(/Not at zero/);
    await user.click(within(dialog).getByRole('button', { name: 'Keep it, and mark the pen' }));
    expect(asked.at(-1)!.body).toMatchObject({ standard: 'zero', shown: 8 });
    expect(
      within(await screen.findByRole('dialog', { name: 'Grey pen reads wrong' })).getByLabelText('Off by, percent'),
    ).toHaveValue('');
  });
  it('count a dropper by weighing', async () => {
    const { user, asked } = open('/shelf?thing=tool:t1');
    const sheet = await screen.findByRole('region', { name: 'Plastic dropper' });
    expect(sheet).toHaveTextContent(/not taken over to this one until both are counted/);
    await user.click(within(sheet).getByRole('button', { name: 'Count its drops' }));
    const dialog = screen.getByRole('dialog');
    await user.click(within(dialog).getByLabelText(/On a scale/));
    await user.type(within(dialog).getByLabelText('Drops'), '50');
    await user.type(within(dialog).getByLabelText('weighed, g'), '2,1');
    expect(within(dialog).getByRole('status')).toHaveTextContent('23.8 drops to the mL');
    await user.click(within(dialog).getByRole('button', { name: 'Use the count' }));
    expect(asked.at(-1)).toMatchObject({
      url: expect.stringMatching(/droppers\/t1\/counts/),
      body: { dropsPerMl: 23.81 },
    });
  });
  it('a drop kit’s alkalinity goes with its unit', async () => {
    const { user, asked } = open('/shelf?thing=water:w1');
    await user.click(
      within(await screen.findByRole('region', { name: 'Still water' })).getByRole('button', {
        name: 'Change Still water',
      }),
    );
    const dialog = screen.getByRole('dialog');
    await user.click(within(dialog).getByLabelText('By a drop kit'));
    await user.type(within(dialog).getByLabelText('Alkalinity (KH)'), '8');
    await user.click(within(dialog).getByRole('button', { name: 'Keep the change' }));
    expect(asked.at(-1)!.body).toMatchObject({
      values: { known: { method: 'kit', alkalinity: { value: 8, unit: '°dKH' }, hardness: null } },
    });
  });
});

describe('what is in a mix', () => {
  it('adds up, orders the parts with the reason, and says what another order risks', async () => {
    const { user } = openPage(<MixPage />, reads, '/shelf/mix?with=p1');
    const parts = await screen.findByRole('region', { name: 'What goes in' });
    await user.type(within(parts).getByLabelText('Liquid silicate, mL'), '0.5');
    await user.type(within(parts).getByLabelText('Nitric pH-down, mL'), '0.3');
    const how = screen.getByRole('region', { name: 'How it reads' });
    expect(
      within(how)
        .getAllByRole('listitem')
        .map((li) => li.querySelector('b')?.textContent),
    ).toEqual(['Liquid silicate', 'House feed', 'Nitric pH-down']);
    expect(how).toHaveTextContent(/late, or into strong calcium, it clouds/);
    await user.click(within(how).getByRole('button', { name: 'House feed earlier' }));
    expect(how).toHaveTextContent(/may cloud where they meet: calcium meets silicate \(a rule, outside the model\)/);
    await user.click(within(how).getByRole('button', { name: /order with the least risk/ }));
    expect(how).not.toHaveTextContent(/may cloud where they meet/);
    await user.clear(within(parts).getByLabelText('Nitric pH-down, mL'));
    await user.type(within(parts).getByLabelText('Nitric pH-down, mL'), '200');
    expect(how).toHaveTextContent(/Too strong for the model|More acid than pH 2/);
  });
  it('compares by what is in them, not by the number on the bottle', async () => {
    openPage(<ComparePage />, reads, '/shelf/compare?products=p1,p2');
    const table = await screen.findByRole('table', { name: /Products at 90 ppm net/ });
    expect(within(table).getByRole('row', { name: /magnesium, mg\/L/ })).toHaveTextContent(/2\.\d19\.\d/);
    expect(within(table).getByRole('row', { name: /of the twelve/ })).toHaveTextContent('6 declared');
  });
});
