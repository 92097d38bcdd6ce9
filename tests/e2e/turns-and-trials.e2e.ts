import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Page } from 'puppeteer-core';
import { axeClean, field, press, says, stage, unexpected, type Stage, tap } from './kit.ts';

let on: Stage;
let page: Page;
beforeAll(async () => {
  on = await stage();
  page = await on.open('/book');
});
afterAll(() => on.close());

const EIGHT = ['R-03', 'R-04', 'R-05', 'R-06', 'R-07', 'R-08', 'R-09', 'R-10'];

describe('turns', () => {
  it('stand on the Book’s first page above the log, with the trial that runs beside it', async () => {
    await says(page, '.turns', /What I changed, and what followed/);
    await says(page, '.turns', /Rounds on time.*Run-off gap.*pH at change.*Still water/s);
    await says(page, '.beside-log', /Does a lamp a hand higher gather less salt\?.*After 10 of 14 weeks/s);
    await says(page, '.log-row.entry', /Filled \d+/);
    await axeClean(page);
  });
  it('last spring’s change of feed is found, and what followed is read: dearer before, and no saying whether it was the season', async () => {
    await tap(page, '.book-tabs a[href="/book/turns"]');
    await page.waitForSelector('.turns-page .turn-mark[aria-label^="New feed"]');
    await tap(page, '.turns-page .turn-mark[aria-label^="New feed"]');
    await says(
      page,
      '.turn-said',
      /New feed: House feed\..*House feed, not Bark feed.*the season’s own change is in these figures/s,
    );
    await says(page, '.found-table', /Cost.*42.*no saying whether it was the season/s);
    await page.waitForFunction(() => location.search.includes('turn=feed'));
    await axeClean(page);
  });
  it('a turn of five pots is set against the others of their shelf; other weeks are one choice away', async () => {
    await tap(page, '.turns-page .turn-mark[aria-label^="Given magnesium soaks,"]');
    await says(page, '.turn-said', /Set against pots of the same place that did not turn/);
    await page.select('select[aria-label="Weeks either side"]', '12');
    await says(page, '.turn-result.head', /12 weeks before and after 5 Aug/);
  });
  it('is named and hidden, and that is undone like anything else', async () => {
    await press(page, 'Name', '.turn-list li:last-child');
    await field(page, 'Call it', 'The good feed');
    await press(page, 'Keep it');
    await says(page, '.turn-list', /The good feed/);
    await tap(page, '[aria-label="Hide The good feed"]');
    await page.waitForFunction(() => !document.querySelector('.turn-list')?.textContent?.includes('The good feed'));
    await says(page, '.turns-top', /1 hidden/);
    await press(page, 'Undo', '.toast:last-child');
    await says(page, '.turn-list', /The good feed/);
  });
});

describe('regimens side by side', () => {
  it('are told of pots that share a place, with what else they differ in', async () => {
    await page.goto(`${on.server.url}/book/schools`, { waitUntil: 'load' });
    await says(page, '.school-table tr.other', /Dilute 90, weekly13 pots.*the others are set against it/);
    await says(
      page,
      '.school-table',
      /soaks in season.*3 of them set against 11 of the same place.*no difference to be seen/s,
    );
    await says(page, '.school-table', /Dilute 75, fortnightly.*Too few of its pots share a place/s);
    await says(page, '.schools-why', /fortnightly, not weekly; 75 ppm, not 90 ppm.*Cool porch: all, not none/s);
    await axeClean(page);
  });
  it('are set against another of the grower’s choice, which stands in the address; whole on a phone', async () => {
    await page.select('select[aria-label="Over"]', '26');
    await says(page, '.schools', /the last 26 weeks/);
    await page.waitForFunction(() => location.search.includes('weeks=26'));
    const soaks = await page.$$eval('select[aria-label="Set against"] option', (all) =>
      all.find((o) => o.textContent?.includes('soaks in season'))!.getAttribute('value'),
    );
    await page.select('select[aria-label="Set against"]', soaks!);
    await says(page, '.school-table tr.other', /Dilute 90, soaks in season/);
    await page.setViewport({ width: 390, height: 844 });
    await page.waitForFunction(() => document.documentElement.scrollWidth <= 390);
    await axeClean(page);
    await page.setViewport({ width: 1280, height: 800 });
  });
  it('lead to a trial of one on the pots of the other', async () => {
    await page.goto(`${on.server.url}/book/schools`, { waitUntil: 'load' });
    await tap(page, '[aria-label="Try Dilute 75, fortnightly on half of the pots of Dilute 90, weekly"]');
    await says(page, '.trial-new', /13 chosen|13 pots/);
    await page.waitForFunction(() => location.search.includes('regimen='));
  });
});

describe('a trial', () => {
  it('says before it starts what eight pots can show, and refuses what can show nothing', async () => {
    await page.goto(`${on.server.url}/book/trials/new`);
    await field(page, 'Question', 'Does a still flush gather less salt?');
    await tap(page, '.pot-toggle[title]');
    await says(page, '.pot-choice', /One pot can show nothing/);
    await tap(page, '.pot-toggle[aria-pressed=true]');
    for (const code of EIGHT)
      await page.evaluate((wanted) => {
        [...document.querySelectorAll<HTMLButtonElement>('.pot-toggle')].find((b) => b.textContent === wanted)!.click();
      }, code);
    await says(page, '.trial-plan', /4 pairs can show a difference of \d+.% or more; for 20.% it takes \d+ pairs/);
    await says(page, '.trial-plan', /with still water/);
    await axeClean(page);
  });
  it('begins with each pair’s pots apart by lot, and the Round says what each gets', async () => {
    await press(page, 'Begin it today');
    await says(page, '.trials-page', /Does a still flush gather less salt\?.*12 weeks.*running/s);
    await says(page, '.trials-page', /no pair is read on both sides of the start/);
    const arms = on.rows(
      `SELECT pair, count(*) AS n, sum(arm) AS arms FROM trial_pot t JOIN trial r ON r.id = t.trialId WHERE r.startOn = '2026-11-25' GROUP BY pair`,
    );
    expect(arms).toEqual([0, 1, 2, 3].map((pair) => ({ pair, n: 2, arms: 1 })));
    await axeClean(page);
    await page.goto(`${on.server.url}/round`);
    await says(page, '.pot-card', /Trial: (as it was|flushed with still water)/);
  });
  it('is ended before its time with a warning, its pots go back, and that is undone', async () => {
    await page.goto(`${on.server.url}/book/trials`);
    await press(page, 'End it', '[aria-label^="Does a still flush gather less salt?"]');
    await says(page, '.modal', /0 of 12 weeks are over.*once in a thousand/s);
    await field(page, 'Why now', 'no still water to spare');
    await press(page, 'End it', '.modal-footer');
    await says(page, '.trials-page', /ended before its time.*no still water to spare/s);
    expect(
      on.rows(
        `SELECT count(*) AS n FROM pot_regimen p JOIN regimen r ON r.id = p.regimenId WHERE p.fromDate = '2026-11-25' AND r.name = 'Dilute 90, weekly'`,
      ),
    ).toEqual([{ n: 4 }]);
    await press(page, 'Undo', '.toast');
    await says(page, '.trials-page', /Does a still flush gather less salt\?.*running/s);
  });
  it('a pot taken out says why', async () => {
    await press(page, 'Take R-03 out');
    await field(page, 'Why', 'repotted');
    await press(page, 'Take it out');
    await says(page, '.trials-page', /Not kept equal.*R-03 left: repotted/s);
  });
});

it('nothing went wrong on the way', () => {
  expect(on.complaints.filter(unexpected)).toEqual([]);
});
