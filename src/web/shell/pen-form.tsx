import { useId, type ReactNode, type Ref } from 'react';
import Button from 'react-bootstrap/Button';
import type { Dip } from './use-dip.ts';
import { useFocusFirst } from './use-focus-first.ts';

type Field = {
  name?: string;
  label: string;
  placeholder: string;
  text: string;
  onText(text: string): void;
  /** While the simulated pen settles its display runs in the field. */
  dip: Dip;
};
type Props = {
  field: Field & { unit: string; ref: Ref<HTMLInputElement>; autoFocus: boolean | undefined };
  /** A small second field, where it is worth reading. */
  second?: Field | undefined;
  error: string | undefined;
  busy: boolean;
  keepWords: string;
  cannotKeep?: boolean;
  /** The pen by the table, dipped with P; null where figures are typed. */
  pen: { words: string; onDip(): void } | null;
  onKeep(): void;
  before?: ReactNode;
  /** Beneath the error: what to look at. */
  causes?: ReactNode;
  children?: ReactNode;
};

/** The one field at the bench: the pen's figure is typed, or runs in from the simulated pen, and Enter keeps it. */
export function PenForm({
  field,
  second,
  error,
  busy,
  keepWords,
  cannotKeep = false,
  pen,
  onKeep,
  before,
  causes,
  children,
}: Props) {
  const id = useId();
  useFocusFirst(`${id}-field`, field.autoFocus ?? false);
  const running = field.dip.running || (second?.dip.running ?? false);
  const input = (f: Field) => ({
    name: f.name,
    'aria-label': f.label,
    inputMode: 'decimal' as const,
    autoComplete: 'off',
    placeholder: f.placeholder,
    value: f.dip.running ? String(f.dip.display?.shown ?? '') : f.text,
    onChange: (e: { target: { value: string } }) => f.onText(e.target.value),
  });
  return (
    <form
      className="reading-entry"
      noValidate
      onSubmit={(e) => {
        e.preventDefault();
        onKeep();
      }}
    >
      {before}
      <div className={`read ${running ? 'dipping' : ''}`}>
        <input
          id={`${id}-field`}
          ref={field.ref}
          {...input(field)}
          aria-invalid={Boolean(error)}
          aria-describedby={error ? `${id}-error` : undefined}
        />
        <span className="unit">{field.unit}</span>
        {second && <input className="ph" {...input(second)} />}
        <Button type="submit" variant="clay" disabled={busy || running || cannotKeep}>
          {keepWords}
        </Button>
      </div>
      {error && (
        <div className="field-error" id={`${id}-error`} role="alert">
          {error}
        </div>
      )}
      {causes}
      {(field.dip.failed || second?.dip.failed) && (
        <div className="field-error" role="alert">
          The pen does not answer. Type the figure, or try again.
        </div>
      )}
      <EntryKeys pen={pen} how={field.dip.how} running={running} busy={busy} children={children} />
    </form>
  );
}

function EntryKeys({
  pen,
  how,
  running,
  busy,
  children,
}: {
  pen: { words: string; onDip(): void } | null;
  how: string | undefined;
  running: boolean;
  busy: boolean;
  children: ReactNode;
}) {
  return (
    <div className="entry-keys">
      {pen && (
        <button type="button" onClick={pen.onDip} disabled={running || busy}>
          <kbd>P</kbd> {running ? 'settling …' : pen.words} <span className="quiet">({how ?? 'simulated'})</span>
        </button>
      )}
      {children}
    </div>
  );
}
