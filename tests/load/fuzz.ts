import { join } from 'node:path';
import { Sqlite } from '../../src/server/database/sqlite.ts';
import { startServer } from '../e2e/server.ts';
import { clear, Device, folderFor, numberOf, seeded, type Fault } from './load-kit.ts';
import { cpSync } from 'node:fs';

type Schema = {
  type?: string | string[];
  enum?: unknown[];
  const?: unknown;
  anyOf?: Schema[];
  oneOf?: Schema[];
  allOf?: Schema[];
  properties?: Record<string, Schema>;
  required?: string[];
  items?: Schema;
  format?: string;
  minimum?: number;
  maximum?: number;
  $ref?: string;
};
type Operation = {
  parameters?: { name: string; in: string; schema?: Schema }[];
  requestBody?: { content?: Record<string, { schema?: Schema }> };
};

const ODD: readonly unknown[] = [
  null, '', ' ', 'x', '0', -1, 0, 1, 1e308, -1e308, 1e-320, 0.1, 2 ** 53, true, false, [], {}, [[]], 'NaN', '9999-99-99', '0000-00-00', '2026-11-25',
  '\u0000', '<script>', "' OR 1=1 --", '../../etc/passwd', '😀'.repeat(50), 'x'.repeat(5000), { toString: 1 }, { __proto__: null }, 'Infinity', '1e999',
]; // prettier-ignore

/**
 * Requests made from the API's own description, mostly right, a little wrong, in odd spellings.
 * @param template a data folder with a collection in it
 */
export async function fuzzed(requests: number, template: string): Promise<Fault> {
  const folder = folderFor('fuzz');
  cpSync(join(template, 'demo.sqlite'), join(folder, 'collection.sqlite'));
  const random = seeded(11);
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!;
  const db = new Sqlite(join(folder, 'collection.sqlite'), { readonly: true });
  const ids = [
    'pot',
    'water',
    'meter',
    'tool',
    'vessel',
    'product',
    'bottle',
    'batch',
    'care_event',
    'regimen',
    'place',
    'clay_batch',
    'recipe',
  ].flatMap((table) =>
    (db.prepare(`SELECT id FROM ${table} ORDER BY random() LIMIT 8`).all() as { id: string }[]).map((row) => row.id),
  );
  db.close();
  const server = await startServer({
    folder,
    demo: false,
    env: { FRUGAL_SIP_REQUESTS: '10000000', FRUGAL_SIP_DEBUG: '1' },
  });
  try {
    const device = new Device(() => server.url);
    const description = JSON.parse((await device.request('GET', '/api/docs/json')).text) as {
      paths: Record<string, Record<string, Operation>>;
      components?: { schemas?: Record<string, Schema> };
    };
    const operations = Object.entries(description.paths)
      .flatMap(([path, methods]) =>
        Object.entries(methods).map(([method, operation]) => ({ path, method: method.toUpperCase(), operation })),
      )
      .filter(({ path }) => !/restore|bring|changes|copy-demo|shell\/demo|lan/.test(path));
    const make = (schema: Schema | undefined, depth = 0): unknown => {
      if (!schema || depth > 8 || random() < 0.03) return pick(ODD);
      if (schema.$ref) return make(description.components?.schemas?.[schema.$ref.split('/').at(-1)!], depth + 1);
      if (schema.const !== undefined) return schema.const;
      if (schema.enum) return pick(schema.enum);
      const choice = schema.anyOf ?? schema.oneOf;
      if (choice) return make(pick(choice), depth + 1);
      if (schema.allOf) return Object.assign({}, ...schema.allOf.map((part) => make(part, depth + 1))) as unknown;
      switch (Array.isArray(schema.type) ? pick(schema.type) : schema.type) {
        case 'object':
          return Object.fromEntries(
            Object.entries(schema.properties ?? {}).flatMap(([key, of]) =>
              schema.required?.includes(key) || random() < 0.6 ? [[key, make(of, depth + 1)]] : [],
            ),
          );
        case 'array':
          return Array.from({ length: Math.floor(random() * 3) }, () => make(schema.items, depth + 1));
        case 'integer':
        case 'number': {
          const [low, high] = [Math.max(-1000, schema.minimum ?? -10), Math.min(5000, schema.maximum ?? 1000)];
          const value = low + random() * (high - low);
          return schema.type === 'integer' ? Math.round(value) : pick([value, Math.round(value), low, high]);
        }
        case 'boolean':
          return random() < 0.5;
        case 'null':
          return null;
        default:
          if (schema.format === 'uuid') return random() < 0.7 ? pick(ids) : numberOf(Math.floor(random() * 1e6));
          if (schema.format === 'date') return pick(['2026-11-25', '2026-11-30', '1970-01-01', '2999-12-31']);
          if (schema.format === 'date-time')
            return pick(['2026-11-25T09:00:00.000Z', '2030-01-01T00:00:00.000Z', '1970-01-01T00:00:00.000Z']);
          return pick(['Rain', 'R-07', 'a', 'Europe/London', 'x'.repeat(40)]);
      }
    };
    const spelt = (path: string) =>
      random() < 0.9
        ? path
        : pick([
            path.toUpperCase(),
            `${path}/`,
            path.replace('a', '%61'),
            `/${path}`,
            `${path}?x[]=1&x[]=2`,
            `${path}%00`,
            path.replaceAll('/', '//'),
          ]);
    const said: string[] = [];
    let n = 1;
    const one = async () => {
      const { path, method, operation } = pick(operations);
      const query = (operation.parameters ?? [])
        .filter((p) => p.in === 'query')
        .map((p) => `${p.name}=${encodeURIComponent(wordOf(make(p.schema)))}`);
      const filled = path.replace(/\{(\w+)\}/g, (_, name: string) =>
        name === 'id' && method === 'PUT' && !/batches\/\{id\}\//.test(path)
          ? numberOf(n++)
          : name === 'stepId'
            ? numberOf(n++)
            : random() < 0.9
              ? pick(ids)
              : encodeURIComponent(wordOf(pick(ODD))),
      );
      const body = operation.requestBody?.content?.['application/json']?.schema;
      const made = method === 'GET' ? undefined : (make(body) as object);
      const { status, text } = await device.request(
        method,
        spelt(filled + (query.length ? `?${query.join('&')}` : '')),
        made,
      );
      if (status >= 500 && status !== 507 && said.length < 5)
        said.push(`${method} ${filled} ${JSON.stringify(made)?.slice(0, 300)} → ${status} ${text.slice(0, 160)}`);
    };
    for (let done = 0; done < requests; done += 20) await Promise.all(Array.from({ length: 20 }, one));
    const stands = await Promise.all(
      [
        '/api/round',
        '/api/pots',
        '/api/shell',
        '/api/book',
        '/api/clay',
        '/api/drift',
        '/api/shelf/room',
        '/api/advice',
      ].map((room) => device.look(room)),
    );
    await server.stop();
    for (const line of said) console.error(line);
    return {
      name: 'requests made from the API’s own description, odd and oddly spelt',
      cases: requests,
      acknowledged: device.statuses.get(200) ?? 0,
      lost: stands.filter((status) => status !== 200).length,
      doubled: 0,
      half: 0,
      unnamed: device.unnamed,
      longestMs: device.longestMs,
      note: [...device.statuses]
        .sort(([a], [b]) => a - b)
        .map(([status, times]) => `${status}: ${times}`)
        .join(', '),
    };
  } finally {
    await server.stop('SIGKILL');
    clear(folder);
  }
}

const wordOf = (value: unknown) => (typeof value === 'string' ? value : (JSON.stringify(value) ?? ''));
