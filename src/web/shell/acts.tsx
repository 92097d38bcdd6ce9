import { useQueryClient } from '@tanstack/react-query';
import {
  createContext,
  use,
  useCallback,
  useEffect,
  useMemo,
  useState,
  useSyncExternalStore,
  type ReactNode,
} from 'react';
import { OfflineError, newId, ProblemError, request } from './api.ts';
import { fetchAnew } from './fetch-anew.ts';
import { Outbox, type Act, type OutboxState, type Sent } from './outbox.ts';
import type { UndoDone } from '../../contract/book.ts';

type Toast = { id: string; words: string; undoId?: string | undefined; takesBack?: readonly string[] | undefined };
/** `wait: false` does not wait for what shows to be fetched anew: where the next thing to do is known already. */
type PutOptions = { toast?: string; undoable?: boolean; wait?: boolean };
/** An act to take back, and the lines it wrote, where they are several. */
type Undoable = { readonly id: string; readonly lines: readonly string[] };
type Acts = {
  outbox: OutboxState;
  /** Sends an act (or keeps it), refreshes what shows, and offers to take it back. */
  put<T>(act: Act, options?: PutOptions): Promise<Sent<T>>;
  /** @param lines of the act, where it wrote several */
  undo(targetId: string, lines?: readonly string[]): Promise<void>;
  say(words: string, undo?: Undoable): void;
  dismissRefused(id: string): void;
  tryAgain(id: string): void;
  toasts: readonly Toast[];
  dismissToast(id: string): void;
};

const ActsContext = createContext<Acts | undefined>(undefined);
const RETRY_EVERY_MS = 3000;
const ADOPT_EVERY_MS = 6000;
const TOAST_MS = 8000;

/** Everything a grower does goes through here: sent once, kept when nobody answers, undoable. */
export function ActsProvider({ children }: { children: ReactNode }) {
  const client = useQueryClient();
  const [outbox] = useState(() => new Outbox(localStorage));
  const state = useSyncExternalStore(outbox.subscribe, () => outbox.state);
  const [toasts, setToasts] = useState<Toast[]>([]);
  const waits = state.waiting.length > 0;

  const toast = useCallback((words: string, undoId?: string, takesBack?: readonly string[]) => {
    const id = newId();
    setToasts((list) => [...list.slice(-1), { id, words, undoId, takesBack }]);
    setTimeout(() => setToasts((list) => list.filter((t) => t.id !== id)), TOAST_MS);
  }, []);

  // Other tabs write into the same outbox; what a closed page left behind is taken on after a while.
  useEffect(() => {
    const later = setInterval(outbox.refresh, ADOPT_EVERY_MS);
    window.addEventListener('storage', outbox.refresh);
    return () => {
      clearInterval(later);
      window.removeEventListener('storage', outbox.refresh);
    };
  }, [outbox]);

  useEffect(() => {
    if (!waits) return;
    const again = async () => {
      if (await outbox.flush()) await fetchAnew(client);
    };
    void again();
    const timer = setInterval(() => void again(), RETRY_EVERY_MS);
    const now = () => void again();
    window.addEventListener('online', now);
    return () => {
      clearInterval(timer);
      window.removeEventListener('online', now);
    };
  }, [waits, outbox, client]);

  const acts = useMemo<Acts>(
    () => ({
      outbox: state,
      async put<T>(act: Act, options: PutOptions = {}) {
        const sent = await outbox.put<T>(act);
        const fresh = fetchAnew(client);
        if (options.wait !== false) await fresh;
        if (options.toast)
          toast(
            sent.kind === 'waiting' ? `${options.toast}, kept here until the server answers` : options.toast,
            options.undoable === false ? undefined : act.id,
          );
        return sent;
      },
      async undo(targetId: string, lines: readonly string[] = [targetId]) {
        if (outbox.withdraw(targetId)) {
          toast('Taken back before it was sent');
          return;
        }
        try {
          const done = await request<UndoDone>('PUT', `/api/book/undos/${newId()}`, {
            targetId: lines[0],
            alsoIds: lines.slice(1),
          });
          toast(done.words);
        } catch (error) {
          if (error instanceof ProblemError) toast(error.problem.detail);
          else if (error instanceof OfflineError)
            toast('The server does not answer, so nothing was taken back. Try again when it does.');
          else throw error;
        }
        await fetchAnew(client);
      },
      say: (words, undoable) => toast(words, undoable?.id, undoable?.lines),
      dismissRefused: (id) => outbox.dismiss(id),
      tryAgain: (id) => outbox.tryAgain(id),
      toasts,
      dismissToast: (id) => setToasts((list) => list.filter((t) => t.id !== id)),
    }),
    [state, outbox, client, toast, toasts],
  );
  return <ActsContext value={acts}>{children}</ActsContext>;
}

export function useActs(): Acts {
  const acts = use(ActsContext);
  if (!acts) throw new Error('useActs needs an ActsProvider above it.');
  return acts;
}
