import Button from 'react-bootstrap/Button';
import { Link } from 'react-router';
import type { RoundMix, RoundPot } from '../../contract/round.ts';
import { upperFirst } from '../shell/format.ts';

type Props = {
  pot: RoundPot;
  mix: RoundMix | undefined;
  /** What it is filled with stands ready. */
  ready: boolean;
  isDue: boolean;
  /** Logged, and not yet heard of by the server. */
  waiting: boolean;
  /** Filled though it is not its day. */
  early: boolean;
  busy: boolean;
  narrow: boolean;
  error: string | undefined;
  /** How many more are given the same and could be logged with it. */
  others: number;
  onMany(): void;
  onSkip(): void;
  /** What is asked of it is left unread, and it is logged; undefined where nothing is asked. */
  onLeave: (() => void) | undefined;
};

/** What the card ends in: log it, make its mix first, skip it; or why there is nothing to do. */
export function CardButtons(props: Props) {
  const { isDue, ready, narrow, error, onMany, onLeave, onSkip } = props;
  return (
    <div className="act">
      {error && (
        <p className="field-error mb-1" role="alert">
          {error}
        </p>
      )}
      {isDue ? <DueButtons {...props} /> : <p className="small mb-0">{whyNothing(props)}</p>}
      {!narrow && isDue && ready && (
        <div className="small keys-line">
          <span className="nowrap">
            <kbd>Enter</kbd> log <kbd>R</kbd> read{' '}
            {onLeave && (
              <>
                <kbd>L</kbd> leave{' '}
              </>
            )}
            <kbd>S</kbd> skip <kbd>U</kbd> undo
          </span>
          {onLeave && <SkipLink onSkip={onSkip} />}
          {offersMany(props) && <SeveralAlike onMany={onMany} />}
        </div>
      )}
    </div>
  );
}

function DueButtons(props: Props) {
  const { mix, ready, early, busy, narrow, onMany, onSkip } = props;
  const leaves = ready ? props.onLeave : undefined;
  const beside = leaves ? ([leaves, 'Leave unread'] as const) : ([onSkip, 'Skip'] as const);
  return (
    <>
      <div className="d-flex gap-2 by-hand">
        {ready && (
          <Button
            data-log
            type="submit"
            size="lg"
            variant={narrow ? 'clay' : 'primary'}
            className="flex-fill"
            aria-disabled={busy}
          >
            {logWords(early, leaves !== undefined)}
          </Button>
        )}
        {!ready && mix && <ToTheMix mix={mix} narrow={narrow} />}
        <Button type="button" size="lg" variant={narrow ? 'outline-light' : 'outline-secondary'} onClick={beside[0]}>
          {beside[1]}
        </Button>
      </div>
      {narrow && leaves && <SkipLink onSkip={onSkip} />}
      {narrow && offersMany(props) && <SeveralAlike onMany={onMany} />}
      {!ready && (
        <Button type="submit" variant="link" className="p-0 small unmeasured" aria-disabled={busy}>
          or log it with a mix that was not measured
        </Button>
      )}
      {!ready && props.onLeave && (
        <Button type="button" variant="link" className="p-0 small unmeasured" onClick={props.onLeave}>
          or so, and leave it unread
        </Button>
      )}
    </>
  );
}

const offersMany = ({ ready, others, early }: Props) => ready && others > 0 && !early;

function logWords(early: boolean, asked: boolean): string {
  if (early) return 'Log the filling';
  return asked ? 'Log, next pot' : 'Log as planned, next pot';
}

function SkipLink({ onSkip }: Pick<Props, 'onSkip'>) {
  return (
    <Button type="button" variant="link" className="p-0 small several" onClick={onSkip}>
      skip it
    </Button>
  );
}

function ToTheMix({ mix: { batch, key, letter }, narrow }: { mix: RoundMix; narrow: boolean }) {
  const open = batch?.status === 'open' ? batch : undefined;
  return (
    <Link
      data-log
      className={`btn btn-lg flex-fill ${narrow ? 'btn-clay' : 'btn-primary'}`}
      to={open ? `/bench/${open.id}` : `/bench/new?mix=${encodeURIComponent(key)}`}
    >
      {open ? `Finish mix ${letter}` : `Make ${batch && batch.leftMl > 0 ? 'more of ' : ''}mix ${letter} first`}
    </Link>
  );
}

function whyNothing({ pot, waiting }: Props): string {
  if (waiting) return 'Logged; it waits for the server.';
  if (pot.done) return `${upperFirst(pot.done.words)}.`;
  return `Due ${pot.due.words}; nothing to do today.`;
}

function SeveralAlike({ onMany }: Pick<Props, 'onMany'>) {
  return (
    <Button type="button" variant="link" className="p-0 small several" onClick={onMany}>
      or several alike at once
    </Button>
  );
}
