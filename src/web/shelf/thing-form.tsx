import { useState, type FormEvent } from 'react';
import Button from 'react-bootstrap/Button';
import Modal from 'react-bootstrap/Modal';
import type { ShelfKind, ShelfRoom, ShelfValues } from '../../contract/shelf.ts';
import { newId } from '../shell/api.ts';
import { otherProblems, useAct } from '../shell/use-act.ts';
import { MeterFields, ToolFields, VesselFields, WaterFields } from './fields.tsx';
import { ProductFields } from './product-fields.tsx';
import { FIRST, FIELD_NAMES, TITLES, toText, toValues, type Texts } from './texts.ts';

type Props<K extends ShelfKind> = { what: K; room: ShelfRoom; existing?: { id: string; values: ShelfValues<K> } | undefined; onClose(id?: string): void };

/** Adds a thing to the Shelf or changes one. */
export function ThingForm<K extends ShelfKind>({ what, room, existing, onClose }: Props<K>) {
  const [id] = useState(() => existing?.id ?? newId());
  const [texts, setTexts] = useState<Texts>(() => (existing ? toText(what, existing.values) : { ...FIRST[what] }));
  const { send, problems, busy } = useAct('/api/shelf/acts');
  const change = (part: Partial<Texts>) => setTexts((old) => ({ ...old, ...part }) as Texts);
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const values = toValues(what, texts, room);
    const words = `${existing ? 'Changed' : 'Added'} ${texts['name'] || TITLES[what].toLowerCase()}`;
    if (await send({ kind: 'put', what, id, values }, words)) onClose(id);
  };
  const other = otherProblems(problems, FIELD_NAMES[what]);
  return (
    <Modal show onHide={() => onClose()} animation={false} centered scrollable aria-labelledby="thing-title">
      <Modal.Header closeButton>
        <Modal.Title as="h2" id="thing-title">
          {existing ? `Change ${existing.values.name}` : `Add a ${TITLES[what].toLowerCase()}`}
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <form id="thing-form" noValidate onSubmit={(event) => void submit(event)} className="thing-form">
          <Fields what={what} texts={texts} change={change} problems={problems} room={room} />
          {other && (
            <p className="field-error mb-0" role="alert">
              {other}
            </p>
          )}
        </form>
      </Modal.Body>
      <Modal.Footer>
        <Button variant="outline-secondary" onClick={() => onClose()}>
          Leave it
        </Button>
        <Button type="submit" form="thing-form" disabled={busy}>
          {existing ? 'Keep the change' : 'Add'}
        </Button>
      </Modal.Footer>
    </Modal>
  );
}

/** The fields of one kind of thing; the guided first minute shows the same ones. */
export function Fields({
  what,
  ...props
}: {
  what: ShelfKind;
  texts: Texts;
  change(part: Partial<Texts>): void;
  problems: Record<string, string>;
  room: ShelfRoom;
}) {
  switch (what) {
    case 'water':
      return <WaterFields {...props} />;
    case 'meter':
      return <MeterFields {...props} />;
    case 'tool':
      return <ToolFields {...props} />;
    case 'vessel':
      return <VesselFields {...props} />;
    case 'product':
      return <ProductFields {...props} />;
  }
}
