import { readdirSync } from 'node:fs';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { newlyStarted, serverKit, testId, type Kit } from '../../../../tests/server-kit.ts';
import type { SheetPlanWire, SheetState } from '../../../contract/sheet.ts';
import type { Problem } from '../../../contract/errors.ts';

const FOUR_WEEKS = 4;
let kit: Kit;
let plan: SheetPlanWire;
beforeEach(async () => {
  process.env['FRUGAL_SIP_REQUESTS'] = '1000000';
  kit = await serverKit(FOUR_WEEKS);
  const one = async (sql: string) => (await kit.rows<{ id: string }>(sql))[0]!.id;
  plan = {
    what: 'waterings',
    separator: 'semicolon',
    head: true,
    columns: ['day', 'pot', 'outStrength', 'outPh', 'inStrength', 'inPh', 'poured', 'note'],
    dayForm: 'dayFirst',
    mark: 'comma',
    strength: { as: 'mS/cm' },
    volume: 'mL',
    potId: null,
    pots: {},
    ppmMeterId: await one(`SELECT id FROM meter WHERE quantity = 'ppm' AND unit = 'ppm' ORDER BY position`),
    phMeterId: await one(`SELECT id FROM meter WHERE quantity = 'pH' ORDER BY position`),
    waterId: await one(`SELECT id FROM water WHERE kind = 'still'`),
    waterEcUsCm: 20,
    aboutEcUsCm: null,
    aboutPh: null,
    productId: await one(`SELECT id FROM product WHERE kind = 'feed' AND retiredOn IS NULL ORDER BY position`),
    flushWaterId: null,
    usualPour: false,
    lastOfDay: false,
    mended: {},
  };
}, 60_000);
afterEach(() => kit.close());

const HEAD = 'Datum;Pot;EC out;pH out;EC in;pH in;mL;Note';
/** Two years, every tenth day, of some pots. */
function twoYears(codes: readonly string[], upTo = '2026-10-20'): string[] {
  const lines: string[] = [];
  for (let n = 0; n < 73; n++) {
    const day = new Date(Date.parse(upTo) - n * 10 * 86_400_000);
    const written = `${day.getUTCDate()}.${day.getUTCMonth() + 1}.${day.getUTCFullYear()}`;
    for (const [i, code] of codes.entries())
      lines.push(
        `${written};${code};0,${30 + ((n * 7 + i) % 9)};6,${2 + ((n + i) % 5)};0,21;5,8;160;${n === 3 ? 'new leaf' : ''}`,
      );
  }
  return lines;
}
const table = (lines: readonly string[]) => [HEAD, ...lines].join('\r\n');

async function send(text: string | Buffer, name = 'old notes.csv'): Promise<SheetState> {
  const answer = await kit.app.inject({
    method: 'POST',
    url: `/api/book/bring-table?name=${encodeURIComponent(name)}`,
    headers: { host: '127.0.0.1:4180', 'content-type': 'application/octet-stream' },
    payload: text,
  });
  expect(answer.statusCode, answer.body).toBe(200);
  return answer.json<SheetState>();
}
async function readAs(sent: SheetState, how: SheetPlanWire = plan): Promise<SheetState> {
  const begun = await kit.call<SheetState>('POST', `/api/book/bring-table/${sent.id}/read`, how);
  expect(begun.status, JSON.stringify(begun.body)).toBe(200);
  let state = begun.body;
  while (state.state === 'reading') {
    state = (await kit.call<SheetState>('GET', `/api/book/bring-table/${sent.id}`)).body;
    await new Promise((resolve) => setImmediate(resolve));
  }
  return state;
}
const keep = async ({ id }: SheetState) =>
  (await kit.call<SheetState>('POST', `/api/book/bring-table/${id}/keep`)).body;
const standing = async () =>
  (
    await kit.rows<{ n: number }>(`SELECT count(*) AS n FROM care_event WHERE kind = 'potFilled' AND voidedBy IS NULL`)
  )[0]!.n;
const idOf = async (code: string) =>
  (await kit.rows<{ id: string }>(`SELECT id FROM pot WHERE code = '${code}'`))[0]!.id;

describe('two years out of a spreadsheet', () => {
  it('are told first, then come in as one act; forecasts stand on them; one undo takes them all back, another puts them back', async () => {
    const before = await standing();
    const pot = await idOf('R-02');
    const drift = () => kit.call('GET', `/api/drift/pots/${pot}`);
    const page = () => kit.call<{ visits: { fills: unknown[] } }>('GET', `/api/pots/${pot}`);
    const [driftBefore, potsBefore] = [await drift(), await kit.call('GET', '/api/pots')];
    const read = await readAs(await send(table(twoYears(['R-02', 'R-03', 'L-01']))));
    expect(read.state, JSON.stringify(read)).toBe('ready');
    expect(read.report).toMatchObject({
      waterings: 219,
      readings: 0,
      notes: 3,
      pots: 3,
      from: '2024-10-30',
      to: '2026-10-20',
      wrong: 0,
    });
    expect(await standing()).toBe(before);
    const kept = await keep(read);
    expect(kept).toMatchObject({ state: 'kept', actId: read.actId });
    expect(await standing()).toBe(before + 219);
    // Kept on the pen's own scale, with what was told of the mix, and nobody claims to know when it was due.
    const [line] = await kit.rows<{ payload: string; at: string }>(
      `SELECT payload, at FROM care_event WHERE potId = ? AND localDate = '2026-10-20'`,
      [pot],
    );
    expect(JSON.parse(line!.payload)).toMatchObject({
      brought: true,
      pouredMl: 160,
      oldReservoir: { ppm: { kind: 'value', value: 150 }, ph: { kind: 'value', value: 6.2 } },
      told: { ppm: { kind: 'value', value: 105 }, ph: { kind: 'value', value: 5.8 } },
    });
    const after = await drift();
    expect(after.body).not.toEqual(driftBefore.body);
    const [days] = [(await kit.call<{ days: { on: string }[] }>('GET', '/api/book/days')).body.days];
    expect(days.length).toBeGreaterThan(0);
    // A server newly started says the same of it.
    const fresh = await newlyStarted(kit);
    for (const path of [
      '/api/pots',
      '/api/round',
      '/api/drift',
      `/api/drift/pots/${pot}`,
      `/api/pots/${pot}`,
      '/api/book/turns',
    ])
      expect((await fresh.call('GET', path)).body, path).toEqual((await kit.call('GET', path)).body);
    await fresh.close();

    const undo = testId();
    const taken = await kit.call<{ words: string }>('PUT', `/api/book/undos/${undo}`, { targetId: kept.actId });
    expect(taken.body).toMatchObject({ words: 'Took records brought in back' });
    expect(await standing()).toBe(before);
    expect((await drift()).body).toEqual(driftBefore.body);
    expect((await kit.call('GET', '/api/pots')).body).toEqual(potsBefore.body);
    await kit.call('PUT', `/api/book/undos/${testId()}`, { targetId: undo });
    expect(await standing()).toBe(before + 219);
    expect((await drift()).body).toEqual(after.body);
    expect((await page()).status).toBe(200);
  }, 60_000);

  it('brought twice are not doubled; taken back they can come again', async () => {
    const text = table(twoYears(['R-02']));
    const kept = await keep(await readAs(await send(text)));
    const count = await standing();
    const again = await readAs(await send(text));
    expect(again).toMatchObject({ state: 'refused', report: { waterings: 0, here: 73 } });
    expect(await standing()).toBe(count);
    await kit.call('PUT', `/api/book/undos/${testId()}`, { targetId: kept.actId });
    expect(await readAs(await send(text))).toMatchObject({ state: 'ready', report: { waterings: 73, here: 0 } });
  }, 60_000);

  it('a line put right since keeps them from being taken back until that is', async () => {
    const kept = await keep(await readAs(await send(table(twoYears(['R-02'])))));
    const [line] = await kit.rows<{ id: string; payload: string }>(
      `SELECT id, payload FROM care_event WHERE localDate = '2026-10-20' AND kind = 'potFilled'`,
    );
    const right = testId();
    const corrected = await kit.call('PUT', `/api/book/corrections/${right}`, {
      targetId: line!.id,
      payload: { ...(JSON.parse(line!.payload) as object), pouredMl: 150 },
    });
    expect(corrected.status, JSON.stringify(corrected.body)).toBe(200);
    const undo = () => kit.call<Problem>('PUT', `/api/book/undos/${testId()}`, { targetId: kept.actId });
    expect((await undo()).body.detail).toBe('1 of its lines was put right since. Take that back first.');
    await kit.call('PUT', `/api/book/undos/${testId()}`, { targetId: right });
    expect((await undo()).status).toBe(200);
  }, 60_000);

  it('wrong lines are told where they are wrong, mended by hand or left; nothing of them is guessed', async () => {
    const sent = await send(
      table([
        '3.5.2026;R-02;0,31;6,2;0,21;5,8;160;',
        '2026-05-13;R-02;0,31;6,2;0,21;5,8;160;',
        '23.5.2026;R-02;0.31;6,2;0,21;5,8;160;',
        '24.5.2026;Nobody;0,31;6,2;0,21;5,8;160;',
        '3.5.2026;R-02;0,30;6,2;0,21;5,8;160;',
        '2.6.2027;R-02;0,30;6,2;0,21;5,8;160;',
        '4.6.2026;R-02;0,30;6,2;0,21;5,8;16000;',
        '5.6.2026;R-02;=1+1;6,2;0,21;5,8;160;',
      ]),
    );
    const read = await readAs(sent);
    expect(read.report).toMatchObject({ waterings: 1, wrong: 6, strangers: [{ name: 'Nobody', lines: 1 }] });
    expect(read.report!.wrongLines.map(({ line, problems }) => [line, problems[0]!.message])).toEqual([
      [3, '"2026-05-13" is no day as the others are: 3/5/2024, the day first'],
      [4, '"0.31" is no figure with a comma for decimals'],
      [6, 'line 2 is a watering of R-02 on that day too'],
      [7, 'that day has not come'],
      [8, expect.stringMatching(/^16.L do not go into R-02/)],
      [9, '"=1+1" is no figure with a comma for decimals'],
    ]);
    const mended = await readAs(sent, {
      ...plan,
      pots: { nobody: await idOf('R-03') },
      mended: { 4: ['23.5.2026', 'R-02', '0,31', '6,2', '0,21', '5,8', '160', ''] },
    });
    expect(mended.report).toMatchObject({ waterings: 3, wrong: 5, strangers: [] });
    expect(await readAs(sent, { ...plan, pots: { nobody: null } })).toMatchObject({
      report: { waterings: 1, leftOut: 1, strangers: [] },
    });
  }, 60_000);

  it('readings alone of what came out: with what was poured as far as remembered Drift stands on them, and it is nowhere shown as read', async () => {
    const lines = twoYears(['R-02']).map((line) => line.split(';').slice(0, 4).join(';'));
    const how: SheetPlanWire = {
      ...plan,
      columns: ['day', 'pot', 'outStrength', 'outPh'],
      volume: null,
      usualPour: true,
    };
    const pot = await idOf('R-02');
    const learned = async (change: Partial<SheetPlanWire>) => {
      const kept = await keep(
        await readAs(await send(['Datum;Pot;EC;pH', ...lines].join('\n')), { ...how, ...change }),
      );
      expect(kept.state).toBe('kept');
      const drift = (await kit.call('GET', `/api/drift/pots/${pot}`)).body;
      const fillings = await kit.app.inject({ url: '/api/book/tables/fillings.csv', headers: { host: 'localhost' } });
      await kit.call('PUT', `/api/book/undos/${testId()}`, { targetId: kept.actId });
      return {
        drift,
        line: fillings.body.split('\r\n').find((row) => row.includes('2026-10-20') && row.includes('R-02'))!,
      };
    };
    const unknown = await learned({ waterId: null, productId: null });
    const remembered = await learned({ aboutEcUsCm: 210, aboutPh: 5.8 });
    expect(remembered.drift).not.toEqual(unknown.drift);
    // Day, time, pot …: what the mix read is empty in both.
    expect(remembered.line.split(',').slice(9, 12)).toEqual(['', '', '']);
  }, 60_000);
  it('a logger that reads the same again and again keeps each of its readings, once', async () => {
    const lines = Array.from({ length: 6 }, (_, n) => `2026-10-0${1 + (n % 2)}T0${n}:00:00Z,140,6.1`);
    const sent = await send(['time,ppm,pH', ...lines].join('\n'), 'logger.csv');
    const how: SheetPlanWire = {
      ...plan,
      ...{
        what: 'readings',
        separator: 'comma',
        columns: ['day', 'outStrength', 'outPh'],
        dayForm: 'iso',
        mark: 'point',
      },
      ...{ strength: { as: 'ppm', scale: 0.5 }, potId: await idOf('R-02'), waterId: null, productId: null },
    };
    const kept = await keep(await readAs(sent, how));
    expect(kept.report).toMatchObject({ readings: 6, here: 0 });
    expect(await readAs(await send(['time,ppm,pH', ...lines].join('\n')), how)).toMatchObject({
      report: { readings: 0, here: 6 },
    });
  }, 60_000);
  it('a logger’s file: of many readings a day the last, by its instants, with the water’s temperature', async () => {
    const lines = Array.from({ length: 300 }, (_, n) => {
      const at = new Date(Date.UTC(2026, 9, 1) + n * 3_600_000).toISOString();
      return `${at},${140 + (n % 24)},${(6 + (n % 10) / 20).toFixed(2)},${19 + (n % 5)}`;
    });
    const sent = await send(['time,ppm,pH,water °C', ...lines].join('\n'), 'logger.csv');
    const how: SheetPlanWire = {
      ...plan,
      ...{
        what: 'readings',
        separator: 'comma',
        columns: ['day', 'outStrength', 'outPh', 'temperature'],
        dayForm: 'iso',
        mark: 'point',
      },
      ...{
        strength: { as: 'ppm', scale: 0.5 },
        potId: await idOf('R-02'),
        lastOfDay: true,
        waterId: null,
        productId: null,
      },
    };
    const read = await readAs(sent, how);
    expect(read.report).toMatchObject({ readings: 13, passedBy: 287, pots: 1, wrong: 0 });
    await keep(read);
    const [last] = await kit.rows<{ payload: string }>(
      `SELECT payload FROM care_event WHERE kind = 'potReread' AND localDate = '2026-10-12'`,
    );
    expect(JSON.parse(last!.payload)).toMatchObject({ temperatureC: expect.any(Number) as number });
  }, 60_000);
});

describe('what cannot be brought in', () => {
  it('says why, at the field where it is asked, and changes nothing', async () => {
    const sent = await send(table(['3.5.2026;R-02;0,31;6,2;0,21;5,8;160;']));
    const refused = async (change: Partial<SheetPlanWire>) =>
      (
        await kit.call<Problem>('POST', `/api/book/bring-table/${sent.id}/read`, { ...plan, ...change })
      ).body.errors?.map((e) => e.path);
    expect(await refused({ strength: null })).toEqual(['strength']);
    expect(await refused({ volume: null, waterId: null })).toEqual(['volume', 'waterId']);
    expect(await refused({ columns: ['pot', 'outPh'] })).toEqual(['columns']);
    expect(await refused({ columns: ['day', 'outPh'] })).toEqual(['potId']);
    expect(await refused({ columns: ['day', 'pot', 'outPh', 'outPh'] })).toEqual(['columns']);
  });
  it.each([
    ['a spreadsheet program’s own file', Buffer.from([0x50, 0x4b, 3, 4, 0, 0]), /Save its sheet as CSV/],
    ['nothing', Buffer.from('  \n'), /nothing in that file/],
    ['no text', Buffer.from([1, 0, 2, 0, 3]), /no text/],
    ['a million columns', Buffer.from(`a;b\n${';'.repeat(1_000_000)}x`), /has 1,000,001 columns/],
  ])('%s', async (_what, file, words) => {
    const read = await readAs(await send(file));
    expect(read.state).toBe('refused');
    expect(read.words).toMatch(words);
  });
  it('older letters and UTF-16 are read; a quotation mark left open is told at its line', async () => {
    const text = table(['3.5.2026;R-02;0,31;6,2;0,21;5,8;160;größer']);
    expect((await readAs(await send(Buffer.from(text, 'latin1')))).report).toMatchObject({ waterings: 1, notes: 1 });
    expect((await readAs(await send(Buffer.from(`\ufeff${text}`, 'utf16le')))).report).toMatchObject({ waterings: 1 });
    const open = await readAs(
      await send(table(['3.5.2026;R-02;0,31;6,2;0,21;5,8;160;ok', '13.5.2026;"R-02;0,31;6,2;0,21;5,8;160;'])),
    );
    expect(open.report!.wrongLines[0]!.problems[0]!.message).toMatch(/quotation mark in it is not closed/);
  });
  it('stopped half way leaves no trace; another file waits until it is', async () => {
    const sent = await send(table(twoYears(['R-02', 'R-03', 'L-01', 'L-02'])));
    const before = await standing();
    await kit.call('POST', `/api/book/bring-table/${sent.id}/read`, plan);
    const stopped = await kit.call<SheetState>('POST', `/api/book/bring-table/${sent.id}/stop`);
    expect(stopped.body.state).toBe('stopped');
    expect(await standing()).toBe(before);
    expect(readdirSync(kit.folder).filter((name) => name.includes('.bring-'))).toEqual([]);
    expect((await kit.call<Problem>('POST', `/api/book/bring-table/${sent.id}/keep`)).status).toBe(404);
  });
  it('what was logged between the telling and the keeping is not lost', async () => {
    const read = await readAs(await send(table(twoYears(['R-02']))));
    await kit.call('PUT', `/api/book/notes/${testId()}`, {
      words: 'moved the lamps up',
      potIds: [],
      on: '2026-11-25',
      image: null,
    });
    expect((await keep(read)).state).toBe('kept');
    expect(
      await kit.rows(`SELECT id FROM care_event WHERE kind = 'noteWritten' AND payload LIKE '%moved the lamps up%'`),
    ).toHaveLength(1);
  });
});
