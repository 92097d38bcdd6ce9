import Papa from 'papaparse';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { serverKit, type Kit } from '../../../tests/server-kit.ts';
import { TABLES, type TableForm, type TableName } from '../../contract/tables.ts';
import { collectionOf, rowsFor } from '../collection/index.ts';
import { csvOf } from './tables.ts';

let kit: Kit;
beforeAll(async () => {
  // Longer than what is kept of a pot at hand.
  kit = await serverKit(40);
}, 120_000);
afterAll(() => kit.close());

const get = async (path: string) => {
  const answer = await kit.app.inject({
    method: 'GET',
    url: `/api/book/tables/${path}`,
    headers: { host: 'localhost' },
  });
  return { status: answer.statusCode, text: answer.body, headers: answer.headers };
};
const FORM: TableForm = { mark: 'point', separator: 'comma' };
const tableOf = async (path: string, delimiter = ',') => {
  const { text } = await get(path);
  const { data, errors } = Papa.parse<Record<string, string>>(text.replace(/^\ufeff/, ''), {
    header: true,
    delimiter,
    newline: '\r\n',
    skipEmptyLines: true,
  });
  expect(errors).toEqual([]);
  return data;
};

describe('tables for a spreadsheet', () => {
  it.each(TABLES)('%s: a file with headings, every line as long as they are', async (name) => {
    const { status, text, headers } = await get(`${name}.csv`);
    expect(status).toBe(200);
    expect(headers['content-type']).toMatch(/^text\/csv/);
    expect(headers['content-disposition']).toMatch(
      new RegExp(`^attachment; filename="${name}-\\d{4}-\\d\\d-\\d\\d\\.csv"$`),
    );
    const { data } = Papa.parse<string[]>(text.replace(/^\ufeff/, ''), { skipEmptyLines: true, newline: '\r\n' });
    expect(data.length).toBeGreaterThan(2);
    expect(new Set(data.map((line) => line.length)).size).toBe(1);
    expect(new Set(data[0]).size).toBe(data[0]!.length);
  });
  it('a filling as it was logged, with its unit in the heading, on one scale', async () => {
    const fillings = await tableOf('fillings.csv?scale=0.7');
    const [{ n }] = (await kit.rows<{ n: number }>(
      `SELECT count(*) AS n FROM care_event WHERE kind = 'potFilled' AND voidedBy IS NULL`,
    )) as [{ n: number }];
    expect(fillings).toHaveLength(n);
    const read = fillings.filter((line) => line['mix, µS/cm'] !== '');
    expect(read.length).toBeGreaterThan(20);
    for (const line of read)
      expect(Math.abs(Number(line['mix, ppm at 0.7']) - 0.7 * Number(line['mix, µS/cm']))).toBeLessThan(0.6);
  });
  it('a look names every cue, a measure every kind, a pot of a trial its arm and pair', async () => {
    const [looks, measures, trials] = [
      await tableOf('looks.csv'),
      await tableOf('measures.csv'),
      await tableOf('trials.csv'),
    ];
    expect(looks.every((line) => line['crust'] !== '' && line['leaf tips'] !== '')).toBe(true);
    expect(looks.some((line) => line['crust'] !== 'none')).toBe(true);
    const measured = measures.filter((line) => line['pot'] === 'L-01').map((line) => Number(line['longest leaf, cm']));
    expect(measured.length).toBeGreaterThan(5);
    expect(measured.at(-1)).toBeGreaterThan(measured[0]!);
    expect(trials.map((line) => line['arm']).filter((arm) => arm === 'with the change')).toHaveLength(5);
    expect(new Set(trials.map((line) => line['pair'])).size).toBe(5);
  });
  it('a water read stands beside what stood in its tank; new clay with what was poured off', async () => {
    const [waters, clay] = [await tableOf('waters.csv?mark=comma&separator=semicolon', ';'), await tableOf('clay.csv')];
    expect(waters.some((line) => line['in the tank, L'] !== '')).toBe(true);
    expect(waters.filter((line) => line['µS/cm'] !== '').every((line) => line['strength, ppm at 0.5'] !== '')).toBe(
      true,
    );
    expect(clay.some((line) => line['what'] === 'water on' && Number(line['fresh water, L']) > 0)).toBe(true);
    expect(clay.some((line) => line['what'] === 'read' && line['strength, ppm at 0.5'] !== '')).toBe(true);
  });
  it('a reading as it was shown, a range of a kit as a range, none that nobody took', async () => {
    const readings = await tableOf('readings.csv');
    const [{ n }] = (await kit.rows<{ n: number }>(
      `SELECT count(*) AS n FROM care_event WHERE kind = 'waterRead' AND voidedBy IS NULL AND json_extract(payload, '$.ppm.kind') <> 'notMeasured'`,
    )) as [{ n: number }];
    expect(readings.filter((line) => line['of'] === 'water' && line['quantity'] === 'strength')).toHaveLength(n);
    const ranges = readings.filter((line) => line['from'] !== '');
    expect(ranges.length).toBeGreaterThan(0);
    for (const line of ranges) {
      expect(line['shown']).toBe('');
      expect(Number(line['from'])).toBeLessThan(Number(line['to']));
    }
  });
  it('leaves out a reading that cannot be understood, and keeps the others', async () => {
    const before = await tableOf('readings.csv');
    await kit.database.write.run((manager) =>
      manager.query(
        `UPDATE care_event SET payload = json_set(payload, '$.ppm.value', 'many') WHERE seq = (SELECT min(seq) FROM care_event WHERE kind = 'waterRead' AND json_extract(payload, '$.ppm.kind') = 'value')`,
      ),
    );
    const after = await tableOf('readings.csv');
    expect(after).toHaveLength(before.length - 1);
    expect(after.every((line) => !Object.values(line).includes('NaN'))).toBe(true);
  });
  it('with a decimal comma the columns are parted by another mark', async () => {
    const [dotted, comma] = [
      await tableOf('mixes.csv'),
      await tableOf('mixes.csv?mark=comma&separator=semicolon', ';'),
    ];
    expect(comma).toHaveLength(dotted.length);
    comma.forEach((line, i) => expect(line['volume, L']!.replace(',', '.')).toBe(dotted[i]!['volume, L']));
    expect((await get('mixes.csv?separator=pipe')).status).toBe(400);
    expect((await get('mixes.csv?scale=7')).status).toBe(400);
  });
  it('a name that a spreadsheet would reckon with is only a name; quotes, commas and line ends stay in their field', async () => {
    const wild = ['=1+1', '+cmd', '-2+3', '@sum', 'a "b", c', 'two\nlines'];
    const pots = await kit.rows<{ id: string }>('SELECT id FROM pot WHERE retiredOn IS NULL ORDER BY code LIMIT 6');
    await kit.database.write.run(async (manager) => {
      for (const [i, { id }] of pots.entries())
        await manager.query('UPDATE pot SET name = ? WHERE id = ?', [wild[i], id]);
    });
    const { manager } = kit.database.read;
    const text = [
      ...csvOf('fillings', { collection: collectionOf(manager), rows: rowsFor(manager), scale: 0.5 }, FORM),
    ].join('');
    const { data } = Papa.parse<Record<string, string>>(text.replace(/^\ufeff/, ''), { header: true, newline: '\r\n' });
    const names = new Set(data.map((line) => line['name']));
    for (const name of ["'=1+1", "'+cmd", "'-2+3", "'@sum", 'a "b", c', 'two\nlines']) expect(names).toContain(name);
    for (const one of TABLES satisfies readonly TableName[])
      expect((await get(`${one}.csv`)).text).not.toMatch(/[,\n]=/);
  });
});
