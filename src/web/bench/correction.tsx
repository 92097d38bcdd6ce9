import { inSentence } from '../../core/quantity/words.ts';
import { useState } from 'react';
import Form from 'react-bootstrap/Form';
import type { BatchView, PhChoice } from '../../contract/bench.ts';
import { MOST_CORRECTIONS } from '../../core/correction/ph-coach.ts';
import { MEASURED_SD, GUESSED_DROP_SD } from '../../core/strength/tool.ts';
import { Icon } from '../drawing/icon.tsx';
import { doseMl, lowerFirst, phText, ppmText } from '../shell/format.ts';
import { amountWords, standsWords } from './bench-words.ts';
import { OtherDose, type Dose } from './other-dose.tsx';
import { ReadingEntry } from './reading-entry.tsx';
import { acidKey } from './start-values.ts';
import type { SendStep } from './send-step.ts';

type Props = {
  view: BatchView;
  phMeter: NonNullable<BatchView['phMeter']>;
  latest: number;
  send: SendStep;
  onUndo(): void;
  onPour(): void;
};

/** One pH correction: which acid (or alkali) and why, how much, and what it should come to. */
export function Correction({ view, phMeter, latest, send, onUndo, onPour }: Props) {
  const { ph, phWindow } = view;
  const [productId, setProductId] = useState(() => askedFor(view));
  const [other, setOther] = useState<Dose>();
  const choice = ph.choices.find((c) => c.productId === productId) ?? ph.choices[0]!;
  const { dose, tool, amount } = doseOf(view, choice, other);
  const [asBought, setAsBought] = useState(false);
  const advisedRatio = choice.dose?.ratio ?? 1;
  const ratio = other && asBought ? 1 : advisedRatio;
  const words = `${amount} of ${choice.name}`;
  const step = {
    kind: 'correction',
    productId: choice.productId,
    dose: { toolId: dose.toolId, steps: dose.steps, doseMl: dose.doseMl, relativeSd: dose.relativeSd },
    ratio,
  } as const;
  return (
    <section className="now" aria-label="Now">
      <small>
        Correction {ph.corrections + 1} of {MOST_CORRECTIONS} · pH {standsWords(view, latest)} is{' '}
        {choice.direction === 'down' ? 'above' : 'below'} {phWindow.low} to {phWindow.high}
      </small>
      <ThinFirst ratio={ratio} choice={choice} />
      <div className="say">
        Add {amount}
        <br />
        of {ratio > 1 && 'the thinned '}
        {lowerFirst(choice.name.split(',')[0] ?? '')}
      </div>
      <small>{other ? 'Your own amount; the coach will take it from there.' : adviceWords(choice, tool, view)}</small>
      {choice.warning && <small className="warn-line">{choice.warning}</small>}
      <PenOff phMeter={phMeter} ph={ph} />
      <div className="caution">
        <Icon name="exclamationTriangle" />
        <span>{choice.caution || 'Eye protection and gloves; follow its label.'}</span>
      </div>
      <ReadingEntry
        batchId={view.id}
        moment={`correction-${ph.corrections}`}
        quantity="pH"
        label="pH pen reads"
        meter={phMeter}
        expected={!other && choice.dose ? phText(choice.dose.expected.ph + ph.penOffBy) : undefined}
        onKeep={(reading, again) => send({ ...step, reading, confirmedOdd: again }, words)}
        beforeDip={async () => (await send({ ...step, reading: null }, words, true), false)}
        onUndo={onUndo}
      />
      <WhichOne ph={ph} choice={choice} setProductId={setProductId} setOther={setOther} />
      <After choice={choice} />
      <OtherDose key={choice.productId} view={view} dose={other} onChange={setOther} />
      <AsBought other={other} advisedRatio={advisedRatio} asBought={asBought} setAsBought={setAsBought} />
      <div className="entry-keys">
        <button type="button" onClick={onPour}>
          Pour it as it is
        </button>
      </div>
    </section>
  );
}

function AsBought({
  other,
  advisedRatio,
  asBought,
  setAsBought,
}: {
  other: Dose | undefined;
  advisedRatio: number;
  asBought: boolean;
  setAsBought(next: boolean): void;
}) {
  if (!(other && advisedRatio > 1)) return null;
  return (
    <Form.Check
      type="checkbox"
      id="as-bought"
      label="as bought, not thinned"
      checked={asBought}
      onChange={(e) => setAsBought(e.target.checked)}
    />
  );
}

/** Another acid or alkali of the Shelf. */
function WhichOne({
  ph,
  choice,
  setProductId,
  setOther,
}: {
  ph: BatchView['ph'];
  choice: PhChoice;
  setProductId(next: string): void;
  setOther(next: Dose | undefined): void;
}) {
  if (ph.choices.length <= 1) return null;
  return (
    <Form.Select
      size="sm"
      aria-label="of"
      value={choice.productId}
      onChange={(e) => (setProductId(e.target.value), setOther(undefined))}
    >
      {ph.choices.map((c) => (
        <option key={c.productId} value={c.productId}>
          {c.name}
        </option>
      ))}
    </Form.Select>
  );
}

function PenOff({ phMeter, ph }: { phMeter: Props['phMeter']; ph: BatchView['ph'] }) {
  if (!(phMeter.off && ph.penOffBy === 0)) return null;
  return (
    <small>
      {phMeter.name} {phMeter.off}.
    </small>
  );
}

/** An acid too strong for so little: thinned before it is dropped. */
function ThinFirst({ ratio, choice }: { ratio: number; choice: PhChoice }) {
  if (ratio <= 1) return null;
  return (
    <div className="caution">
      <Icon name="dropletHalf" />
      <span>
        {choice.dose?.asBefore ? 'Thinned as before, or first thin it' : 'First thin it'}: 1 part into {ratio - 1} of
        still water ({choice.direction === 'down' ? 'acid' : 'it'} into water, never the reverse). Plain, a drop would
        jump a quarter of the window.
      </span>
    </div>
  );
}

/** The dose that is given: the grower's own, the coach's, or one drop to see. */
function doseOf(view: BatchView, choice: PhChoice, other: Dose | undefined) {
  const dose = other ?? choice.dose ?? singleDrop(view);
  const tool = view.tools.find((t) => t.id === dose.toolId);
  return { dose, tool, amount: amountWords(dose, tool?.kind ?? 'syringe', tool?.name) };
}

/** The acid another room asked for where nothing was corrected yet, or the first there is. */
function askedFor({ id, ph }: BatchView): string {
  const asked = ph.corrections === 0 ? sessionStorage.getItem(acidKey(id)) : null;
  return asked ?? ph.choices[0]?.productId ?? '';
}

/** For want of a label: one drop, or one mark, and then see. */
function singleDrop(view: BatchView): Dose {
  const tool = view.tools.find((t) => t.kind === 'dropper') ?? view.tools[0]!;
  return {
    toolId: tool.id,
    steps: 1,
    doseMl: tool.stepMl,
    relativeSd: tool.kind === 'dropper' && tool.dropsPerMl === null ? GUESSED_DROP_SD : MEASURED_SD,
  };
}

function adviceWords(choice: PhChoice, tool: BatchView['tools'][number] | undefined, view: BatchView): string {
  const { dose } = choice;
  const dropper = tool?.kind === 'dropper' ? tool.name : undefined;
  if (!dose) {
    const moved = view.ph.movedPerStep;
    const so =
      moved === null
        ? 'In soft water one drop can move a bucket by a tenth or far more: start with one.'
        : `Each of the last moved it by about ${Math.abs(moved).toFixed(2)}.`;
    return `${choice.why ?? ''} ${so}`.trim();
  }
  const off = view.ph.penOffBy;
  const should = `should read ${phText(dose.expected.low + off)} to ${phText(dose.expected.high + off)}${off === 0 ? '' : ' on this pen'}`;
  const how =
    dose.inWindow < 0.5 && !dose.coarse
      ? `Short of it on purpose, until it is known how this batch answers: it ${should}, and more will be needed.`
      : `It ${should}, inside ${Math.min(99, Math.round(dose.inWindow * 100))} times in 100.`;
  const parts = [`${dropper ? `${doseMl(dose.doseMl)} from the ${inSentence(dropper)}. ` : ''}${how}`];
  if (dose.coarse) parts.push('Even so one step jumps much of the window: go by single ones.');
  if (view.ph.response !== null && Math.abs(view.ph.response - 1) > 0.1)
    parts.push(`Doses act ${Math.round(view.ph.response * 100)} % of their label here; reckoned with.`);
  return parts.join(' ');
}

/** What becomes of it: by tomorrow, what the pen reads after, what else it brings and how long it lasts. Folded, for the card is full. */
function After({ choice }: { choice: PhChoice }) {
  const { dose } = choice;
  if (!dose && !choice.lasts) return null;
  return (
    <details className="read-again">
      <summary>Why this one, and what becomes of it</summary>
      <small>
        {dose && `${phText(dose.tomorrowPh)} by tomorrow standing open; reads about ${ppmText(dose.ppm)} after it. `}
        {choice.brings
          ? `The whole way brings ${choice.brings}; it ${choice.lasts}.`
          : choice.lasts
            ? `It ${choice.lasts}.`
            : ''}
      </small>
    </details>
  );
}
