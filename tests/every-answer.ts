import type { RouteOptions } from 'fastify';
import type { Kit } from './server-kit.ts';

/** A collector of routes for `serverKit`, and every look at the collection that they make. */
export function routeBook() {
  const routes: { method: string; url: string }[] = [];
  return {
    routes,
    onRoute: (route: RouteOptions) =>
      [route.method].flat().forEach((method) => routes.push({ method, url: route.url })),
  };
}

/** `whole`, `jsonl`: everything as it stands in the file, which is tried where it is brought in again. */
const APART = /docs|changes|dip|next$|photos|backups|lan|whole|jsonl|bring/;
type Ids = Record<'pot' | 'batch' | 'meter' | 'product' | 'care_event', string[]>;

/**
 * Looks at every room and every thing of the collection.
 * @param most of each kind of thing, the newest
 * @returns what was not answered, or with a figure that is none, and why
 */
export async function oddAnswers(kit: Kit, routes: Routes, most = 1000): Promise<string[]> {
  const odd: string[] = [];
  for (const path of await pathsOfEveryLook(kit, routes, most)) {
    const { status, body } = await kit.call<{ detail?: string; code?: string }>('GET', path);
    // Asked for a thing that is none, or of which nothing can be said, a room says so: that is an answer.
    if (status !== 200 && !(status === 404 || status === 409)) odd.push(`${path}: ${status} ${body?.detail ?? ''}`);
  }
  return odd;
}

type Routes = readonly { readonly method: string; readonly url: string }[];

/** Where every room and every thing of the collection is looked at. @param most of each kind of thing, the newest */
export async function pathsOfEveryLook(kit: Kit, routes: Routes, most = 1000): Promise<string[]> {
  const ids = {} as Ids;
  for (const table of ['pot', 'batch', 'meter', 'product', 'care_event'] as const)
    ids[table] = (
      await kit.rows<{ id: string }>(`SELECT id FROM main."${table}" ORDER BY rowid DESC LIMIT ${most}`)
    ).map((row) => row.id);
  const mixes = (await kit.rows<{ mixKey: string }>('SELECT DISTINCT mixKey FROM batch WHERE mixKey IS NOT NULL')).map(
    (row) => row.mixKey,
  );
  return routes
    .filter(({ method, url }) => method === 'GET' && url.startsWith('/api/') && !APART.test(url))
    .flatMap(({ url }) => pathsOf(url, ids, mixes));
}

function pathsOf(url: string, ids: Ids, mixes: readonly string[]): string[] {
  if (url === '/api/drift/mix') return mixes.map((mix) => `${url}?mix=${encodeURIComponent(mix)}`);
  if (url === '/api/drift/acids') return mixes.map((mix) => `${url}?mix=${encodeURIComponent(mix)}&ph=5.8&litres=3`);
  if (url === '/api/book/steps') return [`${url}?key=round.2026-11-24`];
  if (url === '/api/book/turns/compared') return ['/api/book/turns'];
  if (url === '/api/book/found') return [`${url}?from=2026-11-20`, `${url}?words=crust`, `${url}?only=tainted`];
  if (!url.includes(':')) return [url];
  const things = /pots\/:/.test(url)
    ? ids.pot
    : /batches/.test(url)
      ? ids.batch
      : /meters/.test(url)
        ? ids.meter
        : /products/.test(url)
          ? ids.product
          : ids.care_event.slice(0, 20);
  return things.map((id) => url.replace(/:\w+/, id) + (/readings$/.test(url) ? '?since=2026-01-01' : ''));
}
