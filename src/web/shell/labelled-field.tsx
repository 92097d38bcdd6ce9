import { useId, type ReactNode } from 'react';
import Form from 'react-bootstrap/Form';

/** A label, its control, and at the control what is wrong with it or a quiet hint. */
export function LabelledField({
  label,
  hint,
  error,
  wide = false,
  span = false,
  children,
}: {
  label: string;
  span?: boolean;
  hint?: string | undefined;
  error: string | undefined;
  wide?: boolean;
  children(props: {
    id: string;
    'aria-invalid': boolean;
    'aria-describedby': string | undefined;
    isInvalid: boolean;
  }): ReactNode;
}) {
  const id = useId();
  return (
    <Form.Group className={wide ? 'wide' : span ? 'span-2' : ''}>
      <Form.Label htmlFor={id}>{label}</Form.Label>
      {children({
        id,
        'aria-invalid': Boolean(error),
        'aria-describedby': error ? `${id}-error` : undefined,
        isInvalid: Boolean(error),
      })}
      {error ? (
        <div className="field-error" id={`${id}-error`} role="alert">
          {error}
        </div>
      ) : (
        hint && <div className="small">{hint}</div>
      )}
    </Form.Group>
  );
}
