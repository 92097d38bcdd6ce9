import { useRef, useState, type ReactNode } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import type { DipSubject } from '../../contract/devices.ts';
import { parseReading, type Reading } from '../../core/quantity/index.ts';
import { PenForm } from '../shell/pen-form.tsx';
import { canDip, useDip } from '../shell/use-dip.ts';
import { useDraft } from '../shell/use-draft.ts';

export type KeptReadings = { ppm: Reading; ph: Reading };
type Meter = { id: string; name: string; simulated: boolean; sends?: boolean | undefined } | null;
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
export function PenEntry({
  draftKey,
  subject,
  subjectId,
  label,
  expected,
  ppmMeter,
  phMeter,
  error,
  busy,
  autoFocus,
  keys = true,
  onKeep,
  children,
}: Props) {
  const [draft, change, clear] = useDraft(draftKey, { ppm: '', ph: '' });
  const [wrong, setWrong] = useState<string>();
  const ppmDip = useDip(ppmMeter, subject, subjectId, (shown) => change({ ppm: String(shown) }));
  const phDip = useDip(phMeter, subject, subjectId, (shown) => change({ ph: String(shown) }));
  const field = useRef<HTMLInputElement>(null);
  // Enter keeps what the pen comes to, wherever the grower was before.
  const dip = () => {
    const inPh = document.activeElement?.getAttribute('name') === 'ph' && canDip(phMeter);
    if (!inPh) field.current?.focus();
    (inPh ? phDip : ppmDip).start();
  };
  const dips = canDip(ppmMeter);
  const running = ppmDip.running || phDip.running;
  useHotkeys('p', dip, { enabled: keys && dips && !running, enableOnFormTags: true, preventDefault: true });
  const keep = async () => {
    const [ppm, ph] = [parseReading(draft.ppm, 'ppm'), parseReading(draft.ph, 'pH')];
    if (!ppm.ok) return setWrong(ppm.message);
    if (!ph.ok) return setWrong(ph.message);
    if (ppm.reading.kind === 'notMeasured' && ph.reading.kind === 'notMeasured')
      return setWrong('Type what the pen reads.');
    setWrong(undefined);
    if (await onKeep({ ppm: ppm.reading, ph: ph.reading })) clear();
  };
  return (
    <PenForm
      field={{
        ref: field,
        name: 'ppm',
        autoFocus,
        label: `${label}, ppm`,
        unit: 'ppm',
        placeholder: expected ? `expect ${expected}` : label,
        text: draft.ppm,
        onText: (ppm) => change({ ppm }),
        dip: ppmDip,
      }}
      second={
        phMeter === undefined
          ? undefined
          : {
              name: 'ph',
              label: `${label}, pH, if measured`,
              placeholder: 'pH',
              text: draft.ph,
              onText: (ph) => change({ ph }),
              dip: phDip,
            }
      }
      error={wrong ?? error}
      busy={busy}
      keepWords="Keep"
      pen={dips ? { words: 'dip the pen', onDip: dip } : null}
      onKeep={() => void keep()}
    >
      {children}
    </PenForm>
  );
}
