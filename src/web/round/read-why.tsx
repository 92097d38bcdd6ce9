import { Fragment } from 'react';
import type { RoundPot } from '../../contract/round.ts';
import { READABLES } from '../../core/what-to-read/index.ts';
import { useAct } from '../shell/use-act.ts';
import { askedNow, CALLED, type AsksHere } from './what-is-asked.ts';

/** Why it is read now. */
export function ReadWhy({ asks }: { asks: AsksHere }) {
  const now = askedNow(asks);
  if (now.length === 0) return null;
  const same = now.length === 2 && asks.ppm.words === asks.ph.words;
  return (
    <div className="why read-why">
      {same ? (
        <>
          <b>Read its ppm and its pH.</b> {asks.ppm.words}
        </>
      ) : (
        now.map((what) => (
          <div key={what}>
            <b>Read its {CALLED[what]}.</b> {asks[what].words}
          </div>
        ))
      )}
    </div>
  );
}

/** What is left unread of it and until when; and the way to ask it never. */
export function LeftUnread({ pot, asks }: { pot: RoundPot; asks: AsksHere }) {
  const rest = READABLES.filter((what) => asks[what].is !== 'asked');
  return (
    <div className="small read-left">
      {pot.read?.never ? (
        <>Never asked: you said so. </>
      ) : (
        rest.map((what) => (
          <Fragment key={what}>
            <b>{CALLED[what]}</b>{' '}
            {asks[what].is === 'missed'
              ? `asked, but not within the budget. ${asks[what].words}`
              : asks[what].words}{' '}
          </Fragment>
        ))
      )}
      <NeverAsk pot={pot} />
    </div>
  );
}

function NeverAsk({ pot }: { pot: RoundPot }) {
  const { send, busy } = useAct('/api/round/reading');
  const never = !pot.read?.never;
  const words = never ? `${pot.code} is never asked` : `${pot.code} is asked again`;
  return (
    <button
      type="button"
      className="btn btn-link btn-sm p-0"
      onClick={() => void (busy || send({ kind: 'never', potId: pot.id, never }, words))}
    >
      {never ? 'Never ask it' : 'Ask it again'}
    </button>
  );
}
