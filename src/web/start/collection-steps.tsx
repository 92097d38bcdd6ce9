import { useQuery } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import {
  FIRST_BY_LABEL,
  FIRST_REGIMEN,
  FirstRegimenFields,
  PastedList,
  PotForm,
  schoolsQuery,
  toRegimenTexts,
  toRegimenValues,
} from '../pots/index.ts';
import { newId } from '../shell/api.ts';
import { LabelledField } from '../shell/labelled-field.tsx';
import { useAct } from '../shell/use-act.ts';
import type { StepProps } from './step-props.ts';

/** Places, one on a line; what comes after a comma is its note. */
export function PlacesStep({ view, next }: StepProps) {
  const [text, setText] = useState('');
  const [wrong, setWrong] = useState<string>();
  const { send, problems, busy } = useAct('/api/pots/acts');
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const lines = text
      .split('\n')
      .map((line) => line.trim())
      .filter(Boolean);
    if (lines.length === 0) {
      setWrong('Write at least one place, such as Kitchen sill.');
      return;
    }
    setWrong(undefined);
    const there = new Set(view.places.map((p) => p.name.toLowerCase()));
    for (const line of lines) {
      const [name = '', ...note] = line.split(',');
      if (there.has(name.trim().toLowerCase())) continue;
      if (
        !(await send(
          { kind: 'putPlace', placeId: newId(), values: { name, note: note.join(',').trim(), light: null } },
          `Added ${name}`,
          { toast: false },
        ))
      )
        return;
      there.add(name.trim().toLowerCase());
    }
    next();
  };
  return (
    <form className="thing-form" noValidate onSubmit={(e) => void submit(e)}>
      <LabelledField
        label="Places, one on a line"
        error={wrong ?? Object.values(problems)[0]}
        hint="A comma, then what it is like: Kitchen sill, bright and warm. Pots on a pasted list may name more."
      >
        {(a) => (
          <Form.Control
            {...a}
            as="textarea"
            rows={5}
            autoFocus
            placeholder={'Kitchen sill, bright\nBathroom shelf, lamps 12 h'}
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
        )}
      </LabelledField>
      <Button type="submit" disabled={busy}>
        Keep, and go on
      </Button>
    </form>
  );
}

/** The first regimen: the usual weak feed, to be kept as it is or changed. */
export function RegimenStep({ room, next }: StepProps) {
  const pen = room.meters.some((m) => m.values.quantity === 'ppm');
  const [texts, setTexts] = useState(() => toRegimenTexts(pen ? FIRST_REGIMEN : FIRST_BY_LABEL));
  const schools = useQuery(schoolsQuery).data?.schools.filter((s) => s.source === 'common practice') ?? [];
  const { send, problems, busy } = useAct('/api/pots/acts');
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    if (
      await send({ kind: 'putRegimen', regimenId: newId(), values: toRegimenValues(texts) }, `Added ${texts.name}`, {
        toast: false,
      })
    )
      next();
  };
  return (
    <form className="thing-form" noValidate onSubmit={(e) => void submit(e)}>
      <LabelledField
        label="Begin from"
        error={undefined}
        hint={schools.find((s) => s.school === texts.school)?.words ?? 'Everything can be changed later.'}
      >
        {(a) => (
          <Form.Select
            {...a}
            value={texts.school}
            onChange={(e) => {
              const school = schools.find((s) => s.school === e.target.value);
              if (school) setTexts(toRegimenTexts({ ...school.values, name: school.title }));
            }}
          >
            {schools.length === 0 && <option value={texts.school}>Constant dilute</option>}
            {schools.map((s) => (
              <option key={s.school} value={s.school}>
                {s.title}
              </option>
            ))}
          </Form.Select>
        )}
      </LabelledField>
      <FirstRegimenFields
        texts={texts}
        change={(part) => setTexts((old) => ({ ...old, ...part }))}
        problems={problems}
      />
      <Button type="submit" disabled={busy}>
        Keep, and go on
      </Button>
    </form>
  );
}

/** The pots: a pasted list, or one at a time. */
export function PotsStep({ view, next, stay }: StepProps) {
  const [adding, setAdding] = useState(false);
  const missing = view.regimens.length === 0 ? 'a regimen' : undefined;
  if (missing) return <p className="mb-0">First keep {missing}: choose that step on the left.</p>;
  return (
    <div className="d-grid gap-3">
      <PastedList view={view} onAdded={next} onSomeLeft={stay} />
      <div>
        <Button variant="outline-secondary" disabled={view.places.length === 0} onClick={() => setAdding(true)}>
          Or add one at a time
        </Button>
      </div>
      {adding && (
        <PotForm
          view={view}
          onClose={(potId) => {
            setAdding(false);
            if (potId) next();
          }}
        />
      )}
    </div>
  );
}
