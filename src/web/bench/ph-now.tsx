import { inSentence } from '../../core/quantity/words.ts';
import Button from 'react-bootstrap/Button';
import type { BatchView } from '../../contract/bench.ts';
import { phSide } from '../../core/quantity/index.ts';
import { MOST_CORRECTIONS } from '../../core/correction/ph-coach.ts';
import { Icon } from '../drawing/icon.tsx';
import { phText } from '../shell/format.ts';
import { standsWords } from './bench-words.ts';
import { Correction } from './correction.tsx';
import { ReadingEntry } from './reading-entry.tsx';
import type { SendStep } from './send-step.ts';
import { UndoKey } from './undo-key.tsx';
import { WaitButtons } from './wait-buttons.tsx';

type Props = { view: BatchView; send: SendStep; dipNow: boolean; onUndo(): void; onThrowOut(): void; onPour(): void };

/** pH: read, correct, read again; three corrections at the most. */
export function PhNow({ view, send, dipNow, onUndo, onThrowOut, onPour }: Props) {
  const { ph, phWindow, phMeter } = view;
  if (!phMeter) return null;
  if (ph.latest === null) {
    return (
      <section className="now" aria-label="Now">
        <small>
          {ph.corrections ? `Correction ${ph.corrections} of ${MOST_CORRECTIONS} is in` : 'Strength is done'}
        </small>
        <div className="say">{ph.corrections ? 'Stir, then read the pH' : 'Read the pH'}</div>
        <Expected view={view} />
        <PenOff meter={phMeter} />
        <small>
          {phMeter.kind === 'kit'
            ? 'By the drop kit: type the two colours it lies between, such as 6.0-6.5.'
            : 'Rinse the pen, dip, wait until it stands still. Only a reading counts.'}
        </small>
        <ReadingEntry
          batchId={view.id}
          moment={`read-${view.lastEventId}`}
          quantity="pH"
          label="pH pen reads"
          meter={phMeter}
          expected={
            view.expected.known
              ? phText((ph.corrections ? view.expected.now.ph : view.expected.before.ph) + ph.penOffBy)
              : undefined
          }
          dipNow={dipNow}
          onKeep={(reading, again) => send({ kind: 'ph', reading, confirmedOdd: again }, 'A pH reading')}
          onUndo={onUndo}
        />
        <div className="entry-keys">
          <button type="button" onClick={onPour}>
            Not measured: on to pouring
          </button>
        </div>
      </section>
    );
  }
  if (ph.inside) {
    return (
      <section className="now" aria-label="Now">
        <small>
          pH {standsWords(view, ph.latest)} is inside {phWindow.low} to {phWindow.high}
        </small>
        <div className="say">Ready to pour</div>
        {view.expected.known && (
          <small>
            It should stand near {phText(view.expected.now.inAQuarterPh)} in a quarter of an hour and{' '}
            {phText(view.expected.now.tomorrowPh)} tomorrow, standing open.
          </small>
        )}
        <Button variant="clay" size="lg" autoFocus onClick={onPour}>
          On to pouring
        </Button>
        <div className="entry-keys">
          <WaitButtons view={view} waits={['again', 'tomorrow']} />
        </div>
        <ReadAgain view={view} phMeter={phMeter} send={send} />
        <UndoKey onUndo={onUndo} />
      </section>
    );
  }
  if (ph.corrections >= MOST_CORRECTIONS) {
    return (
      <section className="now" aria-label="Now">
        <small>
          pH {standsWords(view, ph.latest)} after {MOST_CORRECTIONS} corrections
        </small>
        <div className="say">No fourth: start again</div>
        <small>
          Each correction adds salts, and a fourth rarely lands where three did not. The spoilt{' '}
          {inSentence(view.vessel.name)} can water tolerant garden plants.
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
  if (ph.choices.length === 0 || view.tools.length === 0) {
    const down = phSide(ph.latest, phWindow) === 'above';
    return (
      <section className="now" aria-label="Now">
        <small>
          pH {standsWords(view, ph.latest)} is {down ? 'above' : 'below'} {phWindow.low} to {phWindow.high}
        </small>
        <div className="say">No pH-{down ? 'down' : 'up'} on the shelf</div>
        <small>Without one it can be poured as it is; the clay and the roots will move it too.</small>
        <Button variant="clay" size="lg" onClick={onPour}>
          Pour it as it is
        </Button>
        <UndoKey onUndo={onUndo} />
      </section>
    );
  }
  return (
    <Correction
      key={`${ph.corrections}-${view.lastEventId}`}
      view={view}
      phMeter={phMeter}
      latest={ph.latest}
      send={send}
      onUndo={onUndo}
      onPour={onPour}
    />
  );
}

/** One more reading, after the quarter of an hour or on the next day. */
function ReadAgain({
  view,
  phMeter,
  send,
}: {
  view: BatchView;
  phMeter: NonNullable<BatchView['phMeter']>;
  send: SendStep;
}) {
  return (
    <details className="read-again">
      <summary>Read it again</summary>
      <ReadingEntry
        batchId={view.id}
        moment={`again-${view.lastEventId}`}
        quantity="pH"
        label="pH pen reads"
        meter={phMeter}
        autoFocus={false}
        keys={false}
        expected={view.expected.known ? phText(view.expected.now.inAQuarterPh + view.ph.penOffBy) : undefined}
        onKeep={(reading, again) => send({ kind: 'ph', reading, confirmedOdd: again }, 'A pH reading')}
      />
    </details>
  );
}

/** A pen found off and not set since: its figure is kept hollow, and the prediction does not go by it. */
export function PenOff({ meter }: { meter: { name: string; off: string | null } }) {
  if (meter.off === null) return null;
  return (
    <div className="caution">
      <Icon name="exclamationTriangle" />
      <span>
        {meter.name} {meter.off}: set it on the Shelf, or read with the drop kit. What it shows is kept and drawn
        hollow; where it is known by how much it is off, the coach goes by the figure put right.
      </span>
    </div>
  );
}

/** What the chemistry expects, with how sure it is, or why it says nothing. */
function Expected({ view }: { view: BatchView }) {
  const { expected, ph } = view;
  if (!expected.known) return <small>{expected.why}</small>;
  if (ph.corrections > 0) return <small>It should stand near {phText(expected.now.ph)} now.</small>;
  const { before } = expected;
  return (
    <small>
      Expected pH <b>{phText(before.ph)}</b>, between {phText(before.lowPh)} and {phText(before.highPh)}
      {expected.waterFrom === 'reading' && ' (nobody tested this water’s alkalinity)'}; standing open till tomorrow{' '}
      {phText(before.tomorrowPh)}.
    </small>
  );
}
