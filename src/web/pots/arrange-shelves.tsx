import {
  closestCenter,
  DndContext,
  DragOverlay,
  MouseSensor,
  TouchSensor,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
  type DragEndEvent,
} from '@dnd-kit/core';
import { useState, type KeyboardEvent, type MouseEvent } from 'react';
import { ShelfPotFace, shelfPotWords, type ShelfPlace, type ShelfPot } from '../drawing/index.ts';

type Props = {
  places: readonly ShelfPlace[];
  chosen: ReadonlySet<string>;
  /** Taps choose rather than open. */
  choosing: boolean;
  open(id: string): void;
  toggle(id: string): void;
  /** Moves pots before another of a place, or to its end. */
  move(potIds: readonly string[], placeId: string, beforePotId: string | null): void;
};

/** Where a pot goes by Shift and an arrow: before which pot of which place, or its end; undefined at an edge. */
function moveOf(
  places: readonly ShelfPlace[],
  id: string,
  key: string,
): { placeId: string; beforePotId: string | null } | undefined {
  const p = places.findIndex((place) => place.pots.some((pot) => pot.id === id));
  const here = places[p];
  if (!here) return undefined;
  const i = here.pots.findIndex((pot) => pot.id === id);
  const before = (place: ShelfPlace, n: number) => ({ placeId: place.id, beforePotId: place.pots[n]?.id ?? null });
  if (key === 'ArrowRight') return here.pots[i + 1] && before(here, i + 2);
  if (key === 'ArrowLeft') return here.pots[i - 1] && before(here, i - 1);
  const other = { ArrowDown: places[p + 1], ArrowUp: places[p - 1] }[key];
  return other && before(other, i);
}

/**
 * The shelves, to be arranged: drag a pot to where it stands (all chosen ones come along), or put the focus on it and press Shift with an
 * arrow. A tap opens the pot's page; Ctrl or Shift with the tap chooses it.
 */
export function ArrangeShelves({ places, chosen, choosing, open, toggle, move }: Props) {
  const [dragged, setDragged] = useState<ShelfPot>();
  // A few pixels before a press counts as a drag, so that clicks and sideways scrolling stay what they are.
  const sensors = useSensors(
    useSensor(MouseSensor, { activationConstraint: { distance: 6 } }),
    useSensor(TouchSensor, { activationConstraint: { delay: 250, tolerance: 8 } }),
  );
  const pots = places.flatMap((place) => place.pots);
  const drop = ({ active, over }: DragEndEvent) => {
    setDragged(undefined);
    const id = String(active.id);
    if (!over || over.id === id) return;
    const moving = chosen.has(id) ? pots.filter((p) => chosen.has(p.id)).map((p) => p.id) : [id];
    const place =
      places.find((p) => `place:${p.id}` === over.id) ?? places.find((p) => p.pots.some((pot) => pot.id === over.id));
    if (!place || moving.includes(String(over.id))) return;
    move(moving, place.id, place.pots.some((pot) => pot.id === over.id) ? String(over.id) : null);
  };
  const keys = (event: KeyboardEvent<HTMLDivElement>) => {
    const focused = document.activeElement;
    const id = focused instanceof HTMLElement ? focused.dataset['id'] : undefined;
    if (!id || !places.some((place) => place.pots.some((pot) => pot.id === id))) return;
    const to = event.shiftKey ? moveOf(places, id, event.key) : undefined;
    if (event.key === 'x' || event.key === ' ') toggle(id);
    else if (to) move([id], to.placeId, to.beforePotId);
    else if (!event.shiftKey && (event.key === 'ArrowRight' || event.key === 'ArrowLeft')) {
      const buttons = [...event.currentTarget.querySelectorAll<HTMLButtonElement>('button.shelf-pot')];
      buttons[buttons.indexOf(focused as HTMLButtonElement) + (event.key === 'ArrowRight' ? 1 : -1)]?.focus();
    } else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragStart={({ active }) => setDragged(pots.find((p) => p.id === active.id))}
      onDragEnd={drop}
      onDragCancel={() => setDragged(undefined)}
    >
      <div className="shelves arrange" role="group" aria-label="Shelves" onKeyDown={keys}>
        {places.map((place) => (
          <Board key={place.id} place={place} dragging={dragged !== undefined}>
            {place.pots.map((pot) => (
              <Draggable
                key={pot.id}
                pot={pot}
                chosen={chosen.has(pot.id)}
                lifted={dragged?.id === pot.id}
                tap={(event) =>
                  choosing || event.ctrlKey || event.metaKey || event.shiftKey ? toggle(pot.id) : open(pot.id)
                }
              />
            ))}
          </Board>
        ))}
      </div>
      <DragOverlay dropAnimation={null}>
        {dragged && (
          <div className="shelf-pot plain lifted">
            <ShelfPotFace pot={dragged} />
            {chosen.has(dragged.id) && chosen.size > 1 && <span className="badge-mark mix-0">{chosen.size}</span>}
          </div>
        )}
      </DragOverlay>
    </DndContext>
  );
}

function Board({ place, dragging, children }: { place: ShelfPlace; dragging: boolean; children: React.ReactNode }) {
  const { setNodeRef, isOver } = useDroppable({ id: `place:${place.id}` });
  return (
    <section className="shelf" aria-label={`${place.name}, ${place.note}`}>
      <h2>
        {place.name} <small>{place.note}</small>
      </h2>
      <div className={`board ${place.pots.length > 24 ? 'many' : ''}`}>
        {children}
        {place.pots.length === 0 && !dragging && <span className="small p-3">No pots here</span>}
        <div ref={setNodeRef} className={`board-end ${isOver ? 'over' : ''}`} aria-hidden />
      </div>
    </section>
  );
}

function Draggable({
  pot,
  chosen,
  lifted,
  tap,
}: {
  pot: ShelfPot;
  chosen: boolean;
  lifted: boolean;
  tap(event: MouseEvent): void;
}) {
  const drag = useDraggable({ id: pot.id });
  const drop = useDroppable({ id: pot.id });
  return (
    <button
      type="button"
      ref={(node) => {
        drag.setNodeRef(node);
        drop.setNodeRef(node);
      }}
      className={`shelf-pot ${pot.tone} ${chosen ? 'chosen' : ''} ${lifted ? 'away' : ''} ${drop.isOver ? 'over' : ''}`}
      aria-label={`${shelfPotWords(pot)}${chosen ? '; chosen' : ''}`}
      aria-keyshortcuts="Shift+ArrowLeft Shift+ArrowRight Shift+ArrowUp Shift+ArrowDown X"
      data-pot={pot.code}
      data-id={pot.id}
      onClick={tap}
      {...drag.listeners}
    >
      <ShelfPotFace pot={pot} />
    </button>
  );
}
