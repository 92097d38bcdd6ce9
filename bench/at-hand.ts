/**
 * How it feels with 500 pots and three years of history, in a real browser: frames while Round and Pots scroll, and the time from Enter
 * (log as planned) to the next pot being painted. Prints medians, 95th percentiles and frames over a sixtieth.
 */
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import puppeteer, { type Page } from 'puppeteer-core';
import { quantile } from 'simple-statistics';
import { makeDemo } from '../src/demo/make-demo.ts';
import { openDatabase } from '../src/server/database/open.ts';
import { startServer } from '../tests/e2e/server.ts';

const folder = mkdtempSync(join(tmpdir(), 'frugal-sip-bench-'));
const database = await openDatabase(join(folder, 'demo.sqlite'));
await database.write.run((manager) => makeDemo(manager, { today: '2026-11-25', copies: 12, weeks: 156 }));
await database.close();
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
const open = async (path: string, selector: string): Promise<Page> => {
  const page = await browser.newPage();
  await page.setViewport({ width: 1280, height: 800 });
  await page.goto(`${server.url}${path}`, { waitUntil: 'load' });
  await page.waitForSelector(selector);
  return page;
};

/** Scrolls an element by so many pixels a frame for two seconds, and keeps how long each frame took. Text: the runner's helpers are not there. */
const scroll = (selector: string, x: number, y: number) => `new Promise((resolve) => {
  const element = document.querySelector(${JSON.stringify(selector)});
  const frames = [];
  let last;
  const step = (now) => {
    if (last !== undefined) frames.push(now - last);
    last = now;
    element.scrollBy(${x}, ${y});
    if (frames.length < 120) requestAnimationFrame(step);
    else resolve(frames);
  };
  requestAnimationFrame(step);
})`;
const show = (name: string, ms: number[], allowed: number) =>
  console.log(
    `${name.padEnd(34)} median ${quantile(ms, 0.5).toFixed(1)} ms · p95 ${quantile(ms, 0.95).toFixed(1)} ms · over ${allowed} ms: ${ms.filter((m) => m > allowed).length} of ${ms.length}`,
  );

for (const [name, path, selector, x, y] of [
  ['Pots, table, frames', '/pots?view=table', '.pot-table', 0, 90],
  ['Pots, shelf sideways, frames', '/pots?view=shelves', '.board', 40, 0],
  ['Round, shelf sideways, frames', '/round', '.board', 40, 0],
  ['Book, frames', '/book', '.log-scroll', 0, 90],
] as const) {
  const page = await open(path, selector);
  show(name, (await page.evaluate(scroll(selector, x, y))) as number[], 17);
  await page.close();
}

const page = await open('/round', '.pot-card');
const LOG = `new Promise((resolve) => {
  const chosen = () => document.querySelector('.shelf-pot[aria-pressed=true]')?.getAttribute('data-pot');
  const before = chosen();
  const from = performance.now();
  const look = () => (chosen() !== before ? requestAnimationFrame(() => resolve(performance.now() - from)) : requestAnimationFrame(look));
  document.querySelector('.unmeasured').click();
  requestAnimationFrame(look);
})`;
const logs: number[] = [];
for (let i = 0; i < 25; i++) {
  logs.push((await page.evaluate(LOG)) as number);
  await page.waitForFunction(
    () => document.querySelector('.unmeasured') !== null && !document.querySelector('.unmeasured[aria-disabled=true]'),
  );
  await page.waitForNetworkIdle({ idleTime: 300, concurrency: 1 });
}
show('Enter to the next pot painted', logs, 100);
await browser.close();
await server.stop();
rmSync(folder, { recursive: true, force: true });
