import { useState, type FormEvent } from 'react';
import type { ShelfKind, ShelfRoom, ShelfValues } from '../../contract/shelf.ts';
import { newId } from '../shell/api.ts';
import { FormModal } from '../shell/form-modal.tsx';
import { otherProblems, useAct } from '../shell/use-act.ts';
import { MeterFields, ToolFields, VesselFields, WaterFields } from './fields.tsx';
import { ProductFields } from './product-fields.tsx';
import { FIRST, FIELD_NAMES, TITLES, toText, toValues, type Texts } from './texts.ts';

type Props<K extends ShelfKind> = {
  what: K;
  room: ShelfRoom;
  existing?: { id: string; values: ShelfValues<K> } | undefined;
  onClose(id?: string): void;
};

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
  return (
    <FormModal
      title={existing ? `Change ${existing.values.name}` : `Add a ${TITLES[what].toLowerCase()}`}
      keep={existing ? 'Keep the change' : 'Add'}
      busy={busy}
      submit={(event) => void submit(event)}
      onClose={() => onClose()}
      large={what === 'product' && 'wide'}
      wrong={otherProblems(problems, FIELD_NAMES[what])}
    >
      <Fields what={what} texts={texts} change={change} problems={problems} room={room} />
    </FormModal>
  );
}

/** The fields of one kind of thing; the guided first minute shows the same ones. */
export function Fields({
  what,
  brief = false,
  ...props
}: {
  what: ShelfKind;
  /** Only what the guided first minute needs. */
  brief?: boolean;
  texts: Texts;
  change(part: Partial<Texts>): void;
  problems: Record<string, string>;
  room: ShelfRoom;
}) {
  switch (what) {
    case 'water':
      return <WaterFields {...props} brief={brief} />;
    case 'meter':
      return <MeterFields {...props} brief={brief} />;
    case 'tool':
      return <ToolFields {...props} />;
    case 'vessel':
      return <VesselFields {...props} />;
    case 'product':
      return <ProductFields {...props} brief={brief} />;
  }
}
