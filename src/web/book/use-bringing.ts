import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useActs } from '../shell/acts.tsx';
import { get, OfflineError, ProblemError, request, sendFile } from '../shell/api.ts';
import { fetchAnew } from '../shell/fetch-anew.ts';

/** How often it is asked how far the file was read. */
const ASK_MS = 400;

type OnItsWay = {
  readonly id: string;
  readonly name: string;
  readonly state: 'sent' | 'reading' | 'ready' | 'refused' | 'stopped' | 'kept';
};

/**
 * A file on its way in: sent, read by the server, kept or let be.
 * @param at where it is sent to; a file of that number is asked for, stopped and kept under it
 * @param actOf the act that brought it, where it is one that can be taken back
 */
export function useBringing<S extends OnItsWay>(at: string, actOf?: (kept: S) => string) {
  const client = useQueryClient();
  const { say } = useActs();
  const [sent, setSent] = useState<S>();
  const asked = useQuery({
    queryKey: ['bring', at, sent?.id],
    queryFn: () => get<S>(`${at}/${sent!.id}`),
    enabled: sent !== undefined,
    refetchInterval: ({ state: { data, error } }) =>
      error instanceof ProblemError || (data && data.state !== 'reading') ? false : ASK_MS,
    retry: false,
  });
  const state = asked.data ?? sent;
  const note = (now: S) => {
    client.setQueryData(['bring', at, now.id], now);
    setSent(now);
  };
  const tell = (error: Error) =>
    say(
      error instanceof ProblemError || error instanceof OfflineError
        ? error.message
        : 'That did not work. Nothing was changed.',
    );
  const send = useMutation({
    mutationFn: (chosen: File) => sendFile<S>(`${at}?name=${encodeURIComponent(chosen.name.slice(0, 200))}`, chosen),
    onSuccess: note,
    onError: tell,
  });
  const stop = useMutation({
    mutationFn: () => request<S>('POST', `${at}/${state!.id}/stop`),
    onSuccess: () => {
      setSent(undefined);
      say('Left as it was: nothing was changed');
    },
    onError: tell,
  });
  const keep = useMutation({
    mutationFn: () => request<S>('POST', `${at}/${state!.id}/keep`),
    onSuccess: async (kept) => {
      note(kept);
      if (kept.state !== 'kept') return;
      await fetchAnew(client);
      say('Brought in', actOf && { id: actOf(kept), lines: [] });
    },
    onError: tell,
  });
  // A server that was started again does not know it any more.
  const lost = asked.error instanceof ProblemError ? asked.error.problem.detail : undefined;
  const busy = send.isPending || stop.isPending || keep.isPending || (state?.state === 'reading' && !lost);
  return { state, lost, busy, send, stop, keep, note, tell };
}
