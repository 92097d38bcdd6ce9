import Form from 'react-bootstrap/Form';
import type { ShelfRoom } from '../../contract/shelf.ts';
import { LabelledField } from '../shell/labelled-field.tsx';
import { problemAt, type Problems } from '../shell/use-act.ts';
import type { Texts } from './as-typed.ts';

export type FieldsProps = { texts: Texts; change(part: Partial<Texts>): void; problems: Problems; room: ShelfRoom };

/** One typed field, its label and what is wrong with it. */
export function TypedField({
  label,
  name,
  hint,
  numeric = false,
  placeholder,
  texts,
  change,
  problems,
  autoFocus = false,
}: Omit<FieldsProps, 'room'> & {
  label: string;
  name: string;
  hint?: string;
  numeric?: boolean;
  placeholder?: string;
  autoFocus?: boolean;
}) {
  return (
    <LabelledField label={label} error={problemAt(problems, name)} hint={hint}>
      {(a) => (
        <Form.Control
          {...a}
          autoComplete="off"
          autoFocus={autoFocus}
          {...(numeric ? { inputMode: 'decimal' as const } : {})}
          placeholder={placeholder}
          value={texts[name] ?? ''}
          onChange={(e) => change({ [name]: e.target.value })}
        />
      )}
    </LabelledField>
  );
}
