/** Makes docs/screenshots from a fresh demo, pinned to a Wednesday morning: npx tsx scripts/screenshots.ts (after npm run build). */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import puppeteer, { type Page } from 'puppeteer-core';
import { startServer } from '../tests/e2e/server.ts';

const OUT = join('docs', 'screenshots');
const folder = mkdtempSync(join(tmpdir(), 'frugal-sip-shots-'));
const server = await startServer({ folder, demo: true });
const browser = await puppeteer.launch({
  executablePath: process.env['FRUGAL_SIP_CHROMIUM'] ?? '/usr/bin/chromium',
  args: [
    '--headless',
    '--no-sandbox',
    '--disable-gpu',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
  ],
});
const page = await browser.newPage();

const go = async (path: string, ready: string) => {
  await page.goto(`${server.url}${path}`, { waitUntil: 'load' });
  await page.waitForSelector(ready);
  await page.evaluate(() => document.fonts.ready);
};
const shot = async (name: string) => {
  await page.evaluate(() =>
    document.querySelectorAll<HTMLElement>('.toast').forEach((t) => (t.style.display = 'none')),
  );
  await page.screenshot({ path: join(OUT, `${name}.png`) });
};
/** Keeps what the simulated pen shows. */
async function dip(on: Page): Promise<void> {
  await on.waitForSelector('.now .read input');
  const before = await on.$eval('.now', (e) => e.textContent);
  await on.keyboard.press('p');
  await on.waitForFunction(
    () =>
      document.querySelector<HTMLInputElement>('.now .read input')?.value && !document.querySelector('.now .dipping'),
  );
  await on.keyboard.press('Enter');
  await on.waitForFunction(
    (old) =>
      document.querySelector('.now')?.textContent !== old &&
      !document.querySelector<HTMLInputElement>('.now .read input')?.value,
    {},
    before,
  );
}

await page.setViewport({ width: 1280, height: 800 });
await go('/bench/new', '.start-form');
await page.select(
  '[name=waterId]',
  await page.$eval(
    '[name=waterId]',
    (e) => [...(e as HTMLSelectElement).options].find((o) => o.text === 'Rain butt')!.value,
  ),
);
await page.click('.start-form button[type=submit]');
await page.waitForSelector('.bench .now');
await dip(page);
// A first portion of one's own, so that the picture shows the coach going on from it.
await page.waitForSelector('.entry-keys');
await page.evaluate(() =>
  [...document.querySelectorAll<HTMLButtonElement>('.entry-keys button')]
    .find((b) => b.textContent?.includes('something else'))!
    .click(),
);
await page.type('#other-amount', '14');
await page.focus('.now .read input');
await dip(page);
await shot('bench');
await page.setViewport({ width: 390, height: 844 });
await shot('phone-bench');
await page.setViewport({ width: 1280, height: 800 });

await go('/bench/recipes', '.recipe-cards');
await go('/round', '.mix a');
await page.click('.mix a');
await page.waitForSelector('.start-form');
await page.click('.start-form button[type=submit]');
await page.waitForSelector('.bench .now');
await dip(page);
while (/Add/.test((await page.$eval('.now .say', (e) => e.textContent)) ?? '')) await dip(page);
// Typed, as by eye: the demo's pen is off, and would show it inside the window already.
await page.focus('.now .read input');
await page.keyboard.type('7.2');
await page.keyboard.press('Enter');
await page.waitForFunction(() => document.querySelector('.now .say')?.textContent?.includes('Add'));
await shot('bench-ph');
const say = async () => (await page.$eval('.now .say', (e) => e.textContent)) ?? '';
while (/Add/.test(await say())) await dip(page);
if (/No fourth/.test(await say())) await page.click('.now .btn-outline-light');
await page.waitForFunction(() => document.querySelector('.now .btn-clay')?.textContent?.includes('Ready to pour'));
await page.click('.now .btn-clay');
await page.waitForSelector('.pot-card button[type=submit]');
for (const code of ['R-05']) {
  await page.click(`[data-pot="${code}"]`);
  await page.waitForFunction(() => document.activeElement?.textContent?.includes('Log as planned'));
  await page.keyboard.press('Enter');
  await page.waitForFunction(
    (c) => document.querySelector(`[data-pot="${c}"] .tag`)?.textContent?.includes('done'),
    {},
    code,
  );
}
await page.click('[data-pot="R-07"]');
await page.waitForFunction(() => document.querySelector('.pot-card h2')?.textContent?.includes('Coelogyne'));
await shot('round');
await page.setViewport({ width: 390, height: 844 });
await page.$eval('[id=how-much-asked]', (e) => (e as HTMLElement).click());
await page.waitForSelector('.read-why');
await page.waitForFunction(() => !document.querySelector('.toast'));
await shot('phone-round');
await page.setViewport({ width: 1280, height: 800 });
await go('/pots', '.how-they-stand');
await shot('pots');
await page.click('.how-they-stand [data-pot="R-07"]');
await page.waitForSelector('.next-card');
await page.waitForSelector('.visit-figure path[stroke-dasharray="5 4"]');
await shot('pot');
await go('/pots/advice', '.advice-grid');
await shot('next');
await go('/pots/regimens/new?school=soaksInSeason', '.regimen-form');
const pushes = await page.evaluate(async () => {
  const { pots } = (await (await fetch('/api/drift')).json()) as { pots: { id: string; code: string }[] };
  return pots.find((p) => p.code === 'R-02')!.id;
});
await go(`/drift?pot=${pushes}`, '.path-figure');
await page.waitForSelector('.advice .acid');
await shot('drift');
await go('/drift/all', '.all-pots td small');
await shot('drift-all');
await go('/clay', '.clay-page .ways table');
await shot('clay');
await go('/shelf', '.strength-chart');
await shot('shelf');
await page.evaluate(() =>
  [...document.querySelectorAll<HTMLElement>('.shelf-thing')]
    .find((b) => b.textContent?.includes('Kitchen tap'))!
    .click(),
);
await page.waitForSelector('.blend-card');
await go('/book', '.beside-log .trial-picture');
await page.waitForSelector('.beside-log .looked-back li');
await page.waitForSelector('.turns-chart .turn-result b');
await shot('book');
await go('/book/turns', '.turns-chart .turn-result b');
await shot('turns');
await go('/book/schools', '.school-table .school-dots');
await shot('schools');
await go('/book/trials/new', '.pot-toggle');
for (const code of ['R-03', 'R-04', 'R-05', 'R-06', 'R-07', 'R-08', 'R-09', 'R-10'])
  await page.evaluate((wanted) => {
    [...document.querySelectorAll<HTMLButtonElement>('.pot-toggle')].find((b) => b.textContent === wanted)!.click();
  }, code);
await page.waitForSelector('.trial-plan .pairs');
await shot('trial');
await go('/book/phone', '.settings');
await page.type('.settings input', 'four plain garden words');
await page.click('.settings button[type=submit]');
await page.waitForSelector('.pairing');
await page.evaluate(() =>
  [...document.querySelectorAll('button')].find((b) => b.textContent === 'Show a code')!.click(),
);
await page.waitForSelector('.pairing .qr');
await page.evaluate(() =>
  [...document.querySelectorAll('button')].find((b) => b.textContent === 'Open a door with a lock')!.click(),
);
await page.waitForSelector('.fingerprint');
await page.waitForFunction(() => ![...document.querySelectorAll('button')].some((b) => b.disabled));
await shot('phone-in');
const own = await startServer({ folder: join(folder, 'own'), demo: false });
await page.goto(`${own.url}/start`, { waitUntil: 'load' });
await page.waitForSelector('.start-form-card');
await page.click('#scale-standard');
await page.type('.start-form-card .scale-fields input:not([type=radio])', '990');
await shot('start');
await own.stop();
await go('/season', '.season-picture');
await page.waitForFunction(() => !document.querySelector('.seeking'));
await shot('season');
await browser.close();
await server.stop();
rmSync(folder, { recursive: true, force: true });
