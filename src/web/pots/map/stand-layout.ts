import { forceCollide, forceSimulation, forceX, forceY } from 'd3-force';
import { scaleLinear, scaleLog } from 'd3-scale';
import type { PlacedPot } from '../pot-filters.ts';

/** Old reservoir ÷ poured, and pH at the change: what lies outside stands at the edge. */
export const RATIO_DOMAIN = [0.5, 2.7] as const;
export const PH_DOMAIN = [4.95, 8.05] as const;
/** Inside both, a pot is where most growers want it (common practice). */
export const COMFORTABLE = { ratio: [0.8, 1.4], ph: [5.5, 6.5] } as const;
/** The worst of them are drawn as pots with their names; a dozen names would be none. */
const NAMED = 4;
const NAMED_FROM_TROUBLE = 4;
const STEPS = 160;

export type Frame = { readonly left: number; readonly right: number; readonly top: number; readonly bottom: number };
export type Placed = { readonly pot: PlacedPot; readonly x: number; readonly y: number; readonly named: boolean };

export const scalesOf = (frame: Frame) => ({
  x: scaleLog(RATIO_DOMAIN, [frame.left, frame.right]).clamp(true),
  y: scaleLinear(PH_DOMAIN, [frame.bottom, frame.top]).clamp(true),
});

/** The last pH of a pot, as it came out. */
export const lastPhOf = (pot: PlacedPot) => pot.stand.phs.at(-1)?.ph;
/** Can it be shown: were a strength and a pH read at a visit? */
export const isRead = (pot: PlacedPot) => pot.stand.ran !== null && lastPhOf(pot) !== undefined;

/** Outside of where most want it, on the picture. */
function standsOut(pot: PlacedPot): boolean {
  const [ratio, ph] = [pot.stand.ran!.ratio, lastPhOf(pot)!];
  return (
    ratio < COMFORTABLE.ratio[0] ||
    ratio > COMFORTABLE.ratio[1] + 0.2 ||
    ph < COMFORTABLE.ph[0] ||
    ph > COMFORTABLE.ph[1] + 0.35
  );
}

/**
 * Places pots by how much stronger they come out than they were poured, and their pH, nudged apart so that none hides another; each stays as
 * near to its place as the others allow. The same pots always stand the same way.
 * @param size half the width of a mark, px
 */
export function layOut(pots: readonly PlacedPot[], frame: Frame, size: number): Placed[] {
  const { x, y } = scalesOf(frame);
  const shown = pots.filter(isRead);
  const named = new Set(
    [...shown]
      .filter((pot) => pot.stand.trouble >= NAMED_FROM_TROUBLE && standsOut(pot))
      .sort((a, b) => b.stand.trouble - a.stand.trouble)
      .slice(0, NAMED)
      .map((pot) => pot.id),
  );
  const nodes = shown.map((pot) => {
    const isNamed = named.has(pot.id);
    const [atX, atY] = [x(pot.stand.ran!.ratio), y(lastPhOf(pot)!)];
    return { pot, atX, atY, x: atX, y: atY, named: isNamed, r: isNamed ? size * 2.6 : size };
  });
  forceSimulation(nodes)
    .randomSource(seeded())
    .force('x', forceX<(typeof nodes)[number]>((n) => n.atX).strength(0.12))
    .force('y', forceY<(typeof nodes)[number]>((n) => n.atY).strength(0.25))
    .force('apart', forceCollide<(typeof nodes)[number]>((n) => n.r + 1.5).iterations(3))
    .stop()
    .tick(STEPS);
  const within = (v: number, low: number, high: number) => Math.min(high, Math.max(low, v));
  return nodes.map((n) => ({
    pot: n.pot,
    named: n.named,
    x: within(n.x, frame.left + n.r, frame.right - (n.named ? size * 1.4 : n.r)),
    // A pot with its plant stands higher than it is wide.
    y: within(n.y, frame.top + (n.named ? 36 : n.r), frame.bottom - n.r),
  }));
}

/** Numbers that are the same every time, as the layout wants something to part two pots by that stand on one spot. */
function seeded(): () => number {
  let state = 1;
  return () => (state = (state * 16807) % 2147483647) / 2147483647;
}

export type Box = { readonly x: number; readonly y: number; readonly w: number; readonly h: number };
const overlap = (a: Box, b: Box) =>
  Math.max(0, Math.min(a.x + a.w, b.x + b.w) - Math.max(a.x, b.x)) *
  Math.max(0, Math.min(a.y + a.h, b.y + b.h) - Math.max(a.y, b.y));

/** Of the places a label could stand, the one that covers least of what is there and stays inside; undefined where each would cover too much. */
export function leastCovered(
  places: readonly Box[],
  taken: readonly Box[],
  frame: Frame,
  most: number,
): number | undefined {
  const cost = (b: Box) =>
    taken.reduce((sum, t) => sum + overlap(b, t), 0) +
    10 *
      (Math.max(0, frame.left - b.x) +
        Math.max(0, b.x + b.w - frame.right) +
        Math.max(0, frame.top - b.y) +
        Math.max(0, b.y + b.h - frame.bottom)) *
      b.h;
  let best = 0;
  places.forEach((place, i) => {
    if (cost(place) < cost(places[best]!)) best = i;
  });
  return cost(places[best]!) <= most ? best : undefined;
}

/** The next pot from one in a direction, as arrow keys go: near, and more that way than across. @returns undefined where there is none */
export function nextTo(
  from: { x: number; y: number },
  all: readonly Placed[],
  dx: number,
  dy: number,
): Placed | undefined {
  let best: { at: Placed; cost: number } | undefined;
  for (const at of all) {
    const [ax, ay] = [at.x - from.x, at.y - from.y];
    const along = ax * dx + ay * dy;
    if (along < 1) continue;
    const across = Math.abs(ax * dy) + Math.abs(ay * dx);
    const cost = along + 2 * across;
    if (!best || cost < best.cost) best = { at, cost };
  }
  return best?.at;
}
