import AdmZip from 'adm-zip';
import { Ajv2020 } from 'ajv/dist/2020.js';
import addFormats from 'ajv-formats';
import { existsSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import Papa from 'papaparse';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { serverKit, testId, TODAY, type Kit } from '../../../../tests/server-kit.ts';
import type { BringState } from '../../../contract/whole.ts';
import { openDatabase } from '../../database/open.ts';
import type { BookPage } from '../../../contract/book.ts';

let kit: Kit;
let whole: string;
beforeAll(async () => {
  // How far it is read is asked again and again.
  process.env['FRUGAL_SIP_REQUESTS'] = '1000000';
  kit = await serverKit(6);
  const image = await sharp({ create: { width: 60, height: 40, channels: 3, background: '#2f6b45' } })
    .jpeg()
    .toBuffer();
  const [pot] = await kit.rows<{ id: string }>(`SELECT id FROM pot WHERE code = 'R-02'`);
  const note = { words: 'with a picture', potIds: [pot!.id], on: TODAY, image: image.toString('base64') };
  await kit.call('PUT', `/api/book/notes/${testId()}`, note);
  await kit.call('PUT', `/api/pots/${pot!.id}/photos/${testId()}`, { image: note.image });
  // A line put right, and one taken back, so that their places come along.
  const lines = await kit.rows<{ id: string; payload: string }>(
    `SELECT id, payload FROM care_event WHERE kind = 'potFilled' AND voidedBy IS NULL ORDER BY at DESC LIMIT 2`,
  );
  await kit.call('PUT', `/api/book/corrections/${testId()}`, {
    targetId: lines[0]!.id,
    payload: { ...(JSON.parse(lines[0]!.payload) as object), pouredMl: 123 },
  });
  await kit.call('PUT', `/api/book/undos/${testId()}`, { targetId: lines[1]!.id });
  whole = await textOf(kit, 'whole.json');
}, 120_000);
afterAll(() => kit.close());

const bytesOf = async (of: Kit, path: string) =>
  (await of.app.inject({ method: 'GET', url: `/api/book/${path}`, headers: { host: '127.0.0.1:4180' } })).rawPayload;
const textOf = async (of: Kit, path: string) => (await bytesOf(of, path)).toString('utf8');
const withoutTime = (text: string) => text.replace(/"madeAt":"[^"]*"/, '"madeAt":""');

async function send(to: Kit, file: string | Buffer): Promise<BringState> {
  const answer = await to.app.inject({
    method: 'POST',
    url: '/api/book/bring?name=mine',
    headers: { host: '127.0.0.1:4180', 'content-type': 'application/octet-stream' },
    payload: file,
  });
  expect(answer.statusCode, answer.body).toBe(200);
  return answer.json<BringState>();
}
async function read(to: Kit, file: string | Buffer): Promise<BringState> {
  let state = await send(to, file);
  while (state.state === 'reading') {
    state = (await to.call<BringState>('GET', `/api/book/bring/${state.id}`)).body;
    await new Promise((resolve) => setImmediate(resolve));
  }
  return state;
}
const keep = async (to: Kit, { id }: BringState) => to.call<BringState>('POST', `/api/book/bring/${id}/keep`);
const empty = () => serverKit(0);
const leftBehind = (of: Kit) => readdirSync(of.folder).filter((name) => name.includes('.bring-'));
/** The demo's answers that say the same wherever the collection stands. */
const ROOMS = ['/api/pots', '/api/round', '/api/shelf/room', '/api/drift', '/api/advice', '/api/season/year'];

describe('everything, out', () => {
  it('is JSON that answers to the schema that is published beside it', async () => {
    const schema = JSON.parse(await textOf(kit, 'whole.schema.json')) as object;
    const ajv = new Ajv2020({ strict: false, allErrors: true });
    (addFormats as unknown as (to: typeof ajv) => void)(ajv);
    const validate = ajv.compile(schema);
    const data = JSON.parse(whole) as {
      log: { payload: Record<string, unknown>; kind: string }[];
      tables: Record<string, unknown[]>;
    };
    expect(validate(data), JSON.stringify(validate.errors?.slice(0, 3))).toBe(true);
    expect(data.tables['pot']!.length).toBe(42);
    const [{ n }] = (await kit.rows<{ n: number }>('SELECT count(*) AS n FROM care_event')) as [{ n: number }];
    expect(data.log).toHaveLength(n);
    // A schema that lets everything by would be none.
    data.log.find(({ kind }) => kind === 'potFilled')!.payload['pouredMl'] = 'much';
    expect(validate(data)).toBe(false);
  });
  it('as JSON Lines: the log, a line each', async () => {
    const lines = (await textOf(kit, 'log.jsonl'))
      .trimEnd()
      .split('\n')
      .map((line) => JSON.parse(line) as object);
    expect(lines).toEqual((JSON.parse(whole) as { log: object[] }).log);
  });
  it('as a ZIP that another reader opens: the same JSON, the tables, the photos by speaking names', async () => {
    const zip = new AdmZip(await bytesOf(kit, 'whole.zip'));
    const names = zip.getEntries().map(({ entryName }) => entryName);
    expect(names.filter((name) => /^photos\/2026-11-25 R-02 [0-9a-f-]{36}\.jpg$/.test(name))).toHaveLength(2);
    for (const entry of zip.getEntries().filter(({ entryName }) => entryName.endsWith('.jpg')))
      expect((await sharp(entry.getData()).metadata()).format).toBe('jpeg');
    const json = JSON.parse(zip.readAsText('collection.json')) as { photos: { file: string }[]; log: unknown };
    expect(json.log).toEqual((JSON.parse(whole) as { log: unknown }).log);
    expect(json.photos.map(({ file }) => names.includes(file))).toEqual([true, true]);
    const fillings = Papa.parse<string[]>(zip.readAsText('tables/fillings.csv').replace(/^\ufeff/, ''), {
      skipEmptyLines: true,
    });
    expect(fillings.data.length).toBeGreaterThan(50);
    expect(zip.test()).toBe(true);
  });
});

describe('everything, in', () => {
  it('into an empty collection and out again: the same, but for the time of making; and the rooms say the same', async () => {
    const other = await empty();
    try {
      const state = await read(other, whole);
      expect(state).toMatchObject({ state: 'ready', words: null });
      expect(state.report!.tables.find(({ table }) => table === 'pot')).toEqual({
        table: 'pot',
        comes: 42,
        here: 0,
        differs: 0,
      });
      // Nothing is changed by having been told.
      expect(await other.rows('SELECT id FROM pot')).toEqual([]);
      const { body } = await keep(other, state);
      expect(body.state).toBe('kept');
      expect(withoutTime(await textOf(other, 'whole.json'))).toBe(withoutTime(whole));
      expect(leftBehind(other)).toEqual([]);
      for (const room of ROOMS) {
        kit.clock.at = other.clock.at = new Date(`${TODAY}T11:00:00Z`);
        const [mine, theirs] = [await kit.call('GET', room), await other.call('GET', room)];
        expect(theirs.status, room).toBe(200);
        expect({ ...theirs.body, commit: 0, mode: 0 }, room).toEqual({ ...mine.body, commit: 0, mode: 0 });
      }
      expect((await other.call<BookPage>('GET', '/api/book/found?words=crust')).body.entries.length).toBeGreaterThan(0);
      // What was there before is a backup, and can be put back.
      expect(existsSync(other.backups.pathOf(body.backup!))).toBe(true);
    } finally {
      await other.close();
    }
  }, 120_000);
  it('as a ZIP, and as JSON that another program wrote anew, comes to the same', async () => {
    const other = await empty();
    try {
      await keep(other, await read(other, await bytesOf(kit, 'whole.zip')));
      expect(withoutTime(await textOf(other, 'whole.json'))).toBe(withoutTime(whole));
      const pretty = JSON.stringify(JSON.parse(whole), null, 2);
      const again = await read(other, pretty);
      expect(again).toMatchObject({ state: 'ready' });
      expect(again.report!.lines.comes).toBe(0);
      expect(again.report!.tables.every(({ comes, differs }) => comes === 0 && differs === 0)).toBe(true);
      await keep(other, again);
      expect(withoutTime(await textOf(other, 'whole.json'))).toBe(withoutTime(whole));
    } finally {
      await other.close();
    }
  }, 120_000);
  it('into a collection that went on since: what is here stays, what is new comes, what was taken back there is taken back here', async () => {
    const [here, there] = [await empty(), await empty()];
    try {
      for (const one of [here, there]) await keep(one, await read(one, whole));
      const [pot] = await here.rows<{ id: string }>(`SELECT id FROM pot WHERE code = 'R-02'`);
      const write = (to: Kit, words: string) => {
        const id = testId();
        return to
          .call('PUT', `/api/book/notes/${id}`, { words, potIds: [pot!.id], on: TODAY, image: null })
          .then(() => id);
      };
      const mine = await write(here, 'written here');
      const theirs = await write(there, 'written there');
      const [fill] = await there.rows<{ id: string }>(
        `SELECT id FROM care_event WHERE kind = 'potFilled' AND voidedBy IS NULL ORDER BY at DESC LIMIT 1`,
      );
      expect((await there.call('PUT', `/api/book/undos/${testId()}`, { targetId: fill!.id })).status).toBe(200);
      const state = await read(here, await textOf(there, 'whole.json'));
      expect(state.report!.lines).toMatchObject({ comes: 2, odd: 0 });
      await keep(here, state);
      const ids = (
        await here.rows<{ id: string }>(`SELECT id FROM care_event WHERE kind = 'noteWritten' AND voidedBy IS NULL`)
      ).map(({ id }) => id);
      expect(ids).toEqual(expect.arrayContaining([mine, theirs]));
      expect(
        (await here.rows<{ voidedBy: string | null }>('SELECT voidedBy FROM care_event WHERE id = ?', [fill!.id]))[0]!
          .voidedBy,
      ).not.toBeNull();
      // Once more: nothing is doubled.
      const again = await read(here, await textOf(there, 'whole.json'));
      expect(again.report!.lines.comes).toBe(0);
    } finally {
      await here.close();
      await there.close();
    }
  }, 120_000);
  it('as a ZIP that was unpacked and packed again in a folder; pressed twice at once it is put in place once', async () => {
    const other = await empty();
    try {
      const again = new AdmZip();
      for (const entry of new AdmZip(await bytesOf(kit, 'whole.zip')).getEntries())
        again.addFile(`mine/${entry.entryName}`, entry.getData());
      const state = await read(other, again.toBuffer());
      expect(state).toMatchObject({ state: 'ready', report: { photos: { comes: 2 } } });
      const both = await Promise.all([keep(other, state), keep(other, state)]);
      expect(both.map(({ body }) => body.state)).toEqual(['kept', 'kept']);
      expect(both[0].body.backup).toBe(both[1].body.backup);
      expect(withoutTime(await textOf(other, 'whole.json'))).toBe(withoutTime(whole));
      expect(leftBehind(other)).toEqual([]);
    } finally {
      await other.close();
    }
  }, 120_000);
  it('what a server that was killed had read of it is gone at the next start', async () => {
    const other = await empty();
    try {
      const file = join(other.folder, 'test.sqlite.bring-1.part');
      writeFileSync(file, 'half of it');
      await other.database.close();
      const next = await openDatabase(join(other.folder, 'test.sqlite'));
      expect(existsSync(file)).toBe(false);
      await next.close();
    } finally {
      rmSync(other.folder, { recursive: true, force: true });
    }
  });
  it('what is logged between the telling and the keeping is not lost', async () => {
    const other = await empty();
    try {
      const state = await read(other, whole);
      const note = testId();
      await other.call('PUT', `/api/book/notes/${note}`, { words: 'in between', potIds: [], on: TODAY, image: null });
      expect((await keep(other, state)).body.state).toBe('kept');
      expect(await other.rows('SELECT id FROM care_event WHERE id = ?', [note])).toHaveLength(1);
      expect((await keep(other, state)).body.state).toBe('kept');
    } finally {
      await other.close();
    }
  }, 120_000);
});

describe('a file that cannot be brought in', () => {
  const refused = async (to: Kit, file: string | Buffer) => {
    const state = await read(to, file);
    expect(state.state).toBe('refused');
    expect((await keep(to, state)).body).toMatchObject({ state: 'refused' });
    return state;
  };
  const lines = () => whole.split('\n');
  it('is told why, at its line, and nothing is changed', async () => {
    const other = await empty();
    try {
      const at = lines().findIndex((line) => line.includes('"kind":"potFilled"'));
      const broken = lines().with(at, '{"id":"12');
      expect((await refused(other, broken.join('\n'))).words).toContain(`Line ${at + 1} cannot be read`);
      const half = lines().slice(0, at).join('\n');
      expect((await refused(other, half)).words).toMatch(/ends at line \d+, in the middle/);
      expect((await refused(other, whole.replace('"version":1', '"version":2'))).words).toMatch(/newer version/);
      expect((await refused(other, '{"some":"json"}')).words).toMatch(/not a collection saved by Frugal Sip/);
      expect((await refused(other, 'day,pot\n1,2')).words).toMatch(/no JSON/);
      expect((await refused(other, Buffer.from('504b0304ffff', 'hex'))).words).toMatch(/ZIP cannot be read/);
      const strange = new AdmZip();
      strange.addFile('other.txt', Buffer.from('x'));
      expect((await refused(other, strange.toBuffer())).words).toMatch(/holds no collection\.json/);
      expect(await other.rows('SELECT 1 FROM care_event')).toEqual([]);
      expect(leftBehind(other)).toEqual([]);
    } finally {
      await other.close();
    }
  }, 120_000);
  it('a ZIP that leads out of its folder is not unfolded there', async () => {
    const other = await empty();
    try {
      const zip = new AdmZip();
      zip.addFile('collection.json', Buffer.from(whole));
      // Its writer would mend the name: it is put in place in the bytes.
      zip.addFile('aa/aa/evil.txt', Buffer.from('x'));
      const bytes = Buffer.from(
        zip.toBuffer().toString('latin1').replaceAll('aa/aa/evil.txt', '../../evil.txt'),
        'latin1',
      );
      expect((await refused(other, bytes)).words).toMatch(/ZIP cannot be read/);
    } finally {
      await other.close();
    }
  }, 60_000);
  it('two pots of one code, a record that points nowhere, a figure out of its bounds: told at the line with the remedy', async () => {
    const all = JSON.parse(whole) as {
      tables: Record<string, Record<string, unknown>[]>;
      log: Record<string, unknown>[];
    };
    const other = await empty();
    try {
      const twice = structuredClone(all);
      twice.tables['pot']!.push({ ...twice.tables['pot']![0]!, id: testId() });
      const ours = (await refused(other, JSON.stringify(twice))).report!;
      expect(ours.problems[0]).toMatchObject({
        what: 'pot',
        message: expect.stringMatching(/Another pot .* is here\. Give one of the two another code/) as string,
      });
      const nowhere = structuredClone(all);
      nowhere.tables['pot']![0]!['placeId'] = testId();
      expect((await refused(other, JSON.stringify(nowhere))).report!.problems[0]!.message).toMatch(
        /neither in the file nor here/,
      );
      const odd = structuredClone(all);
      odd.tables['pot']![0]!['fillMl'] = 'a cup';
      expect((await refused(other, JSON.stringify(odd))).report!.problems[0]!.message).toBe(
        'The field "fillMl" is no number.',
      );
      const future = structuredClone(all);
      future.tables['pot']![0]!['colour'] = 'red';
      expect((await refused(other, JSON.stringify(future))).report!.problems[0]!.message).toMatch(/no field "colour"/);
      // A line that cannot be understood comes along, as it stands here, and counts for nothing.
      const strange = structuredClone(all);
      strange.log.at(-1)!['payload'] = { what: 'ever' };
      expect((await read(other, JSON.stringify(strange))).report!.lines.odd).toBe(1);
    } finally {
      await other.close();
    }
  }, 120_000);
  it('one that is let be leaves nothing; one of another server is not known here', async () => {
    const other = await empty();
    try {
      const state = await read(other, whole);
      expect((await other.call<BringState>('POST', `/api/book/bring/${state.id}/stop`)).body.state).toBe('stopped');
      expect(leftBehind(other)).toEqual([]);
      expect((await keep(other, state)).status).toBe(404);
      expect((await other.call('GET', `/api/book/bring/${testId()}`)).status).toBe(404);
      expect(await other.rows('SELECT 1 FROM pot')).toEqual([]);
    } finally {
      await other.close();
    }
  }, 60_000);
});
