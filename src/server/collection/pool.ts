import { availableParallelism } from 'node:os';
import { Piscina } from 'piscina';
import type { Tasks } from './pool-worker.ts';

// Shipped, the worker stands bundled beside this file.
const fromSource = import.meta.url.endsWith('.ts');
let pool: Piscina | undefined;

/** A piece of work on plain data, in a thread of its own: one thread less than there are cores, so that the devices are served meanwhile. */
export function inPool<K extends keyof Tasks>(name: K, task: Parameters<Tasks[K]>[0]): Promise<ReturnType<Tasks[K]>> {
  pool ??= new Piscina({
    filename: new URL(fromSource ? './pool-worker-from-source.mjs' : './pool-worker.js', import.meta.url).href,
    minThreads: 0,
    maxThreads: Math.min(4, Math.max(1, availableParallelism() - 1)),
    idleTimeout: 60_000,
  });
  return pool.run(task, { name }) as Promise<ReturnType<Tasks[K]>>;
}
