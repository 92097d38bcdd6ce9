import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { Link, useParams } from 'react-router';
import type { BatchView } from '../../contract/bench.ts';
import { PhGauge } from '../drawing/ph-gauge.tsx';
import { useActs } from '../shell/acts.tsx';
import { get, newId } from '../shell/api.ts';
import { litres, ppmText, whenText, phText } from '../shell/format.ts';
import { Failed, Loading } from '../shell/states.tsx';
import { useShell } from '../shell/use-shell.ts';
import { BucketPicture } from '../drawing/bucket-picture.tsx';
import { ClosedNow } from './closed-now.tsx';
import { PhNow } from './ph-now.tsx';
import { PhTable } from './ph-table.tsx';
import { PortionChart } from './portion-chart.tsx';
import { PortionTable } from './portion-table.tsx';
import { PourNow } from './pour-now.tsx';
import type { SendStep } from './send-step.ts';
import { StrengthNow } from './strength-now.tsx';
import { Icon } from '../drawing/icon.tsx';

type Panel = 'water' | 'strength' | 'ph' | 'pour';

/** Mixing to strength and pH, portion by portion. */
export function BatchPage() {
  const { batchId = '' } = useParams();
  const batch = useQuery({ queryKey: ['batch', batchId], queryFn: () => get<BatchView>(`/api/bench/batches/${batchId}`) });
  if (batch.isPending) return <Loading what="the batch" />;
  if (!batch.data) return <Failed error={batch.error} retry={() => void batch.refetch()} />;
  return <Batch key={batchId} view={batch.data} />;
}

function Batch({ view }: { view: BatchView }) {
  const { put, undo } = useActs();
  const client = useQueryClient();
  const shell = useShell();
  // The grower may look ahead; the next act brings the bench back to where the batch is.
  const [look, setLook] = useState<{ panel: Panel; at: string | null }>();
  const panel: Panel | 'closed' = view.stage === 'closed' ? 'closed' : look && look.at === view.lastEventId ? look.panel : view.stage;

  const [dipAfter, setDipAfter] = useState<string>();
  const dipNow = dipAfter !== undefined && dipAfter === view.lastEventId;

  const send: SendStep = async (step, words, thenDip = false) => {
    const id = newId();
    if (thenDip) setDipAfter(id);
    const sent = await put<BatchView>({ id, url: `/api/bench/batches/${view.id}/steps/${id}`, body: step, words });
    if (sent.kind === 'done') client.setQueryData(['batch', view.id], sent.value);
    return sent.kind;
  };
  const takeBack = () => view.lastEventId && void undo(view.lastEventId);
  useHotkeys('u', takeBack);

  const throwOut = () => void send({ kind: 'abandon', reason: '' }, `${view.name} thrown out`);
  const gross = view.basePpm === null ? null : view.basePpm + view.aim.netPpm;
  return (
    <div className="page bench">
      <header>
        <div className="flex-fill">
          <h1>{view.name}</h1>
          <div className="small">
            {view.potCodes.length > 0 ? `${view.potCodes.join(', ')} · ` : ''}started {whenText(view.startedOn, view.time, shell.data?.today ?? '')} ·
            everything typed here is kept
          </div>
        </div>
        <Stepper view={view} panel={panel} onLook={(to) => setLook({ panel: to, at: view.lastEventId })} />
      </header>
      <section className="sheet recipe" aria-label="Recipe">
        <div>
          <span className="small">Water</span>
          <b className="num">
            {view.water.name}
            {view.basePpm !== null && `, reads ${ppmText(view.basePpm)}`}
          </b>
        </div>
        <div>
          <span className="small">Batch</span>
          <b className="num">{litres(view.volumeL)}</b>
        </div>
        <div>
          <span className="small">Aim</span>
          <b className="num">
            {ppmText(view.aim.netPpm)} over base{gross !== null && ` → reads ${ppmText(gross)}`}
          </b>
        </div>
        <div>
          <span className="small">Comfortable</span>
          <b className="num">
            {view.basePpm === null ? 'once the water is read' : `${ppmText(view.basePpm + view.aim.lowPpm)} to ${ppmText(view.basePpm + view.aim.highPpm)}`}
          </b>
        </div>
        <div>
          <span className="small">{view.thinRatio > 1 ? `Thinned first, 1 part in ${view.thinRatio}` : 'Plain from the bottle'}</span>
          <b className="num">{view.product.name}</b>
        </div>
      </section>
      <section className="cols">
        <div className="sheet jug">
          <div className="small">The {view.vessel.name.toLowerCase()}</div>
          <BucketPicture
            volumeL={view.volumeL}
            capacityL={view.vessel.capacityL}
            strength={view.rows.length > 1 ? (view.rows.at(-1)?.netPpm ?? 0) / view.aim.netPpm : 0}
          />
        </div>
        <div className="sheet plot">
          <PortionChart view={view} />
        </div>
        <div className="side">
          {(panel === 'water' || panel === 'strength') && (
            <StrengthNow
              view={view}
              send={send}
              dipNow={dipNow}
              onUndo={takeBack}
              onGoOn={() => setLook({ panel: view.phMeter ? 'ph' : 'pour', at: view.lastEventId })}
            />
          )}
          {panel === 'ph' && (
            <PhNow
              view={view}
              send={send}
              dipNow={dipNow}
              onUndo={takeBack}
              onThrowOut={throwOut}
              onPour={() => setLook({ panel: 'pour', at: view.lastEventId })}
            />
          )}
          {panel === 'pour' && <PourNow view={view} send={send} />}
          {panel === 'closed' && <ClosedNow view={view} send={send} onUndo={takeBack} />}
          <div className="sheet table-sheet">
            {view.ph.readings.length > 0 && <PhTable view={view} />}
            <PortionTable view={view} />
            {view.status === 'open' && (
              <div className="d-flex gap-3 mt-auto pt-1">
                <button type="button" className="btn btn-link btn-sm p-0" onClick={throwOut}>
                  Throw this batch out
                </button>
                {view.mixKey && (
                  <Link className="small push" to="/round">
                    To the round
                  </Link>
                )}
              </div>
            )}
          </div>
        </div>
      </section>
      <section className="foot">
        <div className="sheet known">
          <div>
            <h3>What {ppmText(view.aim.netPpm)} over base is</h3>
            <span className="small">whatever pen reads it, at 25 °C</span>
          </div>
          <div>
            <b className="num">{(view.aim.netPpm / view.ppmMeter.scale / 1000).toFixed(2)}</b> mS/cm
            {view.aimBrings && (
              <div className="small" aria-label="what that brings, mg/L">
                {view.aimBrings
                  .filter((e) => ['nitrogen', 'calcium', 'magnesium'].includes(e.element))
                  .map((e) => `${e.mgL < 10 ? e.mgL.toFixed(1) : Math.round(e.mgL)} ${e.element}`)
                  .join(', ')}{' '}
                mg/L
              </div>
            )}
          </div>
          <div className="learned">
            <b className="num">
              {Math.round(view.strength.ppmPerMlL)} ± {Math.max(1, Math.round(view.strength.sd))}
            </b>{' '}
            ppm per mL/L of this {view.product.short}
            <div className="small">
              {view.strength.batches === 0
                ? `a typed guess of ${Math.round(view.strength.guessPpmPerMlL)}; every reading teaches it`
                : `learned from ${view.strength.batches} batch${view.strength.batches === 1 ? '' : 'es'} of this bottle; the typed guess was ${Math.round(view.strength.guessPpmPerMlL)}`}
            </div>
          </div>
        </div>
        <div className="sheet next-ph">
          <div>
            <h3>{panel === 'ph' || view.ph.latest !== null ? 'pH' : 'Next: pH'}</h3>
            <span className="small nowrap">
              feed, {view.phWindow.low} to {view.phWindow.high}
            </span>
            {view.predicted.known && view.ph.latest === null && <div className="small nowrap">expected {phText(view.predicted.before.ph)}</div>}
            {view.predicted.known && view.ph.corrections > 0 && <div className="small nowrap">reads about {ppmText(view.predicted.now.ppm)} after it</div>}
          </div>
          <div className="flex-fill">
            <PhGauge low={view.phWindow.low} high={view.phWindow.high} ph={view.ph.latest ?? undefined} label="pH of the batch" />
          </div>
          <span className="chip">corrections {view.ph.corrections} of 3</span>
        </div>
      </section>
    </div>
  );
}

const STEPS: { panel: Panel; label: string }[] = [
  { panel: 'water', label: 'Water' },
  { panel: 'strength', label: 'Strength' },
  { panel: 'ph', label: 'pH' },
  { panel: 'pour', label: 'Pour' },
];

function Stepper({ view, panel, onLook }: { view: BatchView; panel: Panel | 'closed'; onLook(panel: Panel): void }) {
  const at = view.stage === 'closed' ? 4 : STEPS.findIndex((s) => s.panel === view.stage);
  return (
    <ol className="stepper" aria-label="Steps">
      {STEPS.map((s, i) => {
        const reachable =
          view.status === 'open' && (i <= at || (view.rows.length > 1 && view.advice.kind !== 'readAgain')) && i > 0 && !(s.panel === 'ph' && !view.phMeter);
        const current = s.panel === panel;
        return (
          <li key={s.panel}>
            <button
              type="button"
              className={current ? 'on' : ''}
              aria-current={current ? 'step' : undefined}
              disabled={!reachable || current}
              onClick={() => onLook(s.panel)}
            >
              {i < at && <Icon name="check2" />}
              {i < at && <span className="visually-hidden">done: </span>}
              {s.label}
            </button>
          </li>
        );
      })}
    </ol>
  );
}
