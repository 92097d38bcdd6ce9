import type { ReactNode } from 'react';
import Button from 'react-bootstrap/Button';
import type { ShelfAct, ShelfKind, ShelfRoom } from '../../contract/shelf.ts';
import { dayMonth } from '../shell/format.ts';

/** Small acts with a form of their own. */
export type SmallKind = 'read' | 'count' | 'bottle' | 'check' | 'mark' | 'drops' | 'stand';
export type SheetProps<T> = {
  room: ShelfRoom;
  thing: T;
  edit(): void;
  small(kind: SmallKind): void;
  act(body: ShelfAct, words: string): Promise<void>;
};

/** The sheet of the chosen thing: its name, its state, what can be done with it. */
export function Sheet({
  what,
  thing,
  about,
  edit,
  act,
  children,
}: {
  what: ShelfKind;
  thing: { id: string; retiredOn: string | null; values: { name: string } };
  about: ReactNode;
  edit(): void;
  act(body: ShelfAct, words: string): Promise<void>;
  children: ReactNode;
}) {
  const { name } = thing.values;
  return (
    <section className="sheet shelf-sheet" aria-label={name}>
      <header>
        <h2 className="min-0">{name}</h2>
        <div className="push d-flex gap-2">
          {thing.retiredOn ? (
            <>
              <span className="small align-self-center nowrap">retired {dayMonth(thing.retiredOn)}</span>
              <Button
                size="sm"
                variant="outline-secondary"
                onClick={() => void act({ kind: 'bringBack', what, id: thing.id }, `Brought back ${name}`)}
              >
                Bring back
              </Button>
            </>
          ) : (
            <>
              <Button size="sm" variant="outline-secondary" aria-label={`Change ${name}`} onClick={edit}>
                Change
              </Button>
              <Button
                size="sm"
                variant="outline-secondary"
                aria-label={`Retire ${name}`}
                onClick={() => void act({ kind: 'retire', what, id: thing.id }, `Retired ${name}`)}
              >
                Retire
              </Button>
            </>
          )}
        </div>
      </header>
      <div className="small">{about}</div>
      {children}
    </section>
  );
}
