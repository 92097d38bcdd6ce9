import type { ChangeEvent, InputHTMLAttributes } from 'react';
import Form from 'react-bootstrap/Form';
import type { FormControlProps } from 'react-bootstrap/FormControl';
import { weekdayDayMonth } from './format.ts';

type Props = Omit<InputHTMLAttributes<HTMLInputElement>, 'size' | 'type' | 'value' | 'onChange'> &
  Pick<FormControlProps, 'size' | 'isInvalid'> & {
    value: string;
    onChange(event: ChangeEvent<HTMLInputElement>): void;
  };

/** A day to choose. The browser writes it in its own way; beside it stands the day as every page here writes it. */
export function DateInput({ value, ...rest }: Props) {
  return (
    <span className="date-input">
      <Form.Control {...rest} type="date" value={value} />
      <span className="small nowrap" aria-hidden>
        {/^\d{4}-\d{2}-\d{2}$/.test(value) ? weekdayDayMonth(value) : ''}
      </span>
    </span>
  );
}
