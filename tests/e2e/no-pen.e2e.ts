import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Page } from 'puppeteer-core';
import { axeClean, field, keep, paste, press, says, stage, tap, unexpected, type Stage } from './kit.ts';

/* A beginner with a bottle, a dropper, one pot and no pen, from nothing to the first watering. */

let on: Stage;
let page: Page;
beforeAll(async () => {
  on = await stage({ demo: false });
  page = await on.open('/');
});
afterAll(() => on.close());

describe('without a strength pen', () => {
  it('the guided first minute goes on without one', async () => {
    await press(page, 'Set up my collection');
    await says(page, '.start-form-card', /Your TDS pen.*No pen yet\? Choose Later/);
    await press(page, 'Later');
    await says(page, '.start-form-card h2', /The water you mix with/);
    await press(page, 'Keep, and go on');
    await says(page, '.start-form-card h2', /Something to measure with/);
    await field(page, 'Drops to make 1 mL', '20');
    await press(page, 'Keep, and go on');
    await says(page, '.start-form-card h2', /What you mix in/);
    await field(page, 'Holds, L', '2');
    await press(page, 'Keep, and go on');
    await says(page, '.start-form-card h2', /Your feed/);
    await field(page, 'What you call it', 'Green bottle');
    await field(page, 'Amount', '5');
    await field(page, 'in water, L', '4');
    await says(page, '.recipe-fields', /1\.25 mL a litre, as the label says/);
    await press(page, 'Keep, and go on');
    await says(page, '.start-form-card h2', /Where your pots stand/);
    await field(page, 'Places, one on a line', 'Kitchen sill');
    await press(page, 'Keep, and go on');
    await says(page, '.start-form-card h2', /How you feed them/);
    await press(page, 'Keep, and go on');
    await says(page, '.start-form-card h2', /Your pots/);
    await paste(page, 'The list', 'Code\tPlant\tPlace\tReservoir\nH-1\tHoya\tKitchen sill\t250 mL');
    await press(page, 'Add 1 pot');
    await says(page, '.start-form-card', /Ready for the first round/);
    await press(page, 'To the round');
    await says(page, '.round header', /1 pot due/);
    expect(on.complaints.filter(unexpected)).toEqual([]);
  });
  it('a mix is measured out by its label, and nothing asks for a pen', async () => {
    await page.goto(`${on.server.url}/round`);
    await page.waitForSelector('.mixes');
    // How much to read is no question where nothing can be read.
    expect(await page.$('.how-much')).toBeNull();
    await press(page, 'Make at bench');
    await says(page, '.start-form', /The label gives 1\.25 mL a litre/);
    await axeClean(page);
    await press(page, 'Measure it out next');
    await says(page, '.now', /Add/);
    await axeClean(page);
    await press(page, 'It is in, stirred');
    await says(page, '.now', /0\.4\u00a0L.*not measured/);
    await press(page, 'Ready to pour, to the round');
    await says(page, 'h1', /round/);
    const [batch] = on.rows<Record<string, unknown>>(
      'SELECT ppmMeterId, phMeterId, status, pouredEcUsCm, pouredPh FROM batch',
    );
    expect(batch).toEqual({ ppmMeterId: null, phMeterId: null, status: 'poured', pouredEcUsCm: null, pouredPh: null });
    await press(page, 'Log as planned, next pot');
    await says(page, '.toast', /H-1 filled/);
    // It is foretold by the measure that went in, not as the water alone.
    const { id } = on.rows<{ id: string }>('SELECT id FROM pot')[0]!;
    await page.goto(`${on.server.url}/pots/${id}`);
    const said = await says(page, '.next-flush', /It stands at about \d+, feed \d+\. Why this much: 3 × the reservoir/);
    expect(Number(/about (\d+)/.exec(said)![1])).toBeGreaterThan(40);
    expect(on.complaints.filter(unexpected)).toEqual([]);
  });
  it('the first pen joins without a break', async () => {
    await page.goto(`${on.server.url}/start`);
    await tap(page, '.start-steps li:first-child button');
    await press(page, 'Keep, and go on');
    await says(page, 'header', /8 of 8 done/);
    await page.goto(`${on.server.url}/bench/new`);
    await says(page, '.start-form', /TDS pen/);
    await press(page, 'Read the water next');
    await says(page, '.now', /Read the plain/);
    await keep(page, '9');
    await says(page, '.now', /Portion 1/);
    expect(on.complaints.filter(unexpected)).toEqual([]);
  });
});
