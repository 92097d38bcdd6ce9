import { screen, within } from '@testing-library/react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { ShelfRoom } from '../../contract/shelf.ts';
import { aMeter, aProduct, aWater } from './shelf-fixtures.ts';
import { openPage, refusal } from '../../../tests/component-page.tsx';
import { ShelfPage } from './index.ts';
import { lastsFor } from './shelf-words.tsx';

const room: ShelfRoom = {
  today: '2026-11-25',
  scale: 0.5,
  mainPpmMeterId: 'm1',
  mainPhMeterId: null,
  waters: [
    {
      id: 'w1',
      retiredOn: null,
      uses: 3,
      values: aWater({ name: 'Still water', kind: 'still', tankL: 25, perDayL: 9 }),
      readings: [
        {
          eventId: 'e1',
          on: '2026-11-22',
          at: '2026-11-22T09:00:00Z',
          ppm: 9.2,
          ph: null,
          from: 'mix',
          tainted: false,
        },
      ],
      months: [],
      stock: { litres: 14.2, countedL: 14.2, countedOn: '2026-11-25', usedL: 0, madeL: 0 },
    },
    {
      id: 'w2',
      retiredOn: null,
      uses: 0,
      values: aWater({ name: 'Tap', note: 'hard', kind: 'tap' }),
      readings: [],
      months: [],
      stock: null,
    },
  ],
  meters: [aMeter('m1', { name: 'Grey pen', scaleFrom: 'guess' })],
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
      id: 't2',
      retiredOn: '2026-10-01',
      uses: 9,
      values: { kind: 'syringe', name: 'Old syringe', dropsPerMl: null, capacityMl: 5, stepMl: 0.2, stepG: null },
    },
  ],
  vessels: [
    {
      id: 'v1',
      retiredOn: null,
      uses: 3,
      values: { name: 'Bucket', capacityL: 10, material: 'plastic', heatProof: false },
    },
  ],
  products: [
    {
      ...aProduct('p1', {
        name: 'Seaweed',
        shortName: 'seaweed',
        recipe: {
          amount: 1,
          unit: 'other',
          toolId: null,
          unitWords: 'capful',
          waterL: null,
          readsPpm: null,
          basePpm: null,
          meterId: null,
        },
      }),
      strength: { known: false, why: 'Nobody knows how much a capful holds.' },
    },
  ],
};
const open = () => openPage(<ShelfPage />, { '/api/shelf/room': room }, '/shelf?view=list');
afterEach(() => vi.unstubAllGlobals());

describe('the Shelf', () => {
  it('says of each thing how far it can be trusted', async () => {
    open();
    const waters = await screen.findByRole('region', { name: 'Waters' });
    expect(waters).toHaveTextContent(/Still water.*about 14\.2.L of 25.L.*9 ppm/);
    expect(waters).toHaveTextContent(/Tap.*never read/);
    expect(screen.getByRole('region', { name: 'Pens' })).toHaveTextContent('½ scale, a guess');
    expect(screen.getByRole('region', { name: 'Measures' })).toHaveTextContent('not counted');
    expect(screen.getByRole('region', { name: 'Bottles and jars' })).toHaveTextContent(
      /Not scaled: Nobody knows how much a capful holds.*not scaled/,
    );
  });
  it('keeps the retired out of sight until asked, and brings them back', async () => {
    const { user, asked } = open();
    expect(await screen.findByText('Plastic dropper')).toBeInTheDocument();
    expect(screen.queryByText('Old syringe')).not.toBeInTheDocument();
    await user.click(screen.getByRole('button', { name: 'Show the 1 retired' }));
    await user.click(screen.getByRole('button', { name: 'Bring back' }));
    expect(asked.at(-1)!.body).toEqual({ kind: 'bringBack', what: 'tool', id: 't2' });
  });
  it('adds a vessel; what the server finds wrong is said at its field and nothing typed is lost', async () => {
    const { user, asked, stand } = open();
    await user.click(await screen.findByRole('button', { name: 'Add a vessel' }));
    const dialog = screen.getByRole('dialog');
    await user.type(within(dialog).getByLabelText('What you call it'), 'Bowl');
    await user.type(within(dialog).getByLabelText('Holds, L'), 'big');
    stand.answer = () => refusal([{ path: 'values.capacityL', message: 'Give what it holds in litres, such as 5.' }]);
    await user.click(within(dialog).getByRole('button', { name: 'Add' }));
    // What is no number travels as it was typed, so that it cannot pass for "not known".
    expect(asked.at(-1)!.body).toMatchObject({ what: 'vessel', values: { name: 'Bowl', capacityL: 'big' } });
    expect(await within(dialog).findByText('Give what it holds in litres, such as 5.')).toBeInTheDocument();
    expect(within(dialog).getByLabelText('What you call it')).toHaveValue('Bowl');
    stand.answer = () => Response.json({ eventId: 'e', repeated: false });
    await user.clear(within(dialog).getByLabelText('Holds, L'));
    await user.type(within(dialog).getByLabelText('Holds, L'), '3,5');
    await user.click(within(dialog).getByRole('button', { name: 'Add' }));
    expect(asked.at(-1)!.body).toMatchObject({ values: { capacityL: 3.5, heatProof: false } });
    expect(screen.queryByRole('dialog')).not.toBeInTheDocument();
  });
  it('finds a pen’s scale in the standard, and keeps the form open while the figure lies between', async () => {
    const { user, asked } = open();
    await user.click(await screen.findByRole('button', { name: 'Change Grey pen' }));
    const dialog = screen.getByRole('dialog');
    await user.click(within(dialog).getByLabelText(/dip it in the 1413/));
    const field = within(dialog).getByLabelText('What it shows in the standard, ppm');
    await user.type(field, '800');
    expect(within(dialog).getByText(/lies between 707, 904 and 989/)).toBeInTheDocument();
    await user.clear(field);
    await user.type(field, '985');
    expect(within(dialog).getByText(/That is the 0\.7 scale/)).toBeInTheDocument();
    await user.click(within(dialog).getByRole('button', { name: 'Keep the change' }));
    expect(asked.at(-1)!.body).toMatchObject({
      what: 'meter',
      id: 'm1',
      values: { scale: 0.7, scaleFrom: 'standard' },
    });
  });
  it('shows the caution of an acid where it is added', async () => {
    const { user } = open();
    await user.click(await screen.findByRole('button', { name: 'Add a product' }));
    await user.selectOptions(screen.getByLabelText('What it is'), 'acid');
    expect(screen.getByText(/never water into the acid/)).toBeInTheDocument();
    expect(screen.queryByLabelText('Amount')).not.toBeInTheDocument();
  });
  it('reads a water: empty is not measured, words are refused at the field', async () => {
    const { user, asked } = open();
    await user.click(await screen.findByRole('button', { name: 'Read Tap' }));
    await user.type(screen.getByLabelText('ppm'), 'wet');
    await user.click(screen.getByRole('button', { name: 'Keep the reading' }));
    expect(screen.getByText(/such as 104/)).toBeInTheDocument();
    expect(asked).toHaveLength(0);
    await user.clear(screen.getByLabelText('ppm'));
    await user.type(screen.getByLabelText('ppm'), '212');
    await user.click(screen.getByRole('button', { name: 'Keep the reading' }));
    expect(asked.at(-1)!.body).toEqual({
      kind: 'readWater',
      waterId: 'w2',
      ppm: { kind: 'value', value: 212 },
      ph: { kind: 'notMeasured' },
      ppmMeterId: 'm1',
      phMeterId: null,
    });
  });
});

describe('how long it lasts', () => {
  it('is told in days, and past two years nobody counts them', () => {
    expect([1, 21, 730, 62_440].map(lastsFor)).toEqual(['1 day', '21 days', '730 days', 'for years']);
  });
});
