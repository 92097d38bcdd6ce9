import { useState, type FormEvent } from 'react';
import Form from 'react-bootstrap/Form';
import { GROWTH, GROWTH_KEYS, ROOT_GRADES, type GrowthKey } from '../../../contract/growth.ts';
import { DateInput } from '../../shell/date-input.tsx';
import { FormModal } from '../../shell/form-modal.tsx';
import { LabelledField } from '../../shell/labelled-field.tsx';
import { readGrowth } from '../../shell/read-growth.ts';
import { otherProblems, problemAt, useAct } from '../../shell/use-act.ts';

/** What is measured of one plant on a day; what is left empty was not measured. */
export function MeasureForm({
  pot,
  today,
  onClose,
}: {
  pot: { readonly id: string; readonly code: string };
  today: string;
  onClose(): void;
}) {
  const { send, problems, setProblems, busy } = useAct(`/api/pots/${pot.id}/measures`);
  const [on, setOn] = useState(today);
  const [typed, setTyped] = useState<Partial<Record<GrowthKey, string>>>({});
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const read = readGrowth(typed);
    if (Object.keys(read.errors).length > 0) return setProblems(read.errors);
    if (await send({ figures: read.figures, on, from: null }, `${pot.code} measured`)) onClose();
  };
  return (
    <FormModal
      title={`Measure ${pot.code}`}
      keep="Keep it"
      busy={busy}
      submit={(e) => void submit(e)}
      onClose={onClose}
      wrong={otherProblems(problems, [...GROWTH_KEYS, 'on'])}
    >
      <LabelledField label="Day" error={problemAt(problems, 'on')}>
        {(a) => <DateInput {...a} value={on} max={today} onChange={(e) => setOn(e.target.value)} />}
      </LabelledField>
      {GROWTH_KEYS.map((key, i) => (
        <LabelledField
          key={key}
          label={capital(`${GROWTH[key].label}${GROWTH[key].unit ? `, ${GROWTH[key].unit}` : ''}`)}
          error={problemAt(problems, key)}
        >
          {(a) => (
            <GrowthField
              {...a}
              what={key}
              autoFocus={i === 0}
              value={typed[key] ?? ''}
              change={(text) => setTyped({ ...typed, [key]: text })}
            />
          )}
        </LabelledField>
      ))}
    </FormModal>
  );
}

const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

type FieldProps = { what: GrowthKey; value: string; change(text: string): void; placeholder?: string } & Pick<
  React.InputHTMLAttributes<HTMLInputElement>,
  'id' | 'autoFocus' | 'aria-label' | 'aria-invalid' | 'aria-describedby' | 'name'
> & { isInvalid?: boolean };

/** A figure, or the grade of the roots. */
export function GrowthField({ what, value, change, placeholder, autoFocus, ...a }: FieldProps) {
  if (what === 'roots')
    return (
      <Form.Select {...a} value={value} onChange={(e) => change(e.target.value)}>
        <option value="">{placeholder ?? 'not looked at'}</option>
        {ROOT_GRADES.map((grade, i) => (
          <option key={grade} value={i}>
            {grade}
          </option>
        ))}
      </Form.Select>
    );
  return (
    <Form.Control
      {...a}
      {...(autoFocus ? { autoFocus } : {})}
      inputMode="decimal"
      autoComplete="off"
      placeholder={placeholder ?? 'not measured'}
      value={value}
      onChange={(e) => change(e.target.value)}
    />
  );
}
