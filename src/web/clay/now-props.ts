import type { ClayBatchView, ClayRoom } from '../../contract/clay.ts';
import type { LeachForecast } from '../../core/clay/index.ts';
import type { LeachModel } from '../../core/clay/index.ts';

/** What every state of a batch's now card goes by. */
export type NowProps = {
  room: ClayRoom;
  batch: ClayBatchView;
  model: LeachModel;
  forecast: LeachForecast;
  /** Hours until the way that is followed changes the water; undefined when it needs no change. */
  nextInHours: number | undefined;
  nowMs: number;
  zone: string;
  onPen(half: number): number;
  keys: boolean;
};

export const round1 = (l: number) => Math.round(l * 10) / 10;
