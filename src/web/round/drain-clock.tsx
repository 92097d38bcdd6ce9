import type { RoundPot } from '../../contract/round.ts';
import type { PlanAct } from '../../contract/shell.ts';
import { Icon } from '../drawing/icon.tsx';
import { newId } from '../shell/api.ts';
import { useAct } from '../shell/use-act.ts';

/** Draining takes about so long, common practice. */
const DRAIN_MINUTES = 3;

/** Starts the drain's clock for a pot; it runs in every room. */
export function DrainClock({ pot }: { pot: RoundPot }) {
  const { send, busy } = useAct('/api/shell/plans/acts');
  const start = () => {
    const body: PlanAct = {
      kind: 'startClock',
      clockId: newId(),
      subjectKind: 'pot',
      subjectId: pot.id,
      words: 'Drain',
      minutes: DRAIN_MINUTES,
      origin: 'round',
    };
    void send(body, `Clock started: drain ${pot.code}`);
  };
  return (
    <button
      type="button"
      className="btn btn-sm btn-outline-secondary drain"
      disabled={busy}
      onClick={start}
      aria-label={`Start the clock: drain, ${DRAIN_MINUTES} minutes`}
    >
      <Icon name="stopwatch" /> {DRAIN_MINUTES}
      {'\u00a0'}min
    </button>
  );
}
