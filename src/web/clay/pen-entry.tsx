import { useRef, useState, type ReactNode } from 'react';
import Button from 'react-bootstrap/Button';
import { useHotkeys } from 'react-hotkeys-hook';
import type { DipSubject } from '../../contract/devices.ts';
import { parseReading, type Reading } from '../../core/quantity/index.ts';
import { useDip } from '../shell/use-dip.ts';
import { useDraft } from '../shell/use-draft.ts';

export type KeptReadings = { ppm: Reading; ph: Reading };
type Meter = { id: string; name: string; simulated: boolean } | null;
type Props = {
  /** Tells drafts apart. */
  draftKey: string;
  subject: DipSubject;
  subjectId: string;
  label: string;
  expected?: string | undefined;
  ppmMeter: Meter;
  /** A small second field for the pH, where it is worth reading. */
  phMeter?: Meter | undefined;
  /** What the server said of the figure. */
  error: string | undefined;
  busy: boolean;
  autoFocus?: boolean;
  /** Keys work: only one entry of a page listens. */
  keys?: boolean;
  onKeep(readings: KeptReadings): Promise<boolean>;
  children?: ReactNode;
};

/** One field and Enter: the pen's figure is typed, or the simulated pen is dipped, and kept. */
export function PenEntry({ draftKey, subject, subjectId, label, expected, ppmMeter, phMeter, error, busy, autoFocus, keys = true, onKeep, children }: Props) {
  const [draft, change, clear] = useDraft(draftKey, { ppm: '', ph: '' });
  const [wrong, setWrong] = useState<string>();
  const ppmDip = useDip(ppmMeter?.simulated ? ppmMeter.id : undefined, subject, subjectId, (shown) => change({ ppm: String(shown) }));
  const phDip = useDip(phMeter?.simulated ? phMeter.id : undefined, subject, subjectId, (shown) => change({ ph: String(shown) }));
  const field = useRef<HTMLInputElement>(null);
  // Enter keeps what the pen comes to, wherever the grower was before.
  const dip = () => {
    const inPh = document.activeElement?.getAttribute('name') === 'ph' && phMeter?.simulated;
    if (!inPh) field.current?.focus();
    (inPh ? phDip : ppmDip).start();
  };
  const canDip = Boolean(ppmMeter?.simulated);
  const running = ppmDip.running || phDip.running;
  useHotkeys('p', dip, { enabled: keys && canDip && !running, enableOnFormTags: true, preventDefault: true });
  const keep = async () => {
    const [ppm, ph] = [parseReading(draft.ppm, 'ppm'), parseReading(draft.ph, 'pH')];
    if (!ppm.ok) return setWrong(ppm.message);
    if (!ph.ok) return setWrong(ph.message);
    if (ppm.reading.kind === 'notMeasured' && ph.reading.kind === 'notMeasured') return setWrong('Type what the pen reads.');
    setWrong(undefined);
    if (await onKeep({ ppm: ppm.reading, ph: ph.reading })) clear();
  };
  const message = wrong ?? error;
  return (
    <form
      className="reading-entry"
      noValidate
      onSubmit={(e) => {
        e.preventDefault();
        void keep();
      }}
    >
      <div className={`read ${running ? 'dipping' : ''}`}>
        <input
          ref={field}
          name="ppm"
          autoFocus={autoFocus}
          aria-label={`${label}, ppm`}
          inputMode="decimal"
          autoComplete="off"
          placeholder={expected ? `expect ${expected}` : label}
          value={ppmDip.running ? String(ppmDip.display?.shown ?? '') : draft.ppm}
          onChange={(e) => change({ ppm: e.target.value })}
          aria-invalid={Boolean(message)}
          aria-describedby={message ? `${draftKey}-error` : undefined}
        />
        <span className="unit">ppm</span>
        {phMeter !== undefined && (
          <input
            name="ph"
            className="ph"
            aria-label={`${label}, pH, if measured`}
            inputMode="decimal"
            autoComplete="off"
            placeholder="pH"
            value={phDip.running ? String(phDip.display?.shown ?? '') : draft.ph}
            onChange={(e) => change({ ph: e.target.value })}
          />
        )}
        <Button type="submit" variant="clay" disabled={busy || running}>
          Keep
        </Button>
      </div>
      {message && (
        <div className="field-error" id={`${draftKey}-error`} role="alert">
          {message}
        </div>
      )}
      {(ppmDip.failed || phDip.failed) && (
        <div className="field-error" role="alert">
          The simulated pen does not answer. Type the figure, or try again.
        </div>
      )}
      <div className="entry-keys">
        {canDip && (
          <button type="button" onClick={dip} disabled={running || busy}>
            <kbd>P</kbd> {running ? 'settling …' : 'dip the pen'} <span className="quiet">(simulated)</span>
          </button>
        )}
        {children}
      </div>
    </form>
  );
}
