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
  onSkip(): void;
};

/** What the card ends in: log it, make its mix first, skip it; or why there is nothing to do. */
export function CardButtons({ pot, mix, ready, isDue, waiting, early, busy, narrow, error, onSkip }: Props) {
  return (
    <div className="act">
      {error && (
        <p className="field-error mb-1" role="alert">
          {error}
        </p>
      )}
      {isDue ? (
        <>
          <div className="d-flex gap-2 by-hand">
            {ready ? (
              <Button
                data-log
                type="submit"
                size="lg"
                variant={narrow ? 'clay' : 'primary'}
                className="flex-fill"
                aria-disabled={busy}
              >
                {early ? 'Log the filling' : 'Log as planned, next pot'}
              </Button>
            ) : (
              mix && (
                <Link
                  data-log
                  className={`btn btn-lg flex-fill ${narrow ? 'btn-clay' : 'btn-primary'}`}
                  to={
                    mix.batch?.status === 'open'
                      ? `/bench/${mix.batch.id}`
                      : `/bench/new?mix=${encodeURIComponent(mix.key)}`
                  }
                >
                  {mix.batch?.status === 'open' ? `Finish mix ${mix.letter}` : `Make mix ${mix.letter} first`}
                </Link>
              )
            )}
            <Button type="button" size="lg" variant={narrow ? 'outline-light' : 'outline-secondary'} onClick={onSkip}>
              Skip
            </Button>
          </div>
          {!ready && (
            <Button type="submit" variant="link" className="p-0 small unmeasured" aria-disabled={busy}>
              or log it with a mix that was not measured
            </Button>
          )}
        </>
      ) : (
        <p className="small mb-0">
          {waiting
            ? 'Logged; it waits for the server.'
            : pot.done
              ? `${upperFirst(pot.done.words)}.`
              : `Due ${pot.due.words === 'tomorrow' ? 'tomorrow' : pot.due.words}; nothing to do today.`}
        </p>
      )}
      {!narrow && isDue && (
        <div className="small keys-line">
          <kbd>Enter</kbd> {ready ? 'log' : 'go on'} <kbd>R</kbd> read <kbd>S</kbd> skip <kbd>U</kbd> undo
        </div>
      )}
    </div>
  );
}
