import {
  cleanupOutdatedCaches,
  createHandlerBoundToURL,
  precacheAndRoute,
  type PrecacheEntry,
} from 'workbox-precaching';
import { NavigationRoute, registerRoute } from 'workbox-routing';
import { NetworkFirst } from 'workbox-strategies';

/*
 * Keeps the page itself and what the rooms last showed on the phone, so that it opens at the bench with no connection. Registered over https only. Acts do not
 * pass here: they wait in the page's own outbox.
 */

declare const self: {
  readonly __WB_MANIFEST: (string | PrecacheEntry)[];
  skipWaiting(): Promise<void>;
  readonly clients: { claim(): Promise<void> };
  addEventListener(kind: 'activate', listener: (event: { waitUntil(work: Promise<unknown>): void }) => void): void;
};

/** Streams, files and what belongs to the computer alone are never kept. */
const NEVER_KEPT = /^\/api\/(docs|devices|shell\/(changes|lan|lock|enter)|book\/backups|pots\/photos|bench\/photos)/;
/** Past so long the last known is shown and the answer let go. */
const PATIENCE_SECONDS = 5;

precacheAndRoute(self.__WB_MANIFEST);
cleanupOutdatedCaches();
registerRoute(new NavigationRoute(createHandlerBoundToURL('/index.html'), { denylist: [/^\/api\//] }));
registerRoute(
  ({ url, request }) => request.method === 'GET' && url.pathname.startsWith('/api/') && !NEVER_KEPT.test(url.pathname),
  new NetworkFirst({
    cacheName: 'last-known',
    networkTimeoutSeconds: PATIENCE_SECONDS,
    plugins: [
      {
        cacheWillUpdate: ({ response }) => Promise.resolve(response.status === 200 ? response : null),
        // The page says since when it knows what it shows.
        cachedResponseWillBeUsed: ({ cachedResponse }) =>
          Promise.resolve(cachedResponse ? asLastKnown(cachedResponse) : undefined),
      },
    ],
  }),
);

function asLastKnown(response: Response): Response {
  const headers = new Headers(response.headers);
  headers.set('x-last-known', response.headers.get('date') ?? '');
  return new Response(response.body, { status: response.status, headers });
}

void self.skipWaiting();
self.addEventListener('activate', (event) => event.waitUntil(self.clients.claim()));
