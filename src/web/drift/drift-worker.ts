import type { PotModelWire } from '../../contract/drift.ts';
import type { ForecastDay } from '../../core/drift/index.ts';
import { answerPour, bandsOf, type PourAnswer, type PourQuestion } from './model.ts';

/* Forecasts are drawn beside the page, so that it never stands still. A collection says how far it is; whoever wants no more ends the worker. */

export type DriftAsk =
  | { number: number; kind: 'pour'; asked: PourQuestion }
  | { number: number; kind: 'bands'; models: readonly PotModelWire[]; daysAhead: number };
export type DriftReply =
  | { number: number; kind: 'pour'; answer: PourAnswer }
  | { number: number; kind: 'progress'; done: number; of: number }
  | { number: number; kind: 'bands'; bands: readonly (readonly [string, readonly ForecastDay[]])[] };

/** Pots between two words of progress. */
const EVERY = 10;
const say = (reply: DriftReply) => postMessage(reply);

addEventListener('message', ({ data }: MessageEvent<DriftAsk>) => {
  const { number } = data;
  if (data.kind === 'pour') return say({ number, kind: 'pour', answer: answerPour(data.asked) });
  const bands = data.models.map((model, i) => {
    if (i % EVERY === 0) say({ number, kind: 'progress', done: i, of: data.models.length });
    return [model.potId, bandsOf(model, data.daysAhead)] as const;
  });
  say({ number, kind: 'bands', bands });
});
