/**
 * Round's first paint: a real browser opens the demo's round, seven times, with an empty cache. Prints the median first contentful paint,
 * the median time until the first pot's card stands, and their ratio to the allowance of one second.
 */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import puppeteer from 'puppeteer-core';
import { median } from 'simple-statistics';
import { startServer } from '../tests/e2e/server.ts';

const ALLOWED_MS = 1000;
/** Runs in the page, so it is text: the runner's helpers are not there. Marks the frame in which the first pot's card stands. */
const WATCH = `const watcher = new MutationObserver(() => {
  if (!document.querySelector('.pot-card')) return;
  watcher.disconnect();
  requestAnimationFrame(() => performance.mark('card'));
});
watcher.observe(document, { childList: true, subtree: true });`;
const folder = mkdtempSync(join(tmpdir(), 'frugal-sip-bench-'));
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
const paints: number[] = [];
const cards: number[] = [];
for (let i = 0; i < 7; i++) {
  const context = await browser.createBrowserContext();
  const page = await context.newPage();
  await page.setViewport({ width: 1280, height: 800 });
  // Watched from inside the page: waiting from outside would add the driver's own time.
  await page.evaluateOnNewDocument(WATCH);
  await page.goto(`${server.url}/round`, { waitUntil: 'load' });
  await page.waitForFunction(() => performance.getEntriesByName('card').length > 0);
  const [paint, card] = await page.evaluate(() =>
    ['first-contentful-paint', 'card'].map((name) => performance.getEntriesByName(name)[0]?.startTime ?? Number.NaN),
  );
  paints.push(paint!);
  cards.push(card!);
  if (process.env['DETAIL'])
    console.log(
      await page.evaluate(() =>
        performance
          .getEntriesByType('resource')
          .map(
            (e) =>
              `${e.name.split('/').pop()} ${e.startTime.toFixed(0)}–${(e as PerformanceResourceTiming).responseEnd.toFixed(0)}`,
          )
          .join('  '),
      ),
    );
  await context.close();
}
await browser.close();
await server.stop();
rmSync(folder, { recursive: true, force: true });
const show = (name: string, ms: number[]) =>
  console.log(
    `${name}: median ${median(ms).toFixed(0)} ms of ${ms.length}, ${(median(ms) / ALLOWED_MS).toFixed(2)} of the allowance`,
  );
show('first contentful paint', paints);
show('first pot’s card', cards);
