import Button from 'react-bootstrap/Button';
import { useNavigate } from 'react-router';
import { useState } from 'react';
import type { BatchView } from '../../contract/bench.ts';
import { ProblemError } from '../shell/api.ts';
import { litres, phText, ppmText } from '../shell/format.ts';
import { AsItReads } from './as-it-reads.tsx';
import type { SendStep } from './send-step.ts';
import { WaitButtons } from './wait-buttons.tsx';
import { Icon } from '../drawing/icon.tsx';

/** Closes the batch: its litres are then there for the round. */
export function PourNow({ view, send }: { view: BatchView; send: SendStep }) {
  const navigate = useNavigate();
  const [error, setError] = useState<string>();
  const reads = [...view.rows].reverse().find((r) => r.readsPpm !== null && r.kind !== 'base')?.readsPpm;
  const outside = view.advice.kind !== 'inside';
  const pour = async () => {
    setError(undefined);
    try {
      await send({ kind: 'pour' }, `${view.name} ready to pour`);
      if (view.mixKey) await navigate('/round');
    } catch (caught) {
      if (!(caught instanceof ProblemError)) throw caught;
      setError(caught.problem.detail);
    }
  };
  return (
    <section className="now" aria-label="Now">
      <small>{view.mixKey ? 'Its litres go to the round' : 'It is kept track of until it is used up'}</small>
      <div className="say">
        {litres(view.volumeL)}
        {reads !== undefined && reads !== null && (
          <>
            <br />
            reads {ppmText(reads)}
          </>
        )}
        {view.ph.latest !== null && `, pH ${phText(view.ph.latest)}`}
      </div>
      {outside && (
        <div className="caution">
          <Icon name="infoCircle" />
          <span>
            {view.advice.kind === 'readAgain'
              ? 'The last portion has not been read.'
              : 'It does not read in its comfortable band.'}{' '}
            It is poured as it is, and its reading is kept so.
          </span>
        </div>
      )}
      <ByMeasure view={view} />
      <AsItReads view={view} />
      {view.ph.inside && view.expected.known && (
        <small>
          pH {phText(view.expected.now.inAQuarterPh)} or near it in a quarter of an hour and{' '}
          {phText(view.expected.now.tomorrowPh)} tomorrow, standing open: read it again if it is not poured at once.
        </small>
      )}
      {view.ph.latest === null && view.phMeter && <small>The pH was not read; it is kept as not measured.</small>}
      <Button variant="clay" size="lg" autoFocus onClick={() => void pour()}>
        Ready to pour{view.mixKey ? ', to the round' : ''}
      </Button>
      {view.phMeter && (
        <div className="entry-keys">
          <WaitButtons view={view} waits={['again', 'tomorrow']} />
        </div>
      )}
      {error && (
        <div className="field-error" role="alert">
          {error}
        </div>
      )}
    </section>
  );
}

/** No pen: what it comes to is reckoned. */
function ByMeasure({ view: { ppmMeter, expected } }: { view: BatchView }) {
  if (ppmMeter) return null;
  return (
    <small>
      Strength and pH as its parts bring them, not measured.
      {expected.known &&
        ` By their labels a pen would read about ${ppmText(expected.now.ppm)}; the first one you get will tell.`}
    </small>
  );
}
