import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import type { BatchView } from '../../contract/bench.ts';
import { phText } from '../shell/format.ts';
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
        <small>The app does not predict pH yet: only a reading counts. Rinse the pen, dip, wait until it stands still.</small>
        <ReadingEntry
          batchId={view.id}
          moment={`read-${view.lastEventId}`}
          quantity="pH"
          label="pH pen reads"
          meter={phMeter}
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
  const [productId, setProductId] = useState(fitting[0]?.id ?? '');
  const [toolId, setToolId] = useState(droppers[0]?.id ?? '');
  const [text, setText] = useState('1');
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
        {ph.movedPerDrop === null
          ? 'The app does not predict pH yet. In soft water one drop can move a bucket by a tenth or far more: start with one.'
          : `Each of the last drops moved it by about ${Math.abs(ph.movedPerDrop).toFixed(2)}; the next may differ, as this is no prediction.`}
      </small>
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

function lowerFirst(text: string): string {
  return text.charAt(0).toLowerCase() + text.slice(1);
}
