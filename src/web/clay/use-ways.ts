import { useEffect, useRef, useState } from 'react';
import { leachOf, wayForecast, WAYS, type LeachQuestion, type WayForecast } from './leach.ts';

/** The three ways to the gate, planned anew in a worker whenever something was read or changed. Undefined until the first answer. */
export function useWays(asked: LeachQuestion | undefined): readonly WayForecast[] | undefined {
  const [ways, setWays] = useState<readonly WayForecast[]>();
  const worker = useRef<Worker | undefined>(undefined);
  const asking = useRef(0);
  useEffect(() => {
    if (!asked) return setWays(undefined);
    const number = ++asking.current;
    if (typeof Worker === 'undefined') {
      const leach = leachOf(asked);
      return setWays(WAYS.map((way) => wayForecast(leach, way)));
    }
    worker.current ??= new Worker(new URL('./ways-worker.ts', import.meta.url), { type: 'module' });
    const answer = (event: MessageEvent<{ number: number; ways: WayForecast[] }>) => {
      if (event.data.number === asking.current) setWays(event.data.ways);
    };
    const { current } = worker;
    current.addEventListener('message', answer);
    current.postMessage({ number, asked });
    return () => current.removeEventListener('message', answer);
  }, [asked]);
  useEffect(
    () => () => {
      worker.current?.terminate();
      worker.current = undefined;
    },
    [],
  );
  return ways;
}
