import { useState } from 'react';
import type { ClayAct } from '../../contract/clay.ts';
import type { ErrorCode } from '../../contract/errors.ts';
import { useActs } from '../shell/acts.tsx';
import { newId, ProblemError } from '../shell/api.ts';
import { toProblems, type Problems } from '../shell/use-act.ts';

/** Sends acts of the Clay room; what is wrong comes back by field, with its code where it is asked about once. */
export function useClayAct() {
  const { put } = useActs();
  const [problems, setProblems] = useState<Problems>({});
  const [code, setCode] = useState<ErrorCode>();
  const [busy, setBusy] = useState(false);
  const clear = () => {
    setProblems({});
    setCode(undefined);
  };
  const send = async (body: ClayAct, words: string): Promise<boolean> => {
    if (busy) return false;
    setBusy(true);
    clear();
    const id = newId();
    try {
      await put({ id, url: `/api/clay/acts/${id}`, body, words }, { toast: words });
      return true;
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      setProblems(toProblems(error));
      setCode(error.problem.code);
      return false;
    } finally {
      setBusy(false);
    }
  };
  return { send, problems, code, busy, clear, setProblems };
}
export type SendClay = ReturnType<typeof useClayAct>;
