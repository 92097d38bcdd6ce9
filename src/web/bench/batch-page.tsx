import { inSentence } from '../../core/quantity/words.ts';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { Link, useParams } from 'react-router';
import type { BatchView, BenchStep } from '../../contract/bench.ts';
import { PhGauge } from '../drawing/ph-gauge.tsx';
import { useActs } from '../shell/acts.tsx';
import { get, newId, ProblemError } from '../shell/api.ts';
import { ppmText, whenText, phText } from '../shell/format.ts';
import { isWriting } from '../shell/is-writing.ts';
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
import { MOST_CORRECTIONS } from '../../core/correction/ph-coach.ts';
import Button from 'react-bootstrap/Button';
import { ChemistryDrawer } from './chemistry-drawer.tsx';
import { PartKnown } from './part-known.tsx';
import { RecipeStrip } from './recipe-strip.tsx';

type Panel = 'water' | 'strength' | 'ph' | 'pour';

/** The field for the figure has the focus nearly always: while it is empty a letter in it is a key; once something stands in it, what is typed is text. */
const IN_FIGURES = {
  enableOnFormTags: ['INPUT'],
  preventDefault: true,
  ignoreEventWhen: ({ target }: KeyboardEvent) =>
    isWriting(target) || (target instanceof HTMLInputElement && target.value !== ''),
} as const;

/** Mixing to strength and pH, portion by portion. */
export function BatchPage() {
  const { batchId = '' } = useParams();
  const batch = useQuery({
    queryKey: ['batch', batchId],
    queryFn: () => get<BatchView>(`/api/bench/batches/${batchId}`),
  });
  if (batch.isPending) return <Loading what="the batch" />;
  if (!batch.data) return <Failed error={batch.error} retry={() => void batch.refetch()} />;
  return <Batch key={batchId} view={batch.data} />;
}

function Batch({ view }: { view: BatchView }) {
  const { undo } = useActs();
  const shell = useShell();
  // The grower may look ahead; the next act brings the bench back to where the batch is.
  const [look, setLook] = useState<{ panel: Panel; at: string | null }>();
  const panel: Panel | 'closed' =
    view.stage === 'closed' ? 'closed' : look && look.at === view.lastEventId ? look.panel : view.stage;

  const { send, dipNow, other, setOther } = useSteps(view);
  const takeBack = () => view.lastEventId && void undo(view.lastEventId);
  useHotkeys('u', takeBack, IN_FIGURES);
  // One thing at a time, huge: for wet hands, across the bench.
  const [wet, setWet] = useState(false);
  useHotkeys('h', () => setWet((on) => !on), IN_FIGURES);

  const throwOut = () => void send({ kind: 'abandon', reason: '' }, `${view.name} thrown out`);
  const shown = Math.min(view.at, Math.max(0, view.parts.length - 1));
  return (
    <div className={`page bench ${wet ? 'wet' : ''}`}>
      <header>
        <div className="flex-fill">
          <h1>{view.name}</h1>
          <div className="small">
            {potWords(view)}started {whenText(view.startedOn, view.time, shell.data?.today ?? '')} · everything typed
            here is kept
            {view.openDays >= STALE_DAYS ? ` · open for ${view.openDays} days: read it again before you trust it` : ''}
          </div>
        </div>
        <Link className="btn btn-outline-secondary btn-sm" to={`/bench/${view.id}/card`}>
          Mixing card
        </Link>
        <Button variant="outline-secondary" size="sm" aria-pressed={wet} onClick={() => setWet(!wet)}>
          <kbd>H</kbd> {wet ? 'Dry hands' : 'Wet hands'}
        </Button>
        <Stepper view={view} panel={panel} onLook={(to) => setLook({ panel: to, at: view.lastEventId })} />
      </header>
      {other && <AskOther other={other} onAnswered={() => setOther(undefined)} />}
      <RecipeStrip view={view} />
      <section className="cols">
        <div className="sheet jug">
          <div className="small">The {inSentence(view.vessel.name)}</div>
          <BucketPicture
            volumeL={view.volumeL}
            capacityL={view.vessel.capacityL}
            strength={view.rows.length > 1 && view.netPpm > 0 ? (view.rows.at(-1)?.netPpm ?? 0) / view.netPpm : 0}
          />
        </div>
        <div className="sheet plot">
          <PortionChart view={view} part={shown} />
        </div>
        <Side
          panel={panel}
          view={view}
          send={send}
          dipNow={dipNow}
          takeBack={takeBack}
          setLook={setLook}
          throwOut={throwOut}
        />
      </section>
      <Foot view={view} panel={panel} part={view.parts[shown]} />
    </div>
  );
}

/** The next act, and under it the figures. */
function Side({
  panel,
  view,
  send,
  dipNow,
  takeBack,
  setLook,
  throwOut,
}: {
  panel: Panel | 'closed';
  view: BatchView;
  send: SendStep;
  dipNow: boolean;
  takeBack: () => '' | null | undefined;
  setLook(next: { panel: Panel; at: string | null } | undefined): void;
  throwOut: () => undefined;
}) {
  return (
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
      <Tables view={view} throwOut={throwOut} />
    </div>
  );
}

/** Sends the steps of a batch, each after the last that is known here; another device's steps meanwhile are asked about. */
function useSteps(view: BatchView) {
  const { put } = useActs();
  const client = useQueryClient();
  const [dipAfter, setDipAfter] = useState<string>();
  const dipNow = dipAfter !== undefined && dipAfter === view.lastEventId;

  // What this device did last and the server has not told of yet: its own steps follow each other also while nobody answers.
  const ownLast = useRef<string>(undefined);
  const [other, setOther] = useState<Other>();
  const sendAfter = async (
    after: string,
    step: BenchStep,
    words: string,
    thenDip: boolean,
  ): Promise<'done' | 'waiting'> => {
    const id = newId();
    if (thenDip) setDipAfter(id);
    const sent = await put<BatchView>({
      id,
      url: `/api/bench/batches/${view.id}/steps/${id}?after=${after}`,
      body: step,
      words,
    });
    ownLast.current = sent.kind === 'waiting' ? id : undefined;
    if (sent.kind === 'done') client.setQueryData(['batch', view.id], sent.value);
    return sent.kind;
  };
  const send: SendStep = async (step, words, thenDip = false) => {
    try {
      return await sendAfter(ownLast.current ?? view.lastEventId ?? 'start', step, words, thenDip);
    } catch (error) {
      if (!(error instanceof ProblemError) || error.problem.code !== 'changed-since') throw error;
      const stands = error.problem.existing?.eventId ?? 'start';
      void client.invalidateQueries({ queryKey: ['batch', view.id] });
      // The grower is asked; what was typed stays until there is an answer.
      return new Promise((resolve, reject) =>
        setOther({
          said: error.problem.detail,
          mine: words,
          keep: () => sendAfter(stands, step, words, thenDip).then(resolve, reject),
          leave: () => reject(error),
        }),
      );
    }
  };
  return { send, dipNow, other, setOther };
}

function Tables({ view, throwOut }: { view: BatchView; throwOut(): void }) {
  return (
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
  );
}

/** What is known of what goes in, and the pH. */
function Foot({
  view,
  panel,
  part,
}: {
  view: BatchView;
  panel: Panel | 'closed';
  part: BatchView['parts'][number] | undefined;
}) {
  const { expected, ph, phWindow } = view;
  return (
    <section className="foot">
      {part ? (
        <PartKnown view={view} part={part} />
      ) : (
        <div className="sheet known">Nothing goes in but what the pH asks for.</div>
      )}
      <div className="sheet next-ph">
        <div>
          <h3>{panel === 'ph' || ph.latest !== null ? 'pH' : 'Next: pH'}</h3>
          <span className="small nowrap">
            {view.use}, {phWindow.low} to {phWindow.high}
          </span>
          {expected.known && ph.latest === null && (
            <div className="small nowrap">expected {phText(expected.before.ph)}</div>
          )}
          {expected.known && ph.corrections > 0 && (
            <div className="small nowrap">reads about {ppmText(expected.now.ppm)} after it</div>
          )}
        </div>
        <div className="flex-fill">
          <PhGauge low={phWindow.low} high={phWindow.high} ph={ph.latest ?? undefined} label="pH of the batch" />
        </div>
        <span className="chip">
          corrections {ph.corrections} of {MOST_CORRECTIONS}
        </span>
        {expected.known && <ChemistryDrawer expected={expected} name={view.name} />}
      </div>
    </section>
  );
}

/** What another device did meanwhile, and the two ways on with what was to be kept here. */
type Other = { readonly said: string; readonly mine: string; keep(): Promise<void>; leave(): void };

function AskOther({ other, onAnswered }: { other: Other; onAnswered(): void }) {
  const answer = (how: () => unknown) => () => {
    onAnswered();
    void how();
  };
  return (
    <div className="notice refused" role="alert">
      {other.said}
      <span className="push d-flex gap-2">
        <Button size="sm" variant="outline-secondary" onClick={answer(() => other.leave())}>
          Leave mine out
        </Button>
        <Button size="sm" variant="clay" onClick={answer(() => other.keep())}>
          Keep mine as well: {other.mine}
        </Button>
      </span>
    </div>
  );
}

/** More pots than this are named by their first and last. */
const FEW_CODES = 8;
/** An open batch this old is read again. */
const STALE_DAYS = 1;

function potWords(view: BatchView): string {
  const codes = view.potCodes.length > 0 ? view.potCodes : view.forPots.map((p) => p.code);
  if (codes.length > FEW_CODES) return `${codes.length} pots, ${codes[0]} to ${codes.at(-1)} · `;
  return codes.length > 0 ? `${codes.join(', ')} · ` : '';
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
          view.status === 'open' &&
          (i <= at || (view.rows.length > (view.parts.length > 0 ? 1 : 0) && view.advice.kind !== 'readAgain')) &&
          i > 0 &&
          !(s.panel === 'ph' && !view.phMeter);
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
