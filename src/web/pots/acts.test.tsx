import { screen, within } from '@testing-library/react';
import { Route, Routes } from 'react-router';
import { afterEach, describe, expect, it, vi } from 'vitest';
import type { PotListItem, PotsView } from '../../contract/pots.ts';
import { openPage, refusal } from '../../../tests/component-page.tsx';
import { ListPage, PlacesPage, PotsPage } from './index.ts';
import { FIRST_REGIMEN } from './regimen-texts.ts';
import type { SchoolsView, WhatChanges as WhatChangesView } from '../../contract/regimens.ts';
import { NOTHING_READ } from './pots-fixtures.ts';
import { RegimenPage } from './regimen-page.tsx';

const item = (code: string, more: Partial<PotListItem> = {}): PotListItem => ({
  id: `id-${code}`,
  code,
  name: 'Hoya',
  plant: 'Hoya',
  spot: '',
  clay: null,
  reservoirMl: 250,
  sensitivity: 'usual',
  regimenId: 'r1',
  regimen: 'Weekly',
  due: { dueOn: '2026-11-25', status: 'due', daysLate: 0, pastLimit: 0, words: 'due' },
  drawing: { level: 0.5, levelIsGuess: false, phLow: 5.5, phHigh: 6.5, salts: 0, stage: 'growth', form: 'clay' },
  lastPouredPpm: null,
  lastCameOut: null,
  ...NOTHING_READ,
  ...more,
});
const regimen = (id: string, name: string, pots: number) => ({
  id,
  values: { ...FIRST_REGIMEN, name },
  words: '90 over base, every 7 days, flush first',
  pots,
});
const view: PotsView = {
  today: '2026-11-25',
  places: [
    { id: 'sill', name: 'Sill', note: '', light: 'bright', year: null, pots: [item('A-1'), item('A-2'), item('A-3')] },
    { id: 'porch', name: 'Porch', note: '', light: null, year: null, pots: [] },
  ],
  regimens: [regimen('r1', 'Weekly', 3), regimen('r2', 'Fortnightly', 0)],
  retired: [],
};
const schools: SchoolsView = {
  schools: [
    {
      school: 'constantDilute',
      title: 'Constant dilute',
      words: 'weak',
      source: 'common practice',
      values: FIRST_REGIMEN,
    },
    {
      school: 'fortnight',
      title: 'Fortnight change',
      words: 'changed',
      source: 'common practice',
      values: { ...FIRST_REGIMEN, school: 'fortnight', feeds: [{ ...FIRST_REGIMEN.feeds[0]!, days: 14 }] },
    },
  ],
  disagreements: [{ about: 'Still water, or tap', one: 'a', other: 'b', ours: 'c' }],
};
const CHANGES: WhatChangesView = {
  weeks: 6,
  pots: [
    {
      id: 'id-A-2',
      code: 'A-2',
      name: 'Hoya',
      now: 'Weekly',
      visits: [{ on: '2026-12-09', words: 'feed 75', soaks: [], because: [] }],
      remarks: [],
    },
  ],
  before: { visits: 6, soaks: 0, mixL: 1.5, flushL: 4.5 },
  after: { visits: 3, soaks: 0, mixL: 0.8, flushL: 2.3 },
};
const open = (page: React.ReactNode = <PotsPage />) =>
  openPage(
    page,
    { '/api/pots': view, '/api/pots/regimens/r2/what-changes': CHANGES, '/api/pots/regimens/r1/what-changes': CHANGES },
    '/?view=shelves',
  );
afterEach(() => vi.unstubAllGlobals());

const choose = async (user: ReturnType<typeof open>['user'], ...codes: string[]) => {
  await user.click(await screen.findByRole('button', { name: 'Choose' }));
  for (const code of codes) await user.click(screen.getByRole('button', { name: new RegExp(`^${code} `) }));
  return screen.getByRole('region', { name: 'Chosen pots' });
};

describe('several pots at once', () => {
  it('are moved before a pot of another place, in shelf order, in one act', async () => {
    const { user, asked } = open();
    const bar = await choose(user, 'A-3', 'A-1');
    expect(bar).toHaveTextContent('2 pots chosenA-1, A-3');
    await user.click(within(bar).getByRole('button', { name: /^Move/ }));
    await user.selectOptions(screen.getByLabelText('To'), 'porch');
    await user.click(within(screen.getByRole('dialog')).getByRole('button', { name: 'Move' }));
    expect(asked.at(-1)!.body).toEqual({
      kind: 'move',
      potIds: ['id-A-1', 'id-A-3'],
      placeId: 'porch',
      beforePotId: null,
    });
    expect(screen.queryByRole('region', { name: 'Chosen pots' })).not.toBeInTheDocument();
  });
  it('change their regimen with a reason; without one the server’s word stands at the field and they stay chosen', async () => {
    const { user, asked, stand } = open();
    const bar = await choose(user, 'A-2');
    await user.click(within(bar).getByRole('button', { name: /Change regimen/ }));
    expect(await screen.findByText(/3 waterings \(now 6\)/)).toBeInTheDocument();
    expect(screen.getByRole('region', { name: 'What would change' })).toHaveTextContent('9 Dec feed 75');
    stand.answer = () => refusal([{ path: 'reason', message: 'Say why, in a word: you will want to know later.' }]);
    await user.click(screen.getByRole('button', { name: 'From today' }));
    expect(await screen.findByText(/Say why/)).toBeInTheDocument();
    stand.answer = () => Response.json({ eventId: 'e', repeated: false });
    await user.type(screen.getByLabelText('Why'), 'cooler now');
    await user.click(screen.getByRole('button', { name: 'From today' }));
    expect(asked.at(-1)!.body).toEqual({
      kind: 'regimen',
      potIds: ['id-A-2'],
      regimenId: 'r2',
      reason: 'cooler now',
      fromDate: '2026-11-25',
    });
  });
  it('are let go with Esc', async () => {
    const { user } = open();
    await choose(user, 'A-1', 'A-2');
    await user.keyboard('{Escape}');
    expect(screen.queryByRole('region', { name: 'Chosen pots' })).not.toBeInTheDocument();
  });
});

describe('adding', () => {
  it('a pot comes with the next code of its place, and another can follow at once', async () => {
    const { user, asked } = openPage(<PotsPage />, { '/api/pots': { ...view, places: [view.places[0]] } });
    await user.click(await screen.findByRole('button', { name: 'Add a pot' }));
    expect(screen.getByLabelText('Code')).toHaveValue('A-4');
    await user.type(screen.getByLabelText('Plant'), 'Ficus');
    await user.type(screen.getByLabelText('Reservoir, mL'), '0.3 L');
    await user.click(screen.getByRole('button', { name: 'Add, and another' }));
    const first = asked.at(-1)!.body as { pots: { id: string; regimenId: string; values: object }[] };
    // The fill limit is the reservoir where nothing else was said; the usual regimen is the one most pots follow.
    expect(first.pots[0]).toMatchObject({
      regimenId: 'r1',
      values: { code: 'A-4', plant: 'Ficus', reservoirMl: 300, fillMl: 300, brimMl: null, medium: 'clay' },
    });
    expect(screen.getByLabelText('Code')).toHaveValue('A-5');
    expect(screen.getByLabelText('Plant')).toHaveValue('');
  });
  it('a list: a column is put right by hand, wrong lines stay, new places come along', async () => {
    vi.spyOn(Element.prototype, 'clientHeight', 'get').mockReturnValue(400);
    const { user, asked } = open(
      <Routes>
        <Route path="/" element={<ListPage />} />
        <Route path="/pots" element={<p>the pots</p>} />
      </Routes>,
    );
    const field = await screen.findByLabelText('The list');
    await user.click(field);
    await user.paste('B-1;Basil;Kitchen;200\nB-2;Mint;Kitchen;plenty\nB-3;Ficus;Kitchen;210');
    const lines = screen.getByRole('region', { name: 'What the list says' });
    expect(lines).toHaveTextContent('2 of 3 lines ready');
    expect(lines).toHaveTextContent(/new place: Kitchen/);
    expect(lines).toHaveTextContent(/"plenty" is no reservoir/);
    await user.selectOptions(screen.getByLabelText('column 4'), 'note');
    expect(lines).toHaveTextContent('0 of 3 lines ready');
    await user.type(screen.getByLabelText('Reservoir, mL'), '250');
    expect(lines).toHaveTextContent('3 of 3 lines ready');
    await user.click(screen.getByRole('button', { name: 'Add 3 pots' }));
    const body = asked.at(-1)!.body as {
      places: { id: string; values: { name: string } }[];
      pots: { values: object }[];
    };
    expect(body.places.map((p) => p.values.name)).toEqual(['Kitchen']);
    expect(body.pots.map((p) => p.values)).toEqual([
      expect.objectContaining({ code: 'B-1', reservoirMl: 250, note: '200', placeId: body.places[0]!.id }),
      expect.objectContaining({ code: 'B-2', note: 'plenty' }),
      expect.objectContaining({ code: 'B-3', note: '210' }),
    ]);
    expect(await screen.findByText('the pots')).toBeInTheDocument();
  });
});

describe('places and regimens', () => {
  it('a place comes earlier on the round; one that is not empty says what stands in the way', async () => {
    const { user, asked, stand } = open(<PlacesPage />);
    await user.click(await screen.findByRole('button', { name: 'Porch earlier' }));
    expect(asked.at(-1)!.body).toEqual({ kind: 'movePlace', placeId: 'porch', beforePlaceId: 'sill' });
    stand.answer = () => refusal([], '3 pots stand on Sill. Move them first.');
    await user.click(screen.getByRole('button', { name: 'Retire Sill' }));
    expect(asked.at(-1)!.body).toEqual({ kind: 'retirePlace', placeId: 'sill' });
  });
  it('a changed regimen says for whom it changes; what is no number travels as typed', async () => {
    const { user, asked } = openPage(
      <RegimenPage />,
      { '/api/pots/schools': schools, '/api/pots': view },
      '/pots/regimens/r1',
      '/pots/regimens/:regimenId',
    );
    expect(await screen.findByText(/3 pots follow it: a change holds for them from today/)).toBeInTheDocument();
    const aim = screen.getByLabelText('ppm over the water');
    await user.clear(aim);
    await user.type(aim, 'weak');
    await user.click(screen.getByRole('button', { name: 'Keep the change' }));
    expect(asked.at(-1)!.body).toMatchObject({
      kind: 'putRegimen',
      regimenId: 'r1',
      values: { feeds: [{ netPpm: 'weak', days: 7 }] },
    });
  });
  it('a school fills the parts; a rota, a soak and its months are composed; what does not fit is said at its part', async () => {
    const { user, asked, stand } = openPage(
      <RegimenPage />,
      { '/api/pots/schools': schools, '/api/pots': view },
      '/pots/regimens/new',
      '/pots/regimens/new',
    );
    await user.click(await screen.findByRole('button', { name: /Fortnight/ }));
    expect(screen.getByLabelText('Days to the next')).toHaveValue('14');
    await user.type(screen.getByLabelText('Name'), 'Mine');
    await user.click(screen.getByRole('button', { name: 'Add a watering to the rota' }));
    await user.click(screen.getByRole('button', { name: 'Add a soak' }));
    const months = screen.getByRole('group', { name: 'Months of the magnesium soak' });
    await user.click(within(months).getByRole('button', { name: 'April' }));
    await user.click(within(months).getByRole('button', { name: 'March' }));
    stand.answer = () =>
      refusal(
        [{ path: 'values.soaks.0.months', message: 'This soak is never in season.' }],
        'This soak is never in season.',
      );
    await user.click(screen.getByRole('button', { name: 'Add the regimen' }));
    expect(asked.at(-1)!.body).toMatchObject({
      kind: 'putRegimen',
      values: {
        name: 'Mine',
        school: 'fortnight',
        feeds: [
          { what: 'feed', days: 14 },
          { what: 'calmag', days: 3 },
        ],
        soaks: [{ what: 'magnesium', netPpm: 100, sio2MgL: null, months: [3, 5, 6, 7, 8, 9, 10] }],
      },
    });
    expect(await screen.findAllByText('This soak is never in season.')).not.toHaveLength(0);
    expect(screen.getByLabelText('Name')).toHaveValue('Mine');
  });
});
