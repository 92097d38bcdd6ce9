import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Page } from 'puppeteer-core';
import { axeClean, field, keep, paste, press, says, stage, tap, unexpected, type Stage } from './kit.ts';

/* Two growers from an empty folder to their first right watering: hard tap changed every fortnight, and a collection of 200 in three places. */

type Setup = {
  water: string;
  ppm: string;
  places: string;
  school: string;
  list: string;
  pots: number;
  bucketL: string;
};

/** The guided first minute with one pen, one water, a dropper, a bucket and a feed of 200 ppm for a mL in a litre. */
async function setUp(page: Page, of: Setup): Promise<void> {
  await press(page, 'Set up my collection');
  await says(page, '.start-form-card h2', /Your TDS pen/);
  await press(page, 'Keep, and go on');
  await says(page, '.start-form-card h2', /The water you mix with/);
  await choose(page, 'Which water', of.water);
  await field(page, 'What your pen reads in it, ppm', of.ppm);
  await press(page, 'Keep, and go on');
  await says(page, '.start-form-card h2', /Something to measure with/);
  await choose(page, 'What it is', 'syringe');
  await field(page, 'Holds, mL', '20');
  await field(page, 'Smallest mark, mL', '0.5');
  await press(page, 'Keep, and go on');
  await says(page, '.start-form-card h2', /What you mix in/);
  await field(page, 'Holds, L', of.bucketL);
  await press(page, 'Keep, and go on');
  await says(page, '.start-form-card h2', /Your feed/);
  await field(page, 'What you call it', 'Green feed');
  await field(page, 'Amount', '2');
  await field(page, 'in water, L', '4');
  await field(page, 'the pen read, ppm', String(Number(of.ppm) + 100));
  await says(page, '.recipe-fields', /1 mL in 1 L gives about 200 ppm over the water/);
  await press(page, 'Keep, and go on');
  await says(page, '.start-form-card h2', /Where your pots stand/);
  await field(page, 'Places, one on a line', of.places);
  await press(page, 'Keep, and go on');
  await says(page, '.start-form-card h2', /How you feed them/);
  await choose(page, 'Begin from', of.school);
  await press(page, 'Keep, and go on');
  await says(page, '.start-form-card h2', /Your pots/);
  await paste(page, 'The list', of.list);
  await press(page, `Add ${of.pots} pots`);
  await says(page, '.start-form-card', /Ready for the first round/);
  await press(page, 'To the round');
  await says(page, '.round header', new RegExp(`${of.pots} pots due`));
}

async function choose(page: Page, label: string, value: string): Promise<void> {
  const select = await page.waitForSelector(`::-p-aria([name="${label}"][role="combobox"])`);
  // What can be chosen may still be on its way.
  await page.waitForFunction(
    (s, v) => [...(s as HTMLSelectElement).options].some((o) => o.value === v),
    {},
    select,
    value,
  );
  await select!.select(value);
}

/** Portions of what the coach expects, as a pen that agrees with it would show, until the strength stands. */
async function toStrength(page: Page, base: string): Promise<void> {
  await says(page, '.now', /Read the plain/);
  await keep(page, base);
  for (let portion = 1; portion <= 4; portion++) {
    const said = await says(page, '.now', new RegExp(`Portion ${portion}|go to the round`));
    if (!said.includes('Portion')) return;
    await keep(page, await page.$eval('.now .read input', (e) => /\d+/.exec(e.placeholder)![0]));
  }
  await says(page, '.now', /go to the round/);
}

describe('hard tap, everything changed each fortnight', () => {
  let on: Stage;
  let page: Page;
  beforeAll(async () => {
    on = await stage({ demo: false });
    page = await on.open('/');
  });
  afterAll(() => on.close());

  it('is set up with its school, and told what so much of a base means before it is mixed', async () => {
    const list = ['Code\tPlant\tPlace\tReservoir', ...[1, 2, 3].map((i) => `F-${i}\tAlocasia\tDesk\t400 mL`)].join(
      '\n',
    );
    await setUp(page, { water: 'tap', ppm: '340', places: 'Desk', school: 'fortnight', list, pots: 3, bucketL: '5' });
    expect(on.rows('SELECT kind FROM regimen')).toEqual([{ kind: 'fortnight' }]);
    expect(on.rows('SELECT kind, name FROM tool')).toEqual([{ kind: 'syringe', name: 'Syringe' }]);
    await press(page, 'Make at bench');
    await says(page, '.before', /It last read 340, which is much to start from for a feed\. Blend it with still water/);
    await axeClean(page);
  });
  it('is coached over its own base, judged by each school, and poured', async () => {
    await press(page, 'Read the water next');
    await toStrength(page, '338');
    await says(page, '.now', /reads 5\d\d/);
    await tap(page, '.by-school summary');
    await says(page, '.by-school', /Constant dilute\s*90\s*over.*Fortnight change\s*180\s*on target/);
    await press(page, 'Ready to pour, to the round');
    await says(page, 'h1', /round/);
  });
  it('the three are logged alike in one act, each with its own line, and are due in a fortnight', async () => {
    await press(page, 'or several alike at once');
    await says(page, '.modal', /Desk, 3 of 3/);
    await axeClean(page);
    await press(page, 'Log 3 pots');
    await says(page, '.toast', /3 pots filled as planned/);
    await says(page, '.round header', /Nothing left to do.*3 done/);
    const lines = on.rows<{ reads: string }>(
      `SELECT json_extract(payload, '$.oldReservoir.ppm.kind') AS reads FROM care_event WHERE kind = 'potFilled' AND voidedBy IS NULL`,
    );
    expect(lines).toEqual([1, 2, 3].map(() => ({ reads: 'notMeasured' })));
    await page.goto(`${on.server.url}/pots`);
    await says(page, 'main', /in 14 d/);
    expect(on.complaints.filter(unexpected)).toEqual([]);
  });
});

describe('two hundred pots in three places', () => {
  const PLACES = ['East', 'Rack', 'Porch'];
  const POTS = 200;
  const LIST = [
    'Code\tPlant\tPlace\tReservoir',
    ...Array.from({ length: POTS }, (_, i) => {
      const place = PLACES[i < 90 ? 0 : i < 160 ? 1 : 2]!;
      return `${place[0]}-${String(i + 1).padStart(3, '0')}\tHoya\t${place}\t200 mL`;
    }),
  ].join('\n');
  let on: Stage;
  let page: Page;
  beforeAll(async () => {
    on = await stage({ demo: false });
    page = await on.open('/');
  });
  afterAll(() => on.close());
  const filled = () =>
    on.rows<{ n: number }>(`SELECT count(*) AS n FROM care_event WHERE kind = 'potFilled' AND voidedBy IS NULL`)[0]!.n;

  it('is set up from one list; a mix larger than the bucket goes in goes', async () => {
    const places = PLACES.join('\n');
    await setUp(page, {
      water: 'still',
      ppm: '9',
      places,
      school: 'constantDilute',
      list: LIST,
      pots: POTS,
      bucketL: '25',
    });
    await press(page, 'Make at bench');
    await says(page, '.start-form', /holds 25.L/);
    await axeClean(page);
    await field(page, 'How much, L', '22');
    await press(page, 'Read the water next');
    await toStrength(page, '9');
    await press(page, 'Ready to pour, to the round');
    await says(page, 'h1', /round/);
  });
  it('a whole place is logged in one act, as far as the mix reaches, and taken back with one press', async () => {
    await press(page, 'or several alike at once');
    await says(page, '.modal', /East, 90 of 90.*Rack, 0 of 70.*Porch, 0 of 40/);
    await tap(page, '.many-place:nth-of-type(2) legend input');
    await says(page, '.modal', /Of the mix .* are left and these take .*Leave some out/);
    await tap(page, '.many-place:nth-of-type(2) legend input');
    await press(page, 'Log 90 pots');
    await says(page, '.toast', /90 pots filled as planned/);
    await says(page, '.round header', /110 pots due.*90 done/);
    expect(filled()).toBe(90);
    await press(page, 'Undo', '.toast:last-child');
    await says(page, '.toast', /Took 90 acts back/);
    await says(page, '.round header', /200 pots due/);
    expect(filled()).toBe(0);
  });
  it('all of a search are chosen with one press and moved in one act', async () => {
    await page.goto(`${on.server.url}/pots?view=shelves`);
    await says(page, 'header', /200 in 3 places/);
    await field(page, 'Find a pot by code, name, place or regimen', 'Porch');
    await says(page, 'header', /40 found/);
    await press(page, 'Choose');
    await press(page, 'All 40 found');
    await says(page, '.chosen-bar', /40 pots chosen/);
    await axeClean(page, { contrast: false });
    await press(page, 'Move', '.chosen-bar');
    await choose(page, 'To', await placeId('Rack'));
    await press(page, 'Move', '.modal-footer');
    await says(page, '.toast', /Moved 40 pots to Rack/);
    expect(on.rows(`SELECT count(*) AS n FROM pot WHERE placeId = ?`, await placeId('Rack'))).toEqual([{ n: 110 }]);
    expect(on.complaints.filter(unexpected)).toEqual([]);
  });
  const placeId = async (name: string) => on.rows<{ id: string }>('SELECT id FROM place WHERE name = ?', name)[0]!.id;
});
