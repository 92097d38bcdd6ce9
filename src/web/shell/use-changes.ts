import { useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { allReadAt, lastOwnCommit } from './commits.ts';
import { fetchAnew } from './fetch-anew.ts';

/** Commits come in bursts (a list of pots, a round logged fast); one refetch for each burst is enough. */
const GATHER_MS = 60;
const AGAIN_MS = 2000;

/**
 * Hears of everything that is written, here or on another device, and fetches what shows anew. Only while the page is looked at: a browser
 * keeps few connections to one server, and hidden tabs must not use them up.
 */
export function useChanges(): void {
  const client = useQueryClient();
  useEffect(() => {
    if (typeof EventSource === 'undefined') return;
    let source: EventSource | undefined;
    let timer: ReturnType<typeof setTimeout> | undefined;
    let again: ReturnType<typeof setTimeout> | undefined;
    let newest = 0;
    let opened = false;
    const soon = () => {
      clearTimeout(timer);
      timer = setTimeout(() => void fetchAnew(client), GATHER_MS);
    };
    const gather = (message: MessageEvent<string>) => {
      const commit = Number(message.data);
      if (opened) {
        opened = false;
        newest = commit;
        // What happened while nobody listened.
        if (!allReadAt(commit, soon)) soon();
        return;
      }
      // A server that was started again counts from another number.
      newest = commit < newest - 1 ? commit : Math.max(newest, commit);
      clearTimeout(timer);
      timer = setTimeout(() => {
        if (newest !== lastOwnCommit()) void fetchAnew(client);
      }, GATHER_MS);
    };
    const listen = () => {
      if (document.visibilityState === 'hidden') {
        source?.close();
        source = undefined;
      } else if (!source) {
        source = new EventSource('/api/shell/changes');
        source.onmessage = gather;
        // A connection that broke mends itself; one that was refused (not let in yet, being restored) is asked for anew.
        source.onerror = () => {
          if (source?.readyState !== EventSource.CLOSED) return;
          source = undefined;
          again = setTimeout(listen, AGAIN_MS);
        };
        // The first word of every connection is the commit it begins at.
        source.onopen = () => {
          opened = true;
        };
      }
    };
    listen();
    document.addEventListener('visibilitychange', listen);
    return () => {
      clearTimeout(timer);
      clearTimeout(again);
      document.removeEventListener('visibilitychange', listen);
      source?.close();
    };
  }, [client]);
}
