import { existsSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Page } from 'puppeteer-core';
import { axeClean, field, press, says, stage, unexpected, type Stage, tap } from './kit.ts';

let on: Stage;
let page: Page;
beforeAll(async () => {
  on = await stage();
  page = await on.open('/book/settings');
});
afterAll(() => on.close());

describe('settings', () => {
  it('units hold everywhere, and a field takes any unit that is written after the number', async () => {
    // The form of the collection, not the one of this device, which is there first.
    await page.waitForSelector('[aria-label="The collection"] select');
    await page.select('[aria-label="The collection"] select', 'us');
    await press(page, 'Keep the settings');
    await says(page, '.toast', /Settings kept/);
    await page.goto(`${on.server.url}/round`);
    await says(page, '.pot-card .head', /reservoir 9\.5.fl oz/);
    await says(page, '.mix', /make 0\.74.gal for 9 pots/);
    await field(page, 'Left in the old reservoir, fl oz', '90 ml');
    await press(page, 'or log it with a mix that was not measured');
    await says(page, '.toast', /R-05 filled with 9\.1.fl oz/);
    expect(
      on.rows(
        `SELECT json_extract(payload, '$.oldReservoir.leftMl') AS ml FROM care_event WHERE kind = 'potFilled' ORDER BY seq DESC LIMIT 1`,
      ),
    ).toEqual([{ ml: 90 }]);
    await page.goto(`${on.server.url}/book`);
    await says(page, '.log', /Flushed 10\.1.fl oz, filled 9\.1.fl oz/);
  });
  it('are undone from the Book like anything else', async () => {
    // The turns above the log come a moment later, and move it.
    await page.waitForSelector('.turn-mark');
    await tap(page, '[aria-label^="Undo: Changed the settings"]');
    await says(page, '.log', /filled 270.mL/);
    expect(on.rows(`SELECT value FROM setting WHERE key = 'units'`)).toEqual([]);
  });
  it('of this device stay on it: the hand swaps the phone’s buttons', async () => {
    await page.goto(`${on.server.url}/book/settings`);
    await page.waitForSelector('[aria-label="This device"] select');
    await page.select('[aria-label="This device"] select', 'left');
    await page.waitForSelector('.app[data-hand=left]');
    await page.reload();
    await page.waitForSelector('.app[data-hand=left]');
  });
});

describe('the log', () => {
  it('is found in by words, as one types; the address holds what was looked for, and the strip counts it', async () => {
    await page.goto(`${on.server.url}/book`);
    await says(page, '.log-row.entry', /Round.*Filled \d+/);
    await page.keyboard.press('/');
    await page.keyboard.type('crust R-07');
    await says(page, '.log', /R-07, East sill.*crust/);
    await page.waitForFunction(() => location.search.includes('words=crust+R-07'));
    // What was found for the words before stays until these are there.
    await page.waitForFunction(() =>
      [...document.querySelectorAll('.log-body .log-row:not(.day)')].every((row) => row.textContent.includes('R-07')),
    );
    const whats = await page.$$eval('.log-body .log-row:not(.day)', (rows) => rows.map((row) => row.textContent));
    expect(whats.length).toBeGreaterThan(1);
    for (const what of whats) expect(what).toMatch(/R-07.*crust/);
    await page.reload();
    await says(page, '.log', /R-07, East sill.*crust/);
    await axeClean(page);
    await press(page, 'Show all');
    await says(page, '.log-row.entry', /Round.*Filled \d+/);
  });
  it('begins at any day, by the arrow keys along the strip', async () => {
    await page.focus('.day-strip [role=slider]');
    await page.keyboard.press('PageDown');
    await page.keyboard.press('PageDown');
    await page.waitForFunction(() => location.search === '?to=2026-11-11');
    await page.waitForFunction(() => /1[01] Nov|9 Nov/.test(document.querySelector('.log-row.day')?.textContent ?? ''));
    await page.keyboard.press('End');
    await page.waitForFunction(() => location.search === '');
  });
  it('takes a line of one’s own, of a day past and of two pots, which know of it; its words are put right', async () => {
    await page.keyboard.press('n');
    await page.waitForSelector('.modal');
    await field(page, 'What was done', 'Moved the lamps up a hand');
    await field(page, 'Which pots', 'R-01, Q-99');
    await press(page, 'Write it down', '.modal-footer');
    await says(page, '.modal .field-error', /There is no pot Q-99/);
    await field(page, 'Which pots', 'R-01, r-02');
    await tap(page, '#note-lasts');
    await axeClean(page);
    await press(page, 'Write it down', '.modal-footer');
    await says(page, '.toast', /Written down/);
    await says(page, '.log', /Moved the lamps up a hand/);
    await tap(page, '[aria-label^="Put right: Moved the lamps"]');
    await page.waitForSelector('.modal');
    await field(page, 'What was done', 'Moved the lamps up two hands');
    await press(page, 'Keep the right figures');
    await says(page, '.log', /Moved the lamps up two hands.*was Moved the lamps up a hand/);
    expect(
      on.rows(
        `SELECT json_extract(payload, '$.words') AS words FROM care_event WHERE kind = 'noteWritten' AND voidedBy IS NULL`,
      ),
    ).toEqual([{ words: 'Moved the lamps up two hands' }]);
    await page.goto(`${on.server.url}/pots?view=shelves&q=R-02`);
    await tap(page, '[data-pot="R-02"]');
    await says(page, '.pot-log', /Moved the lamps up two hands/);
    await page.goto(`${on.server.url}/book/turns`);
    await says(page, '.turns-page', /Moved the lamps up two hands/);
  });
});

describe('a day in the demo', () => {
  it('is hurried on: what was due tomorrow is due, and a restart brings the real day back with nothing in the future', async () => {
    await page.goto(`${on.server.url}/round`);
    await says(page, 'h1', /Wednesday’s round/);
    await press(page, 'Next day');
    await says(page, 'h1', /Thursday’s round/);
    await says(page, '.round header', /late/);
    await on.server.stop();
    await on.restart();
    await page.reload();
    await says(page, 'h1', /Wednesday’s round/);
    expect(on.rows(`SELECT count(*) AS n FROM care_event WHERE localDate > '2026-11-25'`)).toEqual([{ n: 0 }]);
  });
});

describe('clocks and plans', () => {
  it('a clock of one’s own rings by the title, and waits until it is stopped', async () => {
    await page.keyboard.press('c');
    await page.waitForSelector('.modal');
    await field(page, 'What for', 'Kettle');
    await field(page, 'Minutes', 'soon');
    await press(page, 'Start', '.modal form');
    await says(page, '.modal .field-error', /Give the minutes/);
    await field(page, 'Minutes', '0.02');
    await press(page, 'Start', '.modal form');
    await says(page, '.clock.rung', /Done.*Kettle/);
    await page.waitForFunction(() => document.title.startsWith('Done: Kettle'));
    await tap(page, '.clock [aria-label^="Stop"]');
    await page.waitForFunction(() => document.title === 'Frugal Sip' && document.querySelector('.clock') === null);
  });
  it('a plan stands on the round with who put it there, and is ticked off', async () => {
    await page.goto(`${on.server.url}/round`);
    await press(page, 'Plan something');
    await press(page, 'Plan it');
    await says(page, '.plan-form .field-error', /Say what is to be done/);
    await field(page, 'What', 'Order clay');
    await press(page, 'Plan it');
    await says(page, '.plan-list', /Order clay.*your own.*today/);
    await tap(page, '.plan-list input[type=checkbox]');
    await says(page, '.plan-list .done', /Order clay/);
    expect(on.rows(`SELECT doneOn FROM planned_act WHERE words = 'Order clay'`)).toEqual([{ doneOn: '2026-11-25' }]);
  });
});

describe('backups', () => {
  it('one on request; what is changed afterwards is gone when it is put back, and that can be undone too', async () => {
    await page.goto(`${on.server.url}/book/backups`);
    await press(page, 'Back up now');
    await says(page, '.toast', /Backed up and checked/);
    await says(page, '.backups li', /asked.*42 pots/);
    expect(readdirSync(join(on.server.folder, 'backups'))).toHaveLength(1);
    await page.goto(`${on.server.url}/pots?view=shelves&q=R-01`);
    await tap(page, '[data-pot="R-01"]');
    await page.waitForSelector('.pot-page');
    await press(page, 'Retire', '.pot-acts');
    await field(page, 'What became of it', 'sold');
    await press(page, 'Retire', '.modal-footer');
    await says(page, '.pot-page', /Retired/);
    await page.goto(`${on.server.url}/book/backups`);
    await press(page, 'Put back');
    await says(page, '.backups .asked', /kept as a backup first/);
    await press(page, 'Put it back now');
    await says(page, '.toast', /Put back/);
    await says(page, '.backups', /before restoring/);
    expect(on.rows(`SELECT retiredOn FROM pot WHERE code = 'R-01'`)).toEqual([{ retiredOn: null }]);
    await page.goto(`${on.server.url}/pots?view=shelves&q=R-01`);
    await page.waitForSelector('[data-pot="R-01"]');
    expect(existsSync(join(on.server.folder, 'demo.sqlite.next'))).toBe(false);
    expect(on.complaints.filter(unexpected)).toEqual([]);
  });
});
