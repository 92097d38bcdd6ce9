import type { BenchStep } from '../../contract/bench.ts';

/** Sends one act; `thenDip` asks for the simulated pen as soon as the act is in. */
export type SendStep = (step: BenchStep, words: string, thenDip?: boolean) => Promise<'done' | 'waiting'>;
