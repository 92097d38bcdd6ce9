import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Page } from 'puppeteer-core';
import { axeClean, field, press, says, stage, unexpected, type Stage, tap } from './kit.ts';

/* Pots and Shelf as they are kept day by day. */

let on: Stage;
let page: Page;
beforeAll(async () => {
  on = await stage();
  page = await on.open('/pots?view=shelves');
});
afterAll(() => on.close());

const orderOf = (place: string) =>
  on
    .rows<{ code: string }>(
      `SELECT p.code FROM pot p JOIN place l ON l.id = p.placeId WHERE l.name = ? AND p.retiredOn IS NULL ORDER BY p.position`,
      place,
    )
    .map((r) => r.code);
const potRow = (code: string) => on.rows<Record<string, unknown>>('SELECT * FROM pot WHERE code = ?', code)[0]!;
const undoToast = async () => {
  await tap(page, '.toast:last-child .btn');
  await says(page, '.toast:last-child', /Took a change back/);
};

describe('the shelves', () => {
  it('a pot is dragged to another shelf, before the pot it is dropped on, and taken back', async () => {
    const before = orderOf('Cool porch');
    const from = (await (await page.waitForSelector('[data-pot="R-04"]'))!.boundingBox())!;
    const to = (await (await page.waitForSelector('[data-pot="P-03"]'))!.boundingBox())!;
    await page.mouse.move(from.x + 20, from.y + 60);
    await page.mouse.down();
    await page.mouse.move(from.x + 40, from.y + 80, { steps: 4 });
    await page.mouse.move(to.x + to.width / 2, to.y + to.height / 2, { steps: 12 });
    await page.mouse.up();
    await says(page, '.toast', /Moved R-04 to Cool porch/);
    expect(orderOf('Cool porch')).toEqual([...before.slice(0, 2), 'R-04', ...before.slice(2)]);
    await page.waitForSelector('.shelf[aria-label^="Cool porch"] [data-pot="R-04"]');
    await undoToast();
    expect(orderOf('Cool porch')).toEqual(before);
  });
  it('the keyboard moves it along and to the next shelf, and the focus goes with it', async () => {
    // The shelf as it stands again after the undo before: R-02 is moved past what is drawn beside it.
    await page.waitForSelector('.shelf[aria-label^="East sill"] [data-pot="R-04"]');
    await page.focus('[data-pot="R-02"]');
    await page.keyboard.down('Shift');
    await page.keyboard.press('ArrowRight');
    await page.keyboard.up('Shift');
    await says(page, '.toast', /Moved R-02 to East sill/);
    // The toast may come before the shelf is drawn anew, and the focus was on it before too: wait for the order itself.
    await page.waitForFunction(() =>
      [...document.querySelectorAll('.shelf[aria-label^="East sill"] [data-pot]')]
        .map((e) => e.getAttribute('data-pot'))
        .join()
        .startsWith('R-01,R-03,R-02'),
    );
    await page.waitForFunction(() => document.activeElement?.getAttribute('data-pot') === 'R-02');
    await page.keyboard.down('Shift');
    await page.keyboard.press('ArrowDown');
    await page.keyboard.up('Shift');
    await page.waitForSelector('.shelf[aria-label^="Long shelf"] [data-pot="R-02"]');
    expect(orderOf('Long shelf').indexOf('R-02')).toBe(2);
  });
});

describe('several pots at once', () => {
  it('are chosen, put on another regimen with a reason, and that is one act', async () => {
    for (const code of ['R-05', 'R-06', 'R-08']) {
      await page.focus(`[data-pot="${code}"]`);
      await page.keyboard.press('x');
    }
    await says(page, '.chosen-bar', /3 pots chosenR-05, R-06, R-08/);
    await axeClean(page);
    await page.keyboard.press('g');
    await page.waitForSelector('.modal');
    await page.select(
      '.modal select',
      ...(await page.$$eval('.modal option', (list) =>
        list.filter((o) => o.textContent === 'Herbs 320, weekly').map((o) => o.value),
      )),
    );
    await press(page, 'From today');
    await says(page, '.modal .field-error', /Say why/);
    await field(page, 'Why', 'a trial of strength');
    await press(page, 'From today');
    await says(page, '.toast', /3 pots on Herbs 320, weekly/);
    expect(on.rows(`SELECT count(*) AS n FROM pot_regimen WHERE reason = 'a trial of strength'`)).toEqual([{ n: 3 }]);
    await undoToast();
    expect(on.rows(`SELECT count(*) AS n FROM pot_regimen WHERE reason = 'a trial of strength'`)).toEqual([{ n: 0 }]);
  });
  it('get printed labels, each with a code to its page', async () => {
    await tap(page, '[data-pot="R-09"]', {});
    await page.waitForSelector('.pot-page');
    await press(page, 'Label');
    await page.waitForSelector('.label .qr');
    await says(page, '.label', /R-09Dendrochilum.*East sill/);
    await says(page, '.labels-page header', /let the phone in first/);
    expect(await page.$$eval('.label', (list) => list.length)).toBe(1);
  });
});

describe('the map', () => {
  /** Puppeteer focuses no SVG by itself. */
  const focusMark = (code: string) =>
    page.$eval(`.how-they-stand [data-pot="${code}"]`, (e) => (e as SVGElement).focus());
  it('pots are chosen by dragging round them, and a soak asked for each comes at its next watering', async () => {
    await page.goto(`${on.server.url}/pots`);
    await page.waitForSelector('.how-they-stand .pot-mark');
    await axeClean(page);
    const box = (await (await page.waitForSelector('.how-they-stand [data-pot="R-07"]'))!.boundingBox())!;
    const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
    // From bare ground right below it, round it and back.
    await page.mouse.move(x + 50, y + 45);
    await page.mouse.down();
    for (const [dx, dy] of [
      [-24, 45],
      [-24, -50],
      [40, -50],
      [48, 40],
    ] as const)
      await page.mouse.move(x + dx, y + dy, { steps: 5 });
    await page.mouse.up();
    await says(page, '.chosen-bar', /R-07/);
    const codes = (await page.$eval('.chosen-bar .codes', (e) => e.textContent)).split(', ');
    await press(page, 'Add a soak', '.chosen-bar');
    await says(page, '.modal', /not in season/);
    await press(page, 'Ask for it');
    await says(page, '.toast', /Magnesium soak asked for/);
    const asked = () =>
      on
        .rows<{ code: string }>(
          `SELECT p.code FROM planned_act a JOIN pot p ON p.id = a.subjectId WHERE a.origin = 'season' AND a.originId = 'magnesium' ORDER BY p.code`,
        )
        .map((r) => r.code);
    expect(asked()).toEqual([...codes].sort());
    await undoToast();
    expect(asked()).toEqual([]);
  });
  it('the keyboard goes from pot to pot, chooses and opens; the counts narrow it, and the worst come first', async () => {
    await page.goto(`${on.server.url}/pots`);
    await page.waitForSelector('.how-they-stand .pot-mark');
    await focusMark('R-07');
    await page.keyboard.press('ArrowLeft');
    const next = await page.evaluate(() => document.activeElement?.getAttribute('data-pot'));
    expect(next).not.toBe('R-07');
    await page.keyboard.press('x');
    await says(page, '.chosen-bar', new RegExp(`1 pot chosen${next}`));
    await page.keyboard.press('Escape');
    await press(page, 'Salting up', '.filters');
    await says(page, 'header', /found/);
    await says(page, '.pot-table-body .pot-row', /R-07.*salting up/);
    await focusMark('R-07');
    await page.keyboard.press('Enter');
    await page.waitForSelector('.pot-page');
  });
});

describe('the table', () => {
  it('is filtered and sorted in the address, and the address brings it back', async () => {
    await page.goto(`${on.server.url}/pots?view=table`);
    await page.waitForSelector('.pot-row .c-code a');
    await tap(page, '.filters ::-p-text(Cool porch)');
    await says(page, 'header', /12 found/);
    await tap(page, '.pot-table-head ::-p-text(pH)');
    await tap(page, '.pot-table-head ::-p-text(pH)');
    await page.waitForFunction(() => location.search.includes('sort=ph') && location.search.includes('down=1'));
    const first = await page.$eval('.pot-table-body .pot-row .c-code a', (e) => e.textContent);
    expect(first).toMatch(/^P-/);
    await page.reload();
    await page.waitForSelector('.pot-row .c-code a');
    await says(page, 'header', /12 found/);
    expect(await page.$eval('.pot-table-body .pot-row .c-code a', (e) => e.textContent)).toBe(first);
    expect(await page.$eval('.pot-table-head [aria-sort]', (e) => e.getAttribute('aria-sort'))).toBe('descending');
  });
});

describe('one pot', () => {
  it('is changed in full, refused where it does not fit with nothing lost, and shows it', async () => {
    await page.goto(`${on.server.url}/pots?view=shelves&q=R-10`);
    await tap(page, '[data-pot="R-10"]');
    await page.waitForSelector('.pot-page');
    await page.keyboard.press('e');
    await page.waitForSelector('.pot-form');
    await field(page, 'A name of its own', 'Aunt Posy');
    await field(page, 'To the brim, mL', '100');
    await field(page, 'Height, cm', 'tall');
    await press(page, 'Keep the change');
    await says(page, '.pot-form .field-error', /Give the height in cm/);
    await field(page, 'Height, cm', '31');
    await press(page, 'Keep the change');
    await says(page, '.pot-form .field-error', /brim holds less than the reservoir/);
    expect(await page.$eval('.pot-form input', (e) => e.value)).toBe('R-10');
    await field(page, 'To the brim, mL', '0.9 L');
    await press(page, 'Keep the change');
    await says(page, '.pot-page h1', /Aunt Posy/);
    expect(potRow('R-10')).toMatchObject({ name: 'Aunt Posy', plant: 'Begonia', brimMl: 900, heightCm: 31 });
  });
  it('is added with a code of its own, and a taken one is refused at the field', async () => {
    await page.goto(`${on.server.url}/pots?view=shelves`);
    await page.waitForSelector('.shelves');
    await page.keyboard.press('n');
    await page.waitForSelector('.pot-form');
    await field(page, 'Code', 'r-07');
    await field(page, 'Plant', 'Hoya');
    await field(page, 'Reservoir, mL', '250');
    await press(page, 'Add', '.modal-footer');
    await says(page, '.pot-form .field-error', /another pot's code/);
    await field(page, 'Code', 'P-99');
    await press(page, 'Add', '.modal-footer');
    await page.waitForSelector('[data-pot="P-99"]');
    expect(potRow('P-99')).toMatchObject({ reservoirMl: 250, fillMl: 250, plant: 'Hoya' });
  });
  it('is retired with what became of it, leaves the round, keeps its page, and comes back', async () => {
    await tap(page, '[data-pot="P-99"]');
    await page.waitForSelector('.pot-page');
    await press(page, 'Retire', '.pot-acts');
    await field(page, 'What became of it', 'given away');
    await press(page, 'Retire', '.modal-footer');
    await says(page, '.pot-page', /Retired 25 Nov 2026: given away/);
    await page.goto(`${on.server.url}/pots?view=shelves`);
    await page.waitForSelector('.shelves');
    expect(await page.$('[data-pot="P-99"]')).toBeNull();
    await press(page, '1 retired pot');
    await press(page, 'P-99 Hoya');
    await press(page, 'Bring it back');
    await page.waitForSelector('.pot-acts ::-p-text(Change)');
    expect(potRow('P-99')['retiredOn']).toBeNull();
  });
  it('has a reading put right: the old one is struck through and can be put back', async () => {
    const [target] = on.rows<{ id: string; potId: string; ppm: number }>(
      `SELECT id, potId, json_extract(payload, '$.oldReservoir.ppm.value') AS ppm FROM care_event WHERE kind = 'potFilled' AND json_extract(payload, '$.oldReservoir.ppm.kind') = 'value' ORDER BY seq DESC LIMIT 1`,
    );
    await page.goto(`${on.server.url}/pots/${target!.potId}`);
    await page.waitForSelector('.pot-log li');
    await tap(page, '.pot-log [aria-label^="Put right"]');
    await page.waitForSelector('.modal input');
    await field(page, 'Old reservoir, ppm', 'wet');
    await press(page, 'Keep the right figures');
    await says(page, '.modal .field-error', /such as 104/);
    await field(page, 'Old reservoir, ppm', '77');
    await press(page, 'Keep the right figures');
    await says(page, '.pot-log', new RegExp(`77 ppm.*put right, was ${target!.ppm} ppm`));
    expect(await page.$eval('.pot-log s', (e) => e.textContent)).toBe(`${target!.ppm} ppm`);
    await tap(page, '.toast:last-child .btn');
    await says(page, '.toast:last-child', /Took a correction back/);
    await page.waitForFunction(() => !document.querySelector('.pot-log s'));
    expect(on.rows('SELECT voidedBy FROM care_event WHERE id = ?', target!.id)).toEqual([{ voidedBy: null }]);
  });
});

describe('the Shelf', () => {
  it('gets a vessel, changes it, retires it and brings it back', async () => {
    await page.goto(`${on.server.url}/shelf?view=list`);
    await page.waitForSelector('.shelf-vessel');
    await tap(page, '[aria-label="Add a vessel"]');
    await field(page, 'What you call it', 'Bowl');
    await press(page, 'Add', '.modal-footer');
    await says(page, '.modal .field-error', /litres/);
    await field(page, 'Holds, L', '3');
    await press(page, 'Add', '.modal-footer');
    await says(page, '.shelf-vessel', /Bowl.*3.L/);
    await tap(page, '[aria-label="Retire Bowl"]');
    await says(page, '.toast', /Retired Bowl/);
    // The demo has a feed of last spring put away too.
    await press(page, 'Show the 2 retired');
    await press(page, 'Bring back', '.shelf-vessel');
    await page.waitForSelector('[aria-label="Change Bowl"]');
    expect(on.rows(`SELECT retiredOn FROM vessel WHERE name = 'Bowl'`)).toEqual([{ retiredOn: null }]);
  });
  it('reads a water, and refuses more in the tank than it holds', async () => {
    await tap(page, '[aria-label="Read Kitchen tap"]');
    await field(page, 'ppm', '207');
    await press(page, 'Keep the reading');
    await says(page, '.shelf-water', /Kitchen tap.*207 ppm/);
    await tap(page, '[aria-label="Look into the tank of Still water"]');
    await field(page, 'In it now, L', '40');
    await press(page, 'Keep it');
    await says(page, '.modal .field-error', /tank holds 25 L/);
    await field(page, 'In it now, L', '12.5');
    await press(page, 'Keep it');
    await says(page, '.shelf-water', /about 12\.5.L of 25.L/);
  });
  it('says when a recipe cannot be scaled, and why', async () => {
    await tap(page, '[aria-label="Add a product"]');
    await field(page, 'What you call it', 'Seaweed');
    await field(page, 'Amount', '30');
    await page.select('.recipe-fields select', 'drops');
    await field(page, 'in water, L', '4');
    await field(page, 'the pen read, ppm', '100');
    await field(page, 'the water alone, ppm', '9');
    await says(page, '.recipe-fields', /Not scaled: The dropper it was counted with has not been counted/);
    await press(page, 'Add', '.modal-footer');
    await says(page, '.shelf-product', /Seaweed.*not scaled/);
    expect(on.complaints.filter(unexpected)).toEqual([]);
  });
});
