import { useState, type FormEvent } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import type { ShelfKind } from '../../contract/shelf.ts';
import { NOT_MEASURED, parseReading } from '../../core/quantity/index.ts';
import { FIELD_NAMES, Fields, FIRST, toValues, type Texts } from '../shelf/index.ts';
import { newId } from '../shell/api.ts';
import { LabelledField } from '../shell/labelled-field.tsx';
import { otherProblems, problemAt, useAct } from '../shell/use-act.ts';
import type { StepProps } from './step-props.ts';

/** A step that puts one thing on the Shelf, with the same fields as there. */
export function ShelfStep({ what, first, room, next }: StepProps & { what: ShelfKind; first: Texts }) {
  const [texts, setTexts] = useState<Texts>({ ...FIRST[what], ...first });
  const { send, problems, busy } = useAct('/api/shelf/acts');
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    if (
      await send({ kind: 'put', what, id: newId(), values: toValues(what, texts, room) }, `Kept ${texts['name']}`, {
        toast: false,
      })
    )
      next();
  };
  const other = otherProblems(problems, FIELD_NAMES[what]);
  return (
    <form className="thing-form" noValidate onSubmit={(e) => void submit(e)}>
      <Fields
        brief
        what={what}
        texts={texts}
        change={(part) => setTexts((old) => ({ ...old, ...part }) as Texts)}
        problems={problems}
        room={room}
      />
      {other && (
        <p className="field-error mb-0" role="alert">
          {other}
        </p>
      )}
      <Button type="submit" disabled={busy}>
        Keep, and go on
      </Button>
    </form>
  );
}

/** The first water, and at once its first reading. */
export function WaterStep({ room, next, stay }: StepProps) {
  const [texts, setTexts] = useState<Texts>({ ...FIRST.water, name: 'Still water' });
  const [reads, setReads] = useState('');
  const [id] = useState(newId);
  const water = useAct('/api/shelf/acts');
  const reading = useAct('/api/shelf/acts');
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const parsed = parseReading(reads, 'ppm');
    if (!parsed.ok) {
      reading.setProblems({ ppm: parsed.message });
      return;
    }
    reading.setProblems({});
    // The water alone makes the step count as done; its reading still follows.
    stay();
    if (
      !(await water.send(
        { kind: 'put', what: 'water', id, values: toValues('water', texts, room) },
        `Kept ${texts['name']}`,
        { toast: false },
      ))
    )
      return;
    if (parsed.reading.kind !== 'notMeasured') {
      const body = {
        kind: 'readWater',
        waterId: id,
        ppm: parsed.reading,
        ph: NOT_MEASURED,
        ppmMeterId: room.mainPpmMeterId,
        phMeterId: null,
      };
      if (!(await reading.send(body, `Read ${texts['name']}`, { toast: false }))) return;
    }
    next();
  };
  const rename = (part: Partial<Texts>) =>
    setTexts((old) => {
      const usual: Record<string, string> = { still: 'Still water', tap: 'Kitchen tap', rain: 'Rain water', other: '' };
      const named =
        part['kind'] !== undefined && Object.values(usual).includes(old['name'] ?? '')
          ? { name: usual[part['kind']] ?? '' }
          : {};
      return { ...old, ...named, ...part } as Texts;
    });
  return (
    <form className="thing-form" noValidate onSubmit={(e) => void submit(e)}>
      <Fields brief what="water" texts={texts} change={rename} problems={water.problems} room={room} />
      {room.mainPpmMeterId && (
        <LabelledField
          label="What your pen reads in it, ppm"
          error={
            problemAt(reading.problems, 'ppm') ??
            otherProblems(reading.problems, ['ppm']) ??
            otherProblems(water.problems, FIELD_NAMES.water)
          }
          hint="Rinse the pen, dip, stir, wait until it stands still. Empty: not measured."
        >
          {(a) => (
            <Form.Control
              {...a}
              inputMode="decimal"
              autoComplete="off"
              value={reads}
              onChange={(e) => setReads(e.target.value)}
            />
          )}
        </LabelledField>
      )}
      {!room.mainPpmMeterId && otherProblems(water.problems, FIELD_NAMES.water) && (
        <p className="field-error mb-0" role="alert">
          {otherProblems(water.problems, FIELD_NAMES.water)}
        </p>
      )}
      <Button type="submit" disabled={water.busy || reading.busy}>
        Keep, and go on
      </Button>
    </form>
  );
}
