import type { ClayFit } from '../../core/clay/index.ts';
import { answerLeach, type LeachWish } from '../../core/clay/index.ts';

/* What a batch's leach comes to, worked out beside the page so that it never stands still. */

/** The last fit, and of what: a minute later nothing else was read. */
let last: { of: string; fit: ClayFit } | undefined;

addEventListener('message', (event: MessageEvent<{ number: number; wish: LeachWish }>) => {
  const { number, wish } = event.data;
  const of = JSON.stringify([wish.asked.prior, wish.asked.history]);
  const answer = answerLeach(wish, last?.of === of ? last.fit : undefined);
  last = { of, fit: answer.model.fit };
  postMessage({ number, answer });
});
