import { useState, type KeyboardEvent, type MouseEvent, type PointerEvent } from 'react';

/** Less far than this, in pixels, a press is a press and no drag. */
const STILL_PX = 5;

/**
 * An act dragged along its lane: by pointer, or taken with M, moved with the arrows, dropped with Enter.
 * @returns `to`: the day it hangs over while it is held
 */
export function useLaneDrag(
  day: number,
  days: number,
  canMove: boolean,
  onMove: (to: number) => void,
  onChoose: () => void,
) {
  const [to, setTo] = useState<number>();
  const [from, setFrom] = useState<{ readonly x: number; readonly perDay: number }>();
  const drop = () => {
    if (to !== undefined && to !== day) onMove(to);
    else if (to !== undefined) onChoose();
    setTo(undefined);
  };
  const within = (one: number) => Math.max(0, Math.min(days - 1, one));
  const onPointerDown = (e: PointerEvent<SVGGElement>) => {
    if (!canMove || e.button !== 0) return;
    const svg = e.currentTarget.ownerSVGElement!;
    // The lanes' share of the picture's width, over their days.
    const perDay = (svg.getBoundingClientRect().width * Number(svg.dataset['lanes'])) / days;
    e.currentTarget.setPointerCapture?.(e.pointerId);
    setFrom({ x: e.clientX, perDay });
  };
  const onPointerMove = (e: PointerEvent<SVGGElement>) => {
    if (!from) return;
    const by = e.clientX - from.x;
    if (Math.abs(by) > STILL_PX || to !== undefined) setTo(within(day + Math.round(by / from.perDay)));
  };
  const onPointerUp = () => {
    setFrom(undefined);
    if (to === undefined) onChoose();
    else drop();
  };
  const onKeyDown = (e: KeyboardEvent<SVGGElement>) => {
    const step = { ArrowLeft: -1, ArrowRight: 1 }[e.key];
    if (to !== undefined && step !== undefined) setTo(within(to + step));
    else if (to === undefined && canMove && (e.key === 'm' || e.key === 'M')) setTo(day);
    else if (e.key === 'Escape' && to !== undefined) setTo(undefined);
    else if (e.key !== 'Enter' && e.key !== ' ') return;
    else if (to === undefined) onChoose();
    else drop();
    e.preventDefault();
    e.stopPropagation();
  };
  const onPointerCancel = () => {
    setFrom(undefined);
    setTo(undefined);
  };
  // A press by voice or a reading aid has no pointer.
  const onClick = (e: MouseEvent) => {
    if (e.detail === 0) onChoose();
  };
  return {
    to,
    handlers: canMove
      ? { onPointerDown, onPointerMove, onPointerUp, onPointerCancel, onKeyDown, onClick }
      : { onClick: onChoose, onKeyDown },
  };
}
