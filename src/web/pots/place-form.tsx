import { useState, type FormEvent } from 'react';
import Form from 'react-bootstrap/Form';
import { LIGHT_WORDS, LIGHTS } from '../../contract/kinds.ts';
import type { PlaceValues } from '../../contract/pots.ts';
import { PlaceYear, toYear, yearTexts } from './place-year.tsx';
import { newId } from '../shell/api.ts';
import { FormModal } from '../shell/form-modal.tsx';
import { LabelledField } from '../shell/labelled-field.tsx';
import { otherProblems, problemAt, useAct, type Problems } from '../shell/use-act.ts';

type Texts = Record<string, string>;

/** Adds a place or changes one. */
export function PlaceForm({
  existing,
  onClose,
}: {
  existing?: { id: string; values: PlaceValues } | undefined;
  onClose(id?: string): void;
}) {
  const [id] = useState(() => existing?.id ?? newId());
  const [texts, setTexts] = useState<Texts>({
    name: existing?.values.name ?? '',
    note: existing?.values.note ?? '',
    light: existing?.values.light ?? '',
  });
  const [year, setYear] = useState(() => yearTexts(existing?.values.year));
  const { send, problems, busy } = useAct('/api/pots/acts');
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const values = { ...texts, light: texts['light'] || null, year: toYear(year) };
    if (
      await send(
        { kind: 'putPlace', placeId: id, values },
        `${existing ? 'Changed' : 'Added'} the place ${texts['name']}`,
      )
    )
      onClose(id);
  };
  return (
    <FormModal
      title={existing ? `Change ${existing.values.name}` : 'Add a place'}
      onClose={onClose}
      submit={(e) => void submit(e)}
      busy={busy}
      keep={existing ? 'Keep the change' : 'Add'}
      large="wide"
    >
      <PlaceFields
        texts={texts}
        change={(part) => setTexts((old) => ({ ...old, ...part }) as Texts)}
        problems={problems}
      />
      <PlaceYear texts={year} change={setYear} error={yearProblem(problems)} />
    </FormModal>
  );
}

/** What is wrong with a month. */
const yearProblem = (problems: Problems) => Object.entries(problems).find(([path]) => path.includes('year'))?.[1];

export function PlaceFields({
  texts,
  change,
  problems,
}: {
  texts: Texts;
  change(part: Partial<Texts>): void;
  problems: Problems;
}) {
  return (
    <>
      <LabelledField
        label="Name"
        error={
          problemAt(problems, 'name') ??
          otherProblems(Object.fromEntries(Object.entries(problems).filter(([path]) => !path.includes('year'))), [
            'name',
            'note',
            'light',
          ])
        }
      >
        {(a) => (
          <Form.Control
            {...a}
            autoFocus
            autoComplete="off"
            placeholder="East sill"
            value={texts['name']}
            onChange={(e) => change({ name: e.target.value })}
          />
        )}
      </LabelledField>
      <LabelledField label="Light" error={undefined}>
        {(a) => (
          <Form.Select {...a} value={texts['light']} onChange={(e) => change({ light: e.target.value })}>
            <option value="">not said</option>
            {LIGHTS.map((l) => (
              <option key={l} value={l}>
                {LIGHT_WORDS[l]}
              </option>
            ))}
          </Form.Select>
        )}
      </LabelledField>
      <LabelledField label="Note" error={problemAt(problems, 'note')}>
        {(a) => (
          <Form.Control
            {...a}
            autoComplete="off"
            placeholder="warm, 10 to 16 °C in winter"
            value={texts['note']}
            onChange={(e) => change({ note: e.target.value })}
          />
        )}
      </LabelledField>
    </>
  );
}
