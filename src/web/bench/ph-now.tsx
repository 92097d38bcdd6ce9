import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import type { BatchView } from '../../contract/bench.ts';
import { GUESSED_DROPS_PER_ML } from '../../core/quantity/index.ts';
import { doseMl, phText, ppmText } from '../shell/format.ts';
import type { SendStep } from './send-step.ts';
import { ReadingEntry } from './reading-entry.tsx';
import { UndoKey } from './undo-key.tsx';
import { Icon } from '../drawing/icon.tsx';

const MOST_CORRECTIONS = 3;

type Props = { view: BatchView; send: SendStep; dipNow: boolean; onUndo(): void; onThrowOut(): void; onPour(): void };

/** pH: read, add drops, read again; three corrections at the most. */
export function PhNow({ view, send, dipNow, onUndo, onThrowOut, onPour }: Props) {
  const { ph, phWindow, phMeter } = view;
  if (!phMeter) return null;
  if (ph.latest === null) {
    return (
      <section className="now" aria-label="Now">
        <small>{ph.corrections ? `Correction ${ph.corrections} of ${MOST_CORRECTIONS} is in` : 'Strength is done'}</small>
        <div className="say">{ph.corrections ? 'Stir, then read the pH' : 'Read the pH'}</div>
        <Expected view={view} />
        <PenOff meter={phMeter} />
        <small>Rinse the pen, dip, wait until it stands still. Only a reading counts.</small>
        <ReadingEntry
          batchId={view.id}
          moment={`read-${view.lastEventId}`}
          quantity="pH"
          label="pH pen reads"
          meter={phMeter}
          expected={view.predicted.known ? phText(ph.corrections ? view.predicted.now.ph : view.predicted.before.ph) : undefined}
          dipNow={dipNow}
          onKeep={(reading) => send({ kind: 'ph', reading }, 'A pH reading')}
          onUndo={onUndo}
        />
      </section>
    );
  }
  if (ph.inside) {
    return (
      <section className="now" aria-label="Now">
        <small>
          pH {phText(ph.latest)} is inside {phWindow.low} to {phWindow.high}
        </small>
        <div className="say">Ready to pour</div>
        <Button variant="clay" size="lg" autoFocus onClick={onPour}>
          On to pouring
        </Button>
        <UndoKey onUndo={onUndo} />
      </section>
    );
  }
  if (ph.corrections >= MOST_CORRECTIONS) {
    return (
      <section className="now" aria-label="Now">
        <small>
          pH {phText(ph.latest)} after {MOST_CORRECTIONS} corrections
        </small>
        <div className="say">No fourth: start again</div>
        <small>
          Each correction adds salts, and a fourth rarely lands where three did not. The spoilt {view.vessel.name.toLowerCase()} can water tolerant garden
          plants.
        </small>
        <div className="d-flex gap-2">
          <Button variant="clay" size="lg" onClick={onThrowOut}>
            Throw it out
          </Button>
          <Button variant="outline-light" size="lg" onClick={onPour}>
            Pour it as it is
          </Button>
        </div>
        <UndoKey onUndo={onUndo} />
      </section>
    );
  }
  return <Correction key={ph.corrections} view={view} phMeter={phMeter} latest={ph.latest} send={send} onUndo={onUndo} onPour={onPour} />;
}

function Correction({
  view,
  phMeter,
  latest,
  send,
  onUndo,
  onPour,
}: {
  view: BatchView;
  phMeter: NonNullable<BatchView['phMeter']>;
  latest: number;
  send: SendStep;
  onUndo(): void;
  onPour(): void;
}) {
  const { ph, phWindow } = view;
  const down = latest > phWindow.high;
  const fitting = view.acids.filter((a) => a.direction === (down ? 'down' : 'up'));
  const droppers = view.tools.filter((t) => t.kind === 'dropper');
  const advised = view.predicted.known ? view.predicted.dose : null;
  const [productId, setProductId] = useState(fitting.find((a) => a.id === advised?.productId)?.id ?? fitting[0]?.id ?? '');
  const [toolId, setToolId] = useState((droppers.find((t) => t.dropsPerMl !== null) ?? droppers[0])?.id ?? '');
  const dropper = droppers.find((t) => t.id === toolId);
  const dropsPerMl = dropper?.dropsPerMl ?? GUESSED_DROPS_PER_ML;
  const [text, setText] = useState(() => String(advisedDrops(advised?.ml, dropsPerMl, view.ph.corrections)));
  const product = view.acids.find((a) => a.id === productId);
  const drops = Number(text);
  const valid = Number.isInteger(drops) && drops >= 1 && drops <= 100;
  const words = `${text} drop${text === '1' ? '' : 's'} of ${product?.name ?? 'pH-down'}`;
  if (!product || !toolId) {
    return (
      <section className="now" aria-label="Now">
        <small>
          pH {phText(latest)} is {down ? 'above' : 'below'} {phWindow.low} to {phWindow.high}
        </small>
        <div className="say">{product ? 'No dropper chosen' : `No pH-${down ? 'down' : 'up'} on the shelf`}</div>
        <small>Without one it can be poured as it is; the clay and the roots will move it too.</small>
        <Button variant="clay" size="lg" onClick={onPour}>
          Pour it as it is
        </Button>
        <UndoKey onUndo={onUndo} />
      </section>
    );
  }
  return (
    <section className="now" aria-label="Now">
      <small>
        Correction {ph.corrections + 1} of {MOST_CORRECTIONS} · pH {phText(latest)} is {down ? 'above' : 'below'} {phWindow.low} to {phWindow.high}
      </small>
      <div className="say">
        Add {valid ? text : '?'} drop{drops === 1 ? '' : 's'}
        <br />
        of {lowerFirst(product.name.split(',')[0] ?? '')}
      </div>
      <div className="d-flex gap-2 align-items-center flex-wrap">
        <label htmlFor="ph-drops">Drops</label>
        <Form.Control
          id="ph-drops"
          size="sm"
          inputMode="numeric"
          className="other-amount"
          value={text}
          isInvalid={!valid}
          aria-describedby="ph-hint"
          onChange={(e) => setText(e.target.value)}
        />
        {fitting.length > 1 && (
          <Form.Select size="sm" aria-label="of" value={productId} onChange={(e) => setProductId(e.target.value)}>
            {fitting.map((a) => (
              <option key={a.id} value={a.id}>
                {a.name}
              </option>
            ))}
          </Form.Select>
        )}
        {droppers.length > 1 && (
          <Form.Select size="sm" aria-label="from" value={toolId} onChange={(e) => setToolId(e.target.value)}>
            {droppers.map((t) => (
              <option key={t.id} value={t.id}>
                {t.name}
              </option>
            ))}
          </Form.Select>
        )}
      </div>
      {!valid && (
        <div className="field-error" role="alert">
          Count whole drops, 1 to 100.
        </div>
      )}
      <small id="ph-hint">
        {advised && productId === advised.productId
          ? adviceWords(advised, dropsPerMl, view.predicted.known ? view.predicted.before.ppm : 0)
          : view.predicted.known && !advised
            ? `By the label and the water it should stand near ${phText(view.predicted.now.ph)}: read again before you add anything, and then a single drop.`
            : ph.movedPerDrop === null
              ? 'How strong it is nobody knows: copy its label on the Shelf. In soft water one drop can move a bucket by a tenth or far more: start with one.'
              : `Each of the last drops moved it by about ${Math.abs(ph.movedPerDrop).toFixed(2)}; the next may differ.`}
      </small>
      {phMeter.off && (
        <small>
          {phMeter.name} {phMeter.off}.
        </small>
      )}
      <div className="caution">
        <Icon name="exclamationTriangle" />
        <span>{product.caution}</span>
      </div>
      {valid && (
        <ReadingEntry
          batchId={view.id}
          moment={`correction-${ph.corrections}`}
          quantity="pH"
          label="pH pen reads"
          meter={phMeter}
          onKeep={(reading) => send({ kind: 'correction', productId, toolId, drops, reading }, words)}
          beforeDip={async () => (await send({ kind: 'correction', productId, toolId, drops, reading: null }, words, true), false)}
          onUndo={onUndo}
        />
      )}
      <div className="entry-keys">
        <button type="button" onClick={onPour}>
          Pour it as it is
        </button>
      </div>
    </section>
  );
}

/** A pen found off and not set since: its figure is kept hollow, and the prediction does not go by it. */
export function PenOff({ meter }: { meter: { name: string; off: string | null } }) {
  if (meter.off === null) return null;
  return (
    <div className="caution">
      <Icon name="exclamationTriangle" />
      <span>
        {meter.name} {meter.off}: set it on the Shelf, or read with the drop kit. What it reads is kept, drawn hollow.
      </span>
    </div>
  );
}

/** What the chemistry expects, with how sure it is, or why it says nothing. */
function Expected({ view }: { view: BatchView }) {
  const { predicted, ph } = view;
  if (!predicted.known) return <small>{predicted.why}</small>;
  if (ph.corrections > 0) return <small>It should stand near {phText(predicted.now.ph)} now.</small>;
  const { before } = predicted;
  return (
    <small>
      Expected pH <b>{phText(before.ph)}</b>, between {phText(before.lowPh)} and {phText(before.highPh)}
      {predicted.waterFrom === 'reading' && ' (nobody tested this water’s alkalinity)'}; standing open till tomorrow {phText(before.tomorrowPh)}.
    </small>
  );
}

/** Whole drops that hold the advised dose, never more than most of it at once, so that a strong acid is not overshot. */
function advisedDrops(ml: number | undefined, dropsPerMl: number, corrections: number): number {
  if (ml === undefined) return 1;
  const share = corrections === 0 ? 0.8 : 1;
  return Math.min(100, Math.max(1, Math.floor(ml * dropsPerMl * share)));
}

function adviceWords(dose: NonNullable<Extract<BatchView['predicted'], { known: true }>['dose']>, dropsPerMl: number, beforePpm: number): string {
  const drops = Math.round(dose.ml * dropsPerMl);
  const whole = drops > 100 ? `${doseMl(dose.ml)}: a syringe is quicker` : `about ${Math.max(1, drops)} drop${drops > 1 ? 's' : ''}`;
  return `The whole way to ${phText(dose.targetPh)} is ${whole}; it would then read ${ppmText(dose.ppm)} (before the acid ${ppmText(beforePpm)}), and ${phText(dose.tomorrowPh)} by tomorrow standing open${dose.brings ? `. It brings ${dose.brings}` : ''}.`;
}

function lowerFirst(text: string): string {
  return text.charAt(0).toLowerCase() + text.slice(1);
}
