import { useState } from 'react';
import type { RoundAct, RoundPot } from '../../contract/round.ts';
import { useActs } from '../shell/acts.tsx';
import { newId, ProblemError } from '../shell/api.ts';
import type { Errors } from './read-draft.ts';

/** `clear`: the pot is done; `next`: it waits while another is in hand; `stay`: it is still in hand. */
export type Then = 'clear' | 'next' | 'stay';
type Hears = {
  setErrors(errors: Errors): void;
  /** What was typed is forgotten. */
  clear(): void;
  onDone(): void;
  /** The server asks whether the readings stand. */
  onOdd(): void;
};

/** Sends an act of the round, and shows at the fields what is said against it. */
export function useSendAct(pot: RoundPot, { setErrors, clear, onDone, onOdd }: Hears) {
  const { put } = useActs();
  const [busy, setBusy] = useState(false);
  const send = async (act: RoundAct, words: string, then: Then = 'clear') => {
    setBusy(true);
    setErrors({});
    try {
      const id = newId();
      const subject = then === 'clear' ? { subject: pot.id } : {};
      await put({ id, url: `/api/round/acts/${id}`, body: act, words, ...subject }, { toast: words, wait: false });
      if (then === 'clear') clear();
      if (then !== 'stay') onDone();
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      if (error.problem.code === 'already-logged') clear();
      setErrors(errorsOf(pot, error));
      if (error.problem.code === 'reading-odd') onOdd();
    } finally {
      setBusy(false);
    }
  };
  return { busy, send };
}

function errorsOf(pot: RoundPot, error: ProblemError): Errors {
  const { problem } = error;
  if (problem.code === 'already-logged') {
    const time = problem.existing && new Date(problem.existing.at).toLocaleTimeString('en-GB', TIME);
    return {
      form: `${pot.code} was already logged${time ? ` at ${time}` : ''}, perhaps on the other device. Nothing was logged twice.`,
    };
  }
  const at: Errors = {
    fill: error.at('pouredMl'),
    flush: error.at('flushMl'),
    runOff: error.at('runOffPpm'),
    ppm: error.at('oldReservoir.ppm'),
    ph: error.at('oldReservoir.ph'),
    left: error.at('oldReservoir.leftMl'),
  };
  // Never refused without a word: what has no field here is said below them.
  return Object.values(at).some(Boolean) ? at : { form: problem.errors?.[0]?.message ?? problem.detail };
}
const TIME = { hour: '2-digit', minute: '2-digit' } as const;
