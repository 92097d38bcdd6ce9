import type { KeyboardEvent } from 'react';
import { smallSign } from '../shell/format.ts';
import type { Field } from './read-draft.ts';

type Props = {
  name: Field;
  label: string;
  /** What is planned or expected, as quiet text. */
  quiet: string;
  unit?: string;
  value: string;
  error: string | undefined;
  onChange(value: string): void;
  onKeyDown(event: KeyboardEvent<HTMLInputElement>): void;
};

/** A small figure at the side of a step: left empty it stands for what is written in it quietly, or for not measured. */
export function MiniField({ name, label, quiet, unit = smallSign(), value, error, onChange, onKeyDown }: Props) {
  return (
    <div className="mini">
      <input
        name={name}
        inputMode="decimal"
        autoComplete="off"
        aria-label={label}
        placeholder={quiet}
        value={value}
        onChange={(e) => onChange(e.target.value)}
        onKeyDown={onKeyDown}
        aria-invalid={Boolean(error)}
        aria-describedby={error ? `${name}-error` : undefined}
      />
      <span>{unit}</span>
    </div>
  );
}
