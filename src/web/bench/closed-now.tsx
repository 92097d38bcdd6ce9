import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import { Link } from 'react-router';
import type { BatchView } from '../../contract/bench.ts';
import { dayMonth, litres, mL, ppmText } from '../shell/format.ts';
import { useShell } from '../shell/use-shell.ts';
import type { SendStep } from './send-step.ts';
import { UndoKey } from './undo-key.tsx';
import { WaitButtons } from './wait-buttons.tsx';

/** Who may have what is left over. */
const TAKERS = ['soil plants, thinned', 'tolerant garden plants', 'the drain'] as const;

/** A batch that is closed: poured, used up or thrown out. */
export function ClosedNow({ view, send, onUndo }: { view: BatchView; send: SendStep; onUndo(): void }) {
  const shell = useShell();
  const [to, setTo] = useState<string>(TAKERS[0]);
  const left = view.leftMl >= 20;
  const tooStrong = litresToThinOne(view);
  const stale = view.keepsUntil !== null && shell.data !== undefined && shell.data.today > view.keepsUntil;
  return (
    <section className="now" aria-label="Now">
      <small>
        {view.status === 'abandoned'
          ? 'This batch'
          : `Poured for ${view.potCodes.length} pot${view.potCodes.length === 1 ? '' : 's'} so far`}
      </small>
      <div className="say">
        {view.status === 'abandoned' ? 'was thrown out' : left ? `${mL(view.leftMl)} left` : 'Used up'}
      </div>
      <UntilWhen left={left} view={view} stale={stale} />
      {left && tooStrong !== undefined && (
        <small>
          As it is it reads {ppmText(view.pouredPpm!)}, for {ppmText(view.aimPpm)} over its water: thin each litre with{' '}
          {litres(tooStrong)} of the same water before use.
        </small>
      )}
      <WaysOn view={view} />
      <Leftover left={left} to={to} setTo={setTo} send={send} view={view} />
      {view.potCodes.length === 0 && <UndoKey onUndo={onUndo} />}
    </section>
  );
}

/** Where the rest goes. */
function Leftover({
  left,
  to,
  setTo,
  send,
  view,
}: {
  left: boolean;
  to: string;
  setTo(next: string): void;
  send: SendStep;
  view: BatchView;
}) {
  if (!left) return null;
  return (
    <>
      <div className="d-flex gap-2 align-items-center">
        <label htmlFor="left-to">The rest goes to</label>
        <Form.Select id="left-to" size="sm" value={to} onChange={(e) => setTo(e.target.value)}>
          {TAKERS.map((t) => (
            <option key={t}>{t}</option>
          ))}
        </Form.Select>
        <Button
          variant="outline-light"
          className="nowrap"
          onClick={() => void send({ kind: 'empty', to }, 'Leftover poured out')}
        >
          Poured out
        </Button>
      </div>
      <div className="entry-keys">
        {view.holdMinutes !== null && <WaitButtons view={view} waits={['hold']} />}
        <Link to={`/bench/${view.id}/card`}>Print its label</Link>
      </div>
    </>
  );
}

/** Where one goes from here. */
function WaysOn({ view }: { view: BatchView }) {
  return (
    <div className="d-flex gap-2 flex-wrap">
      {view.status === 'abandoned' ? (
        <Link
          className="btn btn-clay btn-lg"
          to={view.mixKey ? `/bench/new?mix=${encodeURIComponent(view.mixKey)}` : '/bench/new'}
        >
          Start again
        </Link>
      ) : (
        <Link className="btn btn-clay btn-lg" to="/round">
          To the round
        </Link>
      )}
      {view.status === 'poured' && view.recipeId === null && view.parts.length > 0 && (
        <Link className="btn btn-outline-light btn-lg" to={`/bench/recipes/new?batch=${view.id}`}>
          Keep it as a recipe
        </Link>
      )}
    </div>
  );
}

/** How long what is left keeps. */
function UntilWhen({ left, view, stale }: { left: boolean; view: BatchView; stale: boolean }) {
  if (!(left && view.keepsUntil)) return null;
  return (
    <small>
      {stale
        ? `It was to be used by ${dayMonth(view.keepsUntil)}: read it again, or let it go.`
        : `Use it until ${dayMonth(view.keepsUntil)}; read its pH before use if it stood a day.`}
      {view.mixKey && ' The next round for the same mix offers it first.'}
    </small>
  );
}

/** Litres of water that bring a litre of it to its aim; undefined where it is not too strong, or nothing is known of its water. */
function litresToThinOne(view: BatchView): number | undefined {
  const base = view.basePpm ?? view.water.expectedPpm;
  if (view.pouredPpm === null || base === null || !(view.aimPpm > 0)) return undefined;
  const over = view.pouredPpm - base;
  return over > TOO_STRONG * view.aimPpm ? over / view.aimPpm - 1 : undefined;
}
/** Past a feed's limit. */
const TOO_STRONG = 1.4;
