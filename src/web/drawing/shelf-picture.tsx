import { memo, useCallback, useEffect, useRef, useState, type KeyboardEvent, type ReactNode } from 'react';
import type { PotDrawing } from '../../contract/common.ts';
import { PotSection } from './pot-section.tsx';
import { potWords } from './pot-words.ts';

/** A pot as the shelf shows it: large when it is this round's work, small and quiet when not. */
export type ShelfPot = {
  id: string;
  code: string;
  name: string;
  drawing: PotDrawing;
  tag: string;
  tone: 'late' | 'due' | 'quiet' | 'done' | 'plain' | 'plain-late';
  badge?: { text: string; tone: 'mix-0' | 'mix-1' | 'mix-2' | 'done' | 'skipped' } | undefined;
  /** What is to be read of it, above it. */
  read?: { text: string; asked: boolean } | undefined;
  words?: string;
};
export type ShelfPlace = { id: string; name: string; note: string; pots: readonly ShelfPot[] };

/** Beyond so many pots a shelf draws only those in sight. */
const MANY = 24;

type Props = { places: readonly ShelfPlace[]; selectedId?: string | undefined; onSelect(id: string): void };

/** The shelf picture: pots stand on their real shelves in their real order, because that is how they are carried to the bench. */
export function ShelfPicture({ places, selectedId, onSelect }: Props) {
  // One function for all pots and all times, so that a pot that did not change is not drawn again.
  const onSelectNow = useRef(onSelect);
  useEffect(() => {
    onSelectNow.current = onSelect;
  });
  const select = useCallback((id: string) => onSelectNow.current(id), []);
  const moveFocus = (event: KeyboardEvent<HTMLDivElement>) => {
    const step = { ArrowRight: 1, ArrowLeft: -1 }[event.key];
    if (!step) return;
    const buttons = [...event.currentTarget.querySelectorAll<HTMLButtonElement>('button.shelf-pot')];
    const next = buttons[buttons.indexOf(document.activeElement as HTMLButtonElement) + step];
    if (document.activeElement instanceof HTMLButtonElement && next) {
      next.focus();
      event.preventDefault();
      event.stopPropagation();
    }
  };
  return (
    <div className="shelves" role="group" aria-label="Shelves" onKeyDown={moveFocus}>
      {places.map((place) => (
        <Shelf key={place.id} place={place}>
          {place.pots.map((pot) => (
            <ShelfButton key={pot.id} pot={pot} selected={pot.id === selectedId} onSelect={select} />
          ))}
        </Shelf>
      ))}
    </div>
  );
}

/** A shelf with its board; what of it stands outside the picture is counted, and a press goes on to it. */
function Shelf({ place, children }: { place: ShelfPlace; children: ReactNode }) {
  const { board, left, right } = useOutOfSight(place.pots.length);
  const turn = (way: 1 | -1) =>
    board.current?.scrollBy({ left: way * TURN * board.current.clientWidth, behavior: 'instant' });
  return (
    <section className="shelf" aria-label={`${place.name}, ${place.note}`}>
      <h2>
        {place.name} <small>{place.note}</small>
        {(left > 0 || right > 0) && (
          <span className="more-pots">
            <MorePots count={left} words={`‹ ${left} more`} onTurn={() => turn(-1)} />
            <MorePots count={right} words={`${right} more ›`} onTurn={() => turn(1)} />
          </span>
        )}
      </h2>
      <div
        ref={board}
        className={`board ${place.pots.length > MANY ? 'many' : ''} ${left > 0 ? 'goes-left' : ''} ${right > 0 ? 'goes-right' : ''}`}
      >
        {children}
      </div>
    </section>
  );
}

/** A turn of a long shelf goes on by so much of what is in sight. */
const TURN = 0.85;

function MorePots({ count, words, onTurn }: { count: number; words: string; onTurn(): void }) {
  return (
    <button type="button" className="btn btn-link btn-sm" disabled={count === 0} onClick={onTurn}>
      {words}
    </button>
  );
}

/** So much of a pot may stand past the edge and it is still seen whole: its margin. */
const BLEED_PX = 6;

/** How many of a board's pots are not seen whole, left and right. */
function useOutOfSight(pots: number) {
  const board = useRef<HTMLDivElement>(null);
  const [out, setOut] = useState({ left: 0, right: 0 });
  useEffect(() => {
    const element = board.current;
    if (!element || typeof ResizeObserver === 'undefined') return undefined;
    const count = () => {
      const { left: from, right: to } = element.getBoundingClientRect();
      const edges = [...element.children].map((pot) => pot.getBoundingClientRect());
      const left = edges.filter((pot) => pot.left < from - BLEED_PX).length;
      const right = edges.filter((pot) => pot.right > to + BLEED_PX).length;
      setOut((was) => (was.left === left && was.right === right ? was : { left, right }));
    };
    const observer = new ResizeObserver(count);
    observer.observe(element);
    element.addEventListener('scroll', count, { passive: true });
    return () => {
      observer.disconnect();
      element.removeEventListener('scroll', count);
    };
  }, [pots]);
  return { board, ...out };
}

const ShelfButton = memo(function ShelfButton({
  pot,
  selected,
  onSelect,
}: {
  pot: ShelfPot;
  selected: boolean;
  onSelect(id: string): void;
}) {
  return (
    <button
      type="button"
      className={`shelf-pot ${pot.tone}`}
      aria-pressed={selected}
      aria-label={shelfPotWords(pot)}
      data-pot={pot.code}
      onClick={() => onSelect(pot.id)}
    >
      <ShelfPotFace pot={pot} />
    </button>
  );
});

/** What stands on the board for one pot: its mark, its section, its label. */
export function ShelfPotFace({ pot }: { pot: ShelfPot }) {
  return (
    <>
      {pot.read && <span className={pot.read.asked ? 'read-mark asked' : 'read-mark'}>{pot.read.text}</span>}
      {pot.badge && <span className={`badge-mark ${pot.badge.tone}`}>{pot.badge.text}</span>}
      <PotSection
        drawing={pot.drawing}
        seed={pot.code}
        decorative
        size={pot.tone === 'due' || pot.tone === 'late' ? 62 : 42}
      />
      <span className="tag">
        <b>{pot.code}</b>
        <span>{pot.tag}</span>
      </span>
    </>
  );
}

/** A pot on the shelf in words. */
export function shelfPotWords(pot: ShelfPot): string {
  return `${pot.code} ${pot.name}, ${pot.words ?? pot.tag}; ${potWords(pot.drawing)}`;
}
