import { useState } from 'react';
import { useActs } from './acts.tsx';
import type { ErrorCode } from '../../contract/errors.ts';
import { newId, ProblemError } from './api.ts';

/** Messages at fields by their path in the act, such as "values.name"; `""` is for the whole. */
export type Problems = Readonly<Record<string, string>>;

/**
 * Sends an act of a form: errors come back by field path, nothing typed is lost, and the same press twice is one act.
 * @param url without the act's id, such as "/api/shelf/acts"
 */
export function useAct(url: string) {
  const { put } = useActs();
  const [problems, setProblems] = useState<Problems>({});
  /** What the server called its refusal: some are asked about once. */
  const [code, setCode] = useState<ErrorCode>();
  const [busy, setBusy] = useState(false);
  const clear = () => {
    setProblems({});
    setCode(undefined);
  };
  const send = async (body: object, words: string, options: { toast?: boolean } = {}): Promise<boolean> => {
    if (busy) return false;
    setBusy(true);
    clear();
    const id = newId();
    try {
      await put({ id, url: `${url}/${id}`, body, words }, options.toast === false ? {} : { toast: words });
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
  return { send, problems, setProblems, code, clear, busy };
}

export function toProblems(error: ProblemError): Problems {
  const problems: Record<string, string> = {};
  for (const { path, message } of error.problem.errors ?? []) problems[path] ??= message;
  if (Object.keys(problems).length === 0) problems[''] = error.problem.detail;
  return problems;
}

/** The message at the field of the last part of a path: "scale" for "values.scale". */
export function problemAt(problems: Problems, field: string): string | undefined {
  return Object.entries(problems).find(([path]) => path === field || path.endsWith(`.${field}`))?.[1];
}

/** Messages that belong to none of these fields, for the foot of the form. */
export function otherProblems(problems: Problems, fields: readonly string[]): string | undefined {
  return Object.entries(problems).find(
    ([path]) => !fields.some((field) => path === field || path.endsWith(`.${field}`)),
  )?.[1];
}
