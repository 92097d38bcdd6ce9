import { useEffect, useRef, useState, type ReactNode } from 'react';
import { Link } from 'react-router';
import { useHotkeys } from 'react-hotkeys-hook';
import type { Reading, ReadingQuantity } from '../../core/quantity/reading.ts';
import { parseReading, readingMiddle } from '../../core/quantity/reading.ts';
import { ProblemError } from '../shell/api.ts';
import { PenForm } from '../shell/pen-form.tsx';
import { canDip, useDip } from '../shell/use-dip.ts';
import { useDraft } from '../shell/use-draft.ts';
import { lowerFirst } from '../shell/format.ts';

type Props = {
  batchId: string;
  /** Tells drafts of different moments apart. */
  moment: string;
  quantity: ReadingQuantity;
  label: string;
  expected?: string | undefined;
  /** None: without a pen there is nothing to type. */
  meter: { id: string; name: string; simulated: boolean; sends?: boolean | undefined; zeroBy?: number } | null;
  keepWords?: string;
  /** Keeps the reading. `again` is true when the same odd figure is kept a second time. */
  onKeep(reading: Reading, again: boolean): Promise<unknown>;
  /** What must be logged before a simulated pen can stand in the mix, such as the portion itself. */
  beforeDip?: (() => Promise<boolean>) | undefined;
  /** Dips at once: the pen was asked for before the portion was logged. */
  dipNow?: boolean;
  onUndo?: (() => void) | undefined;
  autoFocus?: boolean;
  /** Keys work: only one entry of a page listens. */
  keys?: boolean;
  children?: ReactNode;
};

/** What a reading far from expected is looked through for, likeliest first (common practice). */
const CAUSES = [
  'The water: was its own reading taken of this water, today?',
  'Stirred to the bottom, and all of the portion gone in?',
  'The dropper or syringe: the right one, whole drops, the right bottle?',
  'The pen: rinsed, still, its battery fresh, not in a bubble?',
  'The litres: is there as much in it as was said?',
] as const;

/** The same of a pH. */
const PH_CAUSES = [
  'Stirred to the bottom, and all of the dose gone in?',
  'The dropper or syringe: the right one, the right bottle, thinned as was said?',
  'The pen: rinsed, standing still, set lately, its battery fresh?',
  'The litres: is there as much in it as was said?',
  'The water: is it the one that was read?',
] as const;

/** What to look at where a figure is far from what it should be, likeliest first. */
export function OddCauses({ moment, quantity }: { moment: string; quantity: ReadingQuantity }) {
  // Where the reading is kept already there is no next portion to settle it.
  const entering = moment !== 'thin' && moment !== 'inside';
  const causes = quantity === 'pH' ? PH_CAUSES : moment === 'base' ? [CAUSES[0], CAUSES[3]] : CAUSES;
  return (
    <>
      <ol className="odd-causes" aria-label="Look at these, in order">
        {causes.map((c) => (
          <li key={c}>{c}</li>
        ))}
      </ol>
      {quantity === 'ppm' && moment !== 'base' && (
        <p className="small mb-0 odd-bottle">
          Is it a new bottle, or a stock made anew? <Link to="/shelf">Open it on the Shelf</Link>, and it is learned
          from the start.
          {entering && ' Kept as it is, the next portion is small, and its reading settles which it was.'}
        </p>
      )}
    </>
  );
}

/** The one field of the now card: type the pen's figure, or dip the simulated pen, and keep it. */
export function ReadingEntry({ meter, ...props }: Props) {
  return meter && <Entry meter={meter} {...props} />;
}

function Entry({
  batchId,
  moment,
  quantity,
  label,
  expected,
  meter,
  keepWords = 'Keep',
  onKeep,
  beforeDip,
  dipNow = false,
  onUndo,
  autoFocus = true,
  keys = true,
  children,
}: Props & { meter: NonNullable<Props['meter']> }) {
  const [draft, change, clear] = useDraft(`bench:${batchId}:${quantity}:${moment}`, { text: '' });
  const [error, setError] = useState<string>();
  const [oddText, setOddText] = useState<string>();
  const [busy, setBusy] = useState(false);
  const dip = useDip(meter, 'batch', batchId, (shown) => change({ text: String(shown) }));

  const keep = async () => {
    const parsed = parseReading(draft.text, quantity);
    if (!parsed.ok) return setError(parsed.message);
    if (parsed.reading.kind === 'notMeasured')
      return setError(
        quantity === 'ppm' ? 'Type what the pen reads; the coach goes by it.' : 'Type what the pH pen reads.',
      );
    if (quantity === 'pH' && readingMiddle(parsed.reading) === undefined)
      return setError('Type what the pH pen reads.');
    await guarded(async () => {
      await onKeep(parsed.reading, oddText === draft.text);
      clear();
    });
  };
  const field = useRef<HTMLInputElement>(null);
  // Enter keeps what the pen comes to, wherever the grower was before.
  const startDip = () =>
    guarded(async () => {
      field.current?.focus();
      if (!beforeDip || (await beforeDip())) dip.start();
    });
  const guarded = async (work: () => Promise<void>) => {
    if (busy) return;
    setBusy(true);
    setError(undefined);
    try {
      await work();
    } catch (caught) {
      if (!(caught instanceof ProblemError)) throw caught;
      if (caught.problem.code === 'reading-odd') setOddText(draft.text);
      setError(caught.problem.detail);
    } finally {
      setBusy(false);
    }
  };
  const { start } = dip;
  const dipped = useRef(false);
  useEffect(() => {
    if (!dipNow || dipped.current) return;
    dipped.current = true;
    start();
  }, [dipNow, start]);
  useHotkeys('p', () => void startDip(), {
    enabled: keys && canDip(meter) && !dip.running,
    enableOnFormTags: true,
    preventDefault: true,
  });

  return (
    <PenForm
      field={{
        ref: field,
        autoFocus,
        label,
        unit: quantity,
        placeholder: expected ? `expect ${expected}` : label,
        text: draft.text,
        onText: (text) => change({ text }),
        dip,
      }}
      error={error}
      busy={busy}
      keepWords={keepWords}
      cannotKeep={draft.text.trim() === ''}
      pen={canDip(meter) ? { words: `dip the ${lowerFirst(meter.name)}`, onDip: () => void startDip() } : null}
      onKeep={() => void keep()}
      before={children}
      causes={error && oddText === draft.text && <OddCauses moment={moment} quantity={quantity} />}
    >
      {meter.zeroBy !== undefined && meter.zeroBy > 0 && (
        <TakeZeroOff by={meter.zeroBy} text={draft.text} change={(text) => change({ text })} />
      )}
      {onUndo && (
        <button type="button" onClick={onUndo}>
          <kbd>U</kbd> take the last one back
        </button>
      )}
    </PenForm>
  );
}

/** What the pen shows in air is taken off the figure in the field, once, where the grower wants it so. */
function TakeZeroOff({ by, text, change }: { by: number; text: string; change(text: string): void }) {
  const [taken, setTaken] = useState<string>();
  const shown = Number(text.trim().replace(',', '.'));
  if (text.trim() === '' || !(shown >= by) || taken === text) return null;
  const less = String(Number((shown - by).toFixed(2)));
  return (
    <button type="button" onClick={() => (setTaken(less), change(less))}>
      take its {by} in air off: {less}
    </button>
  );
}
