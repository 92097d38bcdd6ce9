import { useId, type KeyboardEvent } from 'react';
import type { Dip } from '../shell/use-dip.ts';
import type { AskHere } from './what-is-asked.ts';

type Props = {
  name: 'ppm' | 'ph';
  label: string;
  unit: string;
  value: string;
  /** A pen that can be read from here, and its name. */
  dip: (Dip & { start(): void }) | undefined;
  penName: string | undefined;
  expected: string | undefined;
  /** It is asked for, or may be left; undefined where everything is read. */
  ask?: AskHere | undefined;
  error: string | undefined;
  onChange(value: string): void;
  onKeyDown?(event: KeyboardEvent<HTMLInputElement>): void;
};

/** A reading of what stands in a pot: empty is "not measured"; the expected value stands there as quiet text only. */
export function ReadingField(props: Props) {
  const { name, label, unit, value, dip, penName, expected, ask, error, onChange, onKeyDown } = props;
  const running = dip?.running ?? false;
  const errorId = useId();
  return (
    <div>
      <div className={`field ${running ? 'dipping' : ''} ${ask?.is ?? ''}`}>
        <input
          name={name}
          inputMode="decimal"
          autoComplete="off"
          aria-label={label}
          placeholder={expected === undefined ? 'not measured' : expected}
          value={running ? String(dip?.display?.shown ?? '…') : value}
          onChange={(e) => onChange(e.target.value)}
          onKeyDown={onKeyDown}
          aria-invalid={Boolean(error)}
          aria-describedby={error ? errorId : undefined}
        />
        <span>{unit}</span>
        <DipButton dip={dip} running={running} penName={penName} />
      </div>
      {error && (
        <div className="field-error" id={errorId} role="alert">
          {error}
        </div>
      )}
      {dip?.failed && (
        <div className="field-error" role="alert">
          The pen does not answer. Type the figure, or try again.
        </div>
      )}
    </div>
  );
}

function DipButton({
  dip,
  running,
  penName,
}: {
  dip: (Dip & { start(): void }) | undefined;
  running: boolean;
  penName: string | undefined;
}) {
  if (!dip) return null;
  return (
    <button
      type="button"
      className="dip"
      onClick={() => dip.start()}
      disabled={running}
      aria-label={`Dip the ${penName ?? 'pen'} (${dip.how ?? 'simulated'})`}
      title={`${penName ?? 'pen'}, ${dip.how ?? 'simulated'}`}
    >
      dip
    </button>
  );
}
