import { leachOf, wayForecast, WAYS, type LeachQuestion } from './leach.ts';

/* The ways to the gate, worked out beside the page so that it never stands still. */

addEventListener('message', (event: MessageEvent<{ number: number; asked: LeachQuestion }>) => {
  const leach = leachOf(event.data.asked);
  postMessage({ number: event.data.number, ways: WAYS.map((way) => wayForecast(leach, way)) });
});
