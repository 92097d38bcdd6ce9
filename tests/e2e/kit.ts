import { Sqlite } from '../../src/server/database/sqlite.ts';
import { cpSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import puppeteer, { type Browser, type ClickOptions, type Page } from 'puppeteer-core';
import { expect, inject } from 'vitest';
import { NOW, startServer, type RunningServer } from './server.ts';

const AXE = readFileSync(createRequire(import.meta.url).resolve('axe-core/axe.min.js'), 'utf8');
/** A busy machine is slow, not wrong. While writing a test, shorter patience shows a mistake sooner. */
export const PATIENCE_MS = Number(process.env['FRUGAL_SIP_PATIENCE'] ?? 60_000);
const CHROMIUM = process.env['FRUGAL_SIP_CHROMIUM'] ?? '/usr/bin/chromium';
const FLAGS = [
  '--headless',
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
];

export type Stage = {
  browser: Browser;
  /** Another device: a browser of its own, closed with the stage. */
  device(...flags: string[]): Promise<Browser>;
  server: RunningServer;
  /** A fresh page; what it writes to its console as an error fails the test that asks `complaints`. */
  open(path: string, size?: { width: number; height: number }): Promise<Page>;
  complaints: string[];
  rows<T>(sql: string, ...params: unknown[]): T[];
  restart(): Promise<void>;
  close(): Promise<void>;
};

/** Real server, real browser, temporary database. */
export async function stage({ demo = true } = {}): Promise<Stage> {
  const folder = mkdtempSync(join(tmpdir(), 'frugal-sip-e2e-'));
  if (demo) cpSync(inject('demoFolder'), folder, { recursive: true });
  const profile = mkdtempSync(join(tmpdir(), 'frugal-sip-profile-'));
  const launch = (userDataDir: string, more: readonly string[] = []) =>
    puppeteer.launch({ executablePath: CHROMIUM, args: [...FLAGS, ...more], userDataDir });
  const browser = await launch(profile);
  const others: { browser: Browser; profile: string }[] = [];
  const complaints: string[] = [];
  const began = Date.now();
  const self: Stage = {
    browser,
    server: await startServer({ folder, demo }),
    complaints,
    async device(...flags) {
      const home = mkdtempSync(join(tmpdir(), 'frugal-sip-profile-'));
      const other = await launch(home, flags);
      others.push({ browser: other, profile: home });
      return other;
    },
    async open(path, size = { width: 1280, height: 800 }) {
      const page = await browser.newPage();
      page.setDefaultTimeout(PATIENCE_MS);
      await page.setViewport(size);
      page.on('pageerror', (error) => complaints.push(String(error)));
      page.on('console', (message) => message.type() === 'error' && complaints.push(message.text()));
      await page.goto(`${self.server.url}${path}`, { waitUntil: 'load' });
      await page.waitForSelector('main h1');
      await lettersIn(page);
      return page;
    },
    rows<T>(sql: string, ...params: unknown[]) {
      const file = new Sqlite(join(folder, demo ? 'demo.sqlite' : 'collection.sqlite'), { readonly: true });
      try {
        return file.prepare(sql).all(...params) as T[];
      } finally {
        file.close();
      }
    },
    async restart() {
      // The pinned clock goes on where it stood, as a real one does.
      const now = new Date(Date.parse(NOW) + Date.now() - began).toISOString();
      self.server = await startServer({ folder, demo, port: self.server.port, env: { FRUGAL_SIP_NOW: now } });
    },
    async close() {
      for (const other of [browser, ...others.map((o) => o.browser)]) await other.close();
      await self.server.stop();
      for (const path of [folder, profile, ...others.map((o) => o.profile)])
        rmSync(path, { recursive: true, force: true });
    },
  };
  return self;
}

/** Waits until the page's letters are there: until then lines move, and a press may come down beside what it was for. */
export const lettersIn = (page: Page) => page.evaluate(() => document.fonts.ready.then(() => undefined));

/** A refusal that a test provoked is told by the browser's console too; anything else there is a fault. */
export const unexpected = (complaint: string) => !/Failed to load resource/.test(complaint);

/** Waits until the page's text matches; what it said instead is told where it never does. */
export async function says(page: Page, selector: string, pattern: RegExp): Promise<string> {
  const textOf = (s: string) => [...document.querySelectorAll(s)].map((e) => e.textContent ?? '').join(' ¦ ');
  const waited = page.waitForFunction(
    (s, source, flags) => {
      const text = [...document.querySelectorAll(s)].map((e) => e.textContent ?? '').join(' ¦ ');
      return new RegExp(source, flags).test(text) ? text : false;
    },
    { timeout: PATIENCE_MS },
    selector,
    pattern.source,
    pattern.flags,
  );
  try {
    return (await (await waited).jsonValue()) as string;
  } catch (cause) {
    const said = await page.evaluate(textOf, selector).catch((error: unknown) => `nothing: ${String(error)}`);
    throw new Error(`${selector} never matched ${pattern}. At ${page.url()} it said: ${said.slice(0, SAID_MOST)}`, {
      cause,
    });
  }
}
const SAID_MOST = 600;

/** Types into the field with this label, over what stands there. */
export async function field(page: Page, label: string, text: string): Promise<void> {
  const input = await page.waitForSelector(`::-p-aria([name="${label}"])`);
  if (!input) throw new Error(`no field ${label}`);
  await input.evaluate((e) => (e as HTMLInputElement).select());
  await input.focus();
  await page.keyboard.press('Backspace');
  for (const [i, line] of text.split('\n').entries()) {
    if (i > 0) await page.keyboard.press('Enter');
    await page.keyboard.type(line);
  }
}

/** Puts a text into a field as a paste does: at once. */
export async function paste(page: Page, label: string, text: string): Promise<void> {
  const input = await page.waitForSelector(`::-p-aria([name="${label}"])`);
  if (!input) throw new Error(`no field ${label}`);
  await input.evaluate((element, value) => {
    const { prototype } = element instanceof HTMLTextAreaElement ? HTMLTextAreaElement : HTMLInputElement;
    Object.getOwnPropertyDescriptor(prototype, 'value')?.set?.call(element, value);
    element.dispatchEvent(new Event('input', { bubbles: true }));
  }, text);
}

/**
 * Presses what a selector finds, once it stands still: what has just come may still be moving, and a press at where it was a moment ago goes astray.
 * @throws Error where the press came down on something else, with what that was
 */
export async function tap(page: Page, selector: string, options: Readonly<ClickOptions> = {}): Promise<void> {
  const target = await page.waitForSelector(selector, { visible: true });
  const heard = await target!.evaluateHandle((element) => {
    const heard = { down: '', hit: false };
    const hear = (event: Event) => {
      const on = event.target as Element;
      // A label's press is its field's; any other thing around it is a miss.
      heard.hit = element.contains(on) || (on.contains(element) && on.closest('label') !== null);
      heard.down = `${on.tagName} ${on.className} ${(on.textContent ?? '').slice(0, 80)}`;
    };
    addEventListener('pointerdown', hear, { capture: true, once: true });
    return heard;
  });
  await page.locator(selector).setVisibility('visible').click(options);
  // Where the press has led to another document, nothing is left to ask.
  const { down, hit } = await heard.jsonValue().catch(() => ({ down: '', hit: true }));
  if (!hit) throw new Error(`A press on ${selector} came down on ${down || 'nothing'}`);
}

/** Presses the button or link with these words, within a part of the page where they stand more than once. */
export async function press(page: Page, words: string, within = ''): Promise<void> {
  const selector =
    `${within} ::-p-xpath(${within ? './/' : '//'}*[self::button or self::a or self::summary][normalize-space(translate(., "\u00a0", " "))="${words}" or starts-with(normalize-space(translate(., "\u00a0", " ")), "${words} ")])`.trim();
  const handle = await page.waitForSelector(selector, { visible: true });
  if (!handle) throw new Error(`nothing says ${words}`);
  await handle.evaluate((e) => e.scrollIntoView({ block: 'center' }));
  await tap(page, selector);
}

/** Types into the one field of the now card and keeps it. */
export async function keep(page: Page, text: string): Promise<void> {
  await page.waitForSelector('.now .read input');
  await page.focus('.now .read input');
  await page.keyboard.type(text);
  await page.keyboard.press('Enter');
}

/** Dips the simulated pen with P, waits until it stands still, and keeps what it shows. @returns what it showed */
export async function dipAndKeep(page: Page): Promise<string> {
  await page.waitForSelector('.now .read input');
  const before = await page.$eval('.now', (e) => e.textContent);
  await page.keyboard.press('p');
  await page.waitForFunction(() => {
    const input = document.querySelector<HTMLInputElement>('.now .read input');
    return (
      input !== null &&
      input.value !== '' &&
      !document.querySelector('.now .read.dipping') &&
      !document.querySelector<HTMLButtonElement>('.now .read button')?.disabled
    );
  });
  const shown = await page.$eval('.now .read input', (e) => e.value);
  await page.keyboard.press('Enter');
  await page.waitForFunction(
    (old) =>
      document.querySelector('.now')?.textContent !== old &&
      !document.querySelector<HTMLInputElement>('.now .read input')?.value,
    {},
    before,
  );
  return shown;
}

/** Nothing that axe can find, in this view as it stands. Contrast takes it most of its time: left out where the same colours were looked at already. */
export async function axeClean(page: Page, { contrast = true } = {}): Promise<void> {
  // Sent once a page, and asked for what is wrong only: telling all that is right took most of its time.
  if (!(await page.evaluate(() => 'axe' in window))) await page.evaluate(AXE);
  // As it stands, not on its way there: half a change of colour has a contrast of its own. What never ends (a clock's beat) is no such change.
  await page.waitForFunction(() =>
    document
      .getAnimations()
      .every((a) => a.playState !== 'running' || a.effect?.getComputedTiming().endTime === Infinity),
  );
  const found = await page.evaluate(async (enabled) => {
    const { axe } = window as unknown as {
      axe: {
        run(
          options: object,
        ): Promise<{ violations: { id: string; nodes: { html: string; failureSummary: string }[] }[] }>;
      };
    };
    const { violations } = await axe.run({ resultTypes: ['violations'], rules: { 'color-contrast': { enabled } } });
    return violations.map(
      (v) => `${v.id}: ${v.nodes.map((n) => `${n.html.slice(0, 160)} ${n.failureSummary}`).join(' | ')}`,
    );
  }, contrast);
  expect(found).toEqual([]);
}

/** Logs the pot in hand on the round with nothing made: without its soak, of a mix nobody measured, or plain water as planned. */
export async function logWithout(page: Page): Promise<void> {
  await page.waitForSelector('[data-log]');
  if (await page.$('.soak-now')) await press(page, 'or flush and fill without it; it stays due');
  await page.waitForSelector('.pot-card .steps [name=left]');
  await press(
    page,
    (await page.$('.unmeasured')) ? 'or log it with a mix that was not measured' : 'Log as planned, next pot',
  );
}

/** The same, and waits for the next pot. @returns the code of the one logged */
export async function logNext(page: Page): Promise<string | null> {
  const code = await page.$eval('.shelf-pot[aria-pressed=true]', (e) => e.getAttribute('data-pot'));
  await logWithout(page);
  await page.waitForFunction(
    (c) => document.querySelector('.shelf-pot[aria-pressed=true]')?.getAttribute('data-pot') !== c,
    {},
    code,
  );
  return code;
}

/** Pots filled on the pinned day and standing, in the order they were logged. */
export function fillsOf(on: Stage): string[] {
  return on
    .rows<{ code: string }>(
      `SELECT p.code FROM care_event e JOIN pot p ON p.id = e.potId WHERE e.localDate = '2026-11-25' AND e.kind = 'potFilled' AND e.voidedBy IS NULL ORDER BY e.seq`,
    )
    .map((r) => r.code);
}
