import { useEffect, useRef, useState } from 'react';
import type { PotModelWire } from '../../contract/drift.ts';
import type { ForecastDay } from '../../core/drift/index.ts';
import type { DriftAsk, DriftReply } from './drift-worker.ts';
import { answerPour, bandsOf, type PourAnswer, type PourQuestion } from './model.ts';

const newWorker = () => new Worker(new URL('./drift-worker.ts', import.meta.url), { type: 'module' });

/** The filling that comes, drawn in a worker whenever it is asked for otherwise. The last answer stands until the next is there. */
export function usePour(asked: PourQuestion | undefined): PourAnswer | undefined {
  const [answer, setAnswer] = useState<PourAnswer>();
  const worker = useRef<Worker | undefined>(undefined);
  const number = useRef(0);
  useEffect(() => {
    if (!asked) return setAnswer(undefined);
    const mine = ++number.current;
    if (typeof Worker === 'undefined') return setAnswer(answerPour(asked));
    const running = (worker.current ??= newWorker());
    const listen = ({ data }: MessageEvent<DriftReply>) => {
      if (data.kind === 'pour' && data.number === number.current) setAnswer(data.answer);
    };
    running.addEventListener('message', listen);
    running.postMessage({ number: mine, kind: 'pour', asked } satisfies DriftAsk);
    return () => running.removeEventListener('message', listen);
  }, [asked]);
  useEffect(
    () => () => {
      worker.current?.terminate();
      worker.current = undefined;
    },
    [],
  );
  return answer;
}

export type Bands = ReadonlyMap<string, readonly ForecastDay[]>;
export type BandsState =
  | { readonly state: 'working'; readonly done: number; readonly of: number; stop(): void }
  | { readonly state: 'stopped'; again(): void }
  | { readonly state: 'ready'; readonly bands: Bands };

/** Bands of pots from their fillings on, in a worker that says how far it is and can be stopped. */
export function useBands(models: readonly PotModelWire[] | undefined, daysAhead: number): BandsState {
  const [state, setState] = useState<{ bands?: Bands; done: number; stopped: boolean }>({ done: 0, stopped: false });
  const [turn, setTurn] = useState(0);
  const worker = useRef<Worker | undefined>(undefined);
  useEffect(() => {
    if (!models) return;
    setState({ done: 0, stopped: false });
    if (typeof Worker === 'undefined')
      return setState({
        bands: new Map(models.map((m) => [m.potId, bandsOf(m, daysAhead)])),
        done: models.length,
        stopped: false,
      });
    const running = newWorker();
    worker.current = running;
    running.addEventListener('message', ({ data }: MessageEvent<DriftReply>) => {
      if (data.kind === 'progress') setState((old) => ({ ...old, done: data.done }));
      if (data.kind === 'bands') setState({ bands: new Map(data.bands), done: models.length, stopped: false });
    });
    running.postMessage({ number: turn, kind: 'bands', models, daysAhead } satisfies DriftAsk);
    return () => running.terminate();
  }, [models, daysAhead, turn]);
  if (state.bands) return { state: 'ready', bands: state.bands };
  if (state.stopped) return { state: 'stopped', again: () => setTurn((n) => n + 1) };
  const stop = () => {
    worker.current?.terminate();
    setState({ done: 0, stopped: true });
  };
  return { state: 'working', done: state.done, of: models?.length ?? 0, stop };
}
