import { screen } from '@testing-library/react';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { ClayBatchView, ClayRoom } from '../../contract/clay.ts';
import type { PotsView } from '../../contract/pots.ts';
import { CLAY_AT_LARGE } from '../../core/clay/index.ts';
import { openPage, refusal } from '../../../tests/component-page.tsx';
import { PotUpPage } from './index.ts';
import { FIRST_REGIMEN } from '../pots/index.ts';

const aBatch = (id: string, name: string, ready: boolean): ClayBatchView => ({
  id,
  values: {
    name,
    grainLowMm: 8,
    grainHighMm: 16,
    volumeL: 6,
    origin: '',
    price: null,
    openedOn: null,
    prep: ready ? 'leached' : 'new',
    gatePpm: 40,
    coverL: null,
    lookEveryHours: 24,
    way: 'own',
    note: '',
  },
  rinsedOn: null,
  boiledOn: null,
  retiredOn: null,
  state: ready ? 'leached' : 'rinsed',
  ready,
  why: ready ? 'Leached before it was kept here.' : 'Only rinsed.',
  usedL: 0,
  leftL: 6,
  pots: [],
  leach: null,
  prior: { mean: [...CLAY_AT_LARGE.mean], covariance: CLAY_AT_LARGE.covariance.map((row) => [...row]) },
  ownBags: 0,
  told: [],
  card: null,
  flatPpm: null,
  lastReadPpm: null,
  lastPh: null,
  driedOn: null,
  log: [],
});
const room: ClayRoom = {
  now: '2026-11-25T09:00:00.000Z',
  today: '2026-11-25',
  scale: 0.5,
  batches: [aBatch('b2', 'batch 2', false), aBatch('b1', 'batch 1', true)],
  waters: [],
  ppmMeter: null,
  phMeter: null,
  holds: [],
  unleached: [],
  named: [],
  poured: [],
};
const pots: PotsView = {
  today: '2026-11-25',
  places: [{ id: 'sill', name: 'Sill', note: '', light: null, year: null, pots: [] }],
  regimens: [
    { id: 'r1', values: { ...FIRST_REGIMEN, name: 'Dilute 90' }, words: '90 over base, every 7 days', pots: 3 },
  ],
  retired: [],
};
const open = () => openPage(<PotUpPage />, { '/api/clay': room, '/api/pots': pots }, '/clay/pot-up');
const keep = () => screen.getByRole('button', { name: 'It is potted up' });
afterEach(() => vi.unstubAllGlobals());

describe('potting up', () => {
  it('offers the clay that is ready first, and says what speaks for it', async () => {
    open();
    expect(await screen.findByRole('combobox', { name: 'Clay from' })).toHaveValue('b1');
    expect(screen.getByText('Leached before it was kept here.')).toBeInTheDocument();
  });
  it('asks for the litres of clay at their field, before anything is sent', async () => {
    const { user, asked } = open();
    await user.type(await screen.findByRole('textbox', { name: 'What grows in it' }), 'Brassia');
    await user.click(keep());
    expect(await screen.findByText(/Give the litres of clay that went in/)).toBeInTheDocument();
    expect(asked).toHaveLength(0);
  });
  it('a rescue starts weak by itself, and the feed is shown climbing', async () => {
    const { user, asked } = open();
    await user.selectOptions(await screen.findByRole('combobox', { name: 'Roots' }), 'none left: a rescue');
    expect(screen.getByRole('radio', { name: /weak start/ })).toBeChecked();
    expect(screen.getByRole('list', { name: 'How the feed climbs' })).toHaveTextContent(
      /45 over base from today.*68 over base from 5 Dec.*90 over base from 15 Dec/,
    );
    await user.type(screen.getByRole('textbox', { name: 'Clay that goes in, L' }), '0,8');
    await user.type(screen.getByRole('textbox', { name: 'Reservoir holds, mL' }), '200');
    await user.click(keep());
    expect(asked.at(-1)!.body).toMatchObject({
      kind: 'potUp',
      clayId: 'b1',
      clayL: 0.8,
      roots: 'none',
      start: 'weak',
      weakDays: 10,
      values: { clay: 'batch 1', reservoirMl: 200 },
    });
  });
  it('water only asks for no clay; a creeping plant brings its notes', async () => {
    const { user, asked } = open();
    await user.selectOptions(await screen.findByRole('combobox', { name: 'Culture' }), 'water only, no clay');
    expect(screen.queryByRole('combobox', { name: 'Clay from' })).not.toBeInTheDocument();
    await user.selectOptions(screen.getByRole('combobox', { name: 'How it grows' }), 'creeping');
    expect(screen.getByText(/Hollow the clay under its creeping stem/)).toBeInTheDocument();
    await user.click(keep());
    expect(asked.at(-1)!.body).toMatchObject({ clayId: null, clayL: 0, values: { medium: 'water', clay: null } });
  });
  it('clay that is not ready is asked about once; other clay can be chosen, or it is done all the same', async () => {
    const { user, asked, stand } = open();
    await user.selectOptions(await screen.findByRole('combobox', { name: 'Clay from' }), 'b2');
    await user.type(screen.getByRole('textbox', { name: 'Clay that goes in, L' }), '0.8');
    const detail = 'batch 2 is not ready. Only rinsed.';
    stand.answer = () =>
      new Response(JSON.stringify({ type: 'x', title: 'x', status: 409, code: 'not-ready', detail }), {
        status: 409,
        headers: { 'content-type': 'application/problem+json' },
      });
    await user.click(keep());
    expect(await screen.findByRole('alert')).toHaveTextContent(detail);
    await user.click(screen.getByRole('button', { name: 'Pot up all the same' }));
    expect(asked.map((a) => (a.body as { confirmedNotReady: boolean }).confirmedNotReady)).toEqual([false, true]);
    await user.click(screen.getByRole('button', { name: 'Choose other clay' }));
    expect(keep()).toBeInTheDocument();
  });
  it('keeps what was typed when the server refuses, with the message at its field', async () => {
    const { user, stand } = open();
    await user.type(await screen.findByRole('textbox', { name: 'Clay that goes in, L' }), '40');
    stand.answer = () => refusal([{ path: 'clayL', message: 'batch 1 has 6 L left. Take less, or another batch.' }]);
    await user.click(keep());
    expect(await screen.findByText(/batch 1 has 6 L left/)).toBeInTheDocument();
    expect(screen.getByRole('textbox', { name: 'Clay that goes in, L' })).toHaveValue('40');
  });
});
