import { useSyncExternalStore } from 'react';

/*
 * Since when the page knows what it shows, where the server is out of reach and the phone shows what it kept.
 */

let since: string | null = null;
const listeners = new Set<() => void>();

/** Told of every answer. @param response one to a GET */
export function noteAnswer(response: Response): void {
  const kept = response.headers.get('x-last-known');
  const next = kept === null ? null : kept === '' ? new Date().toISOString() : new Date(kept).toISOString();
  if (next === since) return;
  since = next;
  for (const listener of listeners) listener();
}

/** Instant of what shows, null while the server answers. */
export function useLastKnown(): string | null {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => since,
  );
}

/** A device that is no longer let in keeps nothing of the collection. */
export async function forgetLastKnown(): Promise<void> {
  if ('caches' in globalThis) await caches.delete('last-known').catch(() => false);
}

/** Over https the page stays on the phone and opens with no connection; on the computer itself and over plain http there is nothing to keep. */
export function keepOnPhone(): void {
  if (location.protocol !== 'https:' || !('serviceWorker' in navigator)) return;
  window.addEventListener(
    'load',
    () => void navigator.serviceWorker.register('/service-worker.js').catch(() => undefined),
  );
}
