import { useId } from 'react';
import Button from 'react-bootstrap/Button';
import { Link } from 'react-router';
import { Icon } from '../drawing/icon.tsx';
import { dayMonthYear, litres, ppmText } from '../shell/format.ts';
import { ChangeWater } from './change-water.tsx';
import { round1, type NowProps } from './now-props.ts';
import { useFocusFirst } from '../shell/use-focus-first.ts';
import { ToldNote } from './told-note.tsx';
import { useClayAct } from './send-clay.ts';

/* The now card of a batch that stands in no water: before its first, and after its last. */

export function Rinse({ batch }: NowProps) {
  const { send, busy } = useClayAct();
  const id = useId();
  useFocusFirst(id, true);
  return (
    <section className="now" aria-label="Now">
      <small>{batch.values.name} is as it came</small>
      <div className="say">
        Rinse it until
        <br />
        it runs clear
      </div>
      <div className="caution">
        <Icon name="exclamationTriangle" />
        <span>
          Clay dust harms the lungs: wet it before you pour it out, rinse it wet, and do not breathe the dust.
        </span>
      </div>
      <small>The dust goes; the minerals stay. What they are worth shows in its first water.</small>
      <ToldNote batch={batch} />
      <Button
        variant="clay"
        size="lg"
        id={id}
        disabled={busy}
        onClick={() =>
          void send({ kind: 'prep', clayId: batch.id, step: 'rinsed', done: true }, `Rinsed ${batch.values.name}`)
        }
      >
        It runs clear
      </Button>
    </section>
  );
}

export function FirstWater({ room, batch, model, onPen }: NowProps) {
  const { send, busy } = useClayAct();
  const first = model.standing.flat;
  return (
    <section className="now" aria-label="Now">
      <small>Rinsed{batch.boiledOn ? ' and boiled' : ''}; now its first water</small>
      <div className="say">Pour its first water on</div>
      <small>
        It will read {ppmText(onPen(first.low))} to {ppmText(onPen(first.high))} over the water’s base when it goes
        flat, nine bags in ten
        {batch.ownBags > 0 ? `; ${batch.ownBags} of your own bags count in that` : ''}.
      </small>
      <ToldNote batch={batch} />
      <ChangeWater
        room={room}
        batch={batch}
        first
        coverL={model.asked.coverL}
        pouredOffL={0}
        freshL={model.asked.coverL}
        autoFocus
      />
      {!batch.boiledOn && (
        <details className="quiet">
          <summary>Boil it first?</summary>
          <p className="mb-2">
            Ten minutes kill germs and loosen some minerals; it does not replace the soaking. Heat-proof pan, never
            full, let it cool before you pour.
          </p>
          <Button
            size="sm"
            variant="outline-light"
            disabled={busy}
            onClick={() =>
              void send({ kind: 'prep', clayId: batch.id, step: 'boiled', done: true }, `Boiled ${batch.values.name}`)
            }
          >
            Boiled for ten minutes
          </Button>
        </details>
      )}
    </section>
  );
}

export function AtRest({ room, batch, model }: NowProps) {
  const { send, busy } = useClayAct();
  const partly = batch.state === 'unleached' && batch.usedL > 0.05;
  const again =
    batch.state === 'drained' ||
    (batch.state === 'unleached' && !partly) ||
    (batch.state === 'usedUp' && batch.leftL > 0.05);
  const say =
    batch.state === 'usedUp'
      ? 'None of it is left'
      : batch.ready
        ? 'Ready to pot up'
        : batch.state === 'unleached'
          ? 'Leach what is left'
          : 'Not ready yet';
  return (
    <section className="now" aria-label="Now">
      <small>
        {litres(batch.leftL)} of {litres(batch.values.volumeL)} left
      </small>
      <div className="say">{say}</div>
      <small>{batch.why}</small>
      {batch.driedOn && (
        <small>
          It dried out on {dayMonthYear(batch.driedOn)}: dry clay lifts pH as new clay does, so watch the first weeks.
        </small>
      )}
      {batch.leftL > 0.05 && (
        <Link
          className={`btn btn-lg ${batch.ready ? 'btn-clay' : 'btn-outline-light'}`}
          to={`/clay/pot-up?clay=${batch.id}`}
        >
          Pot up from it
        </Link>
      )}
      {again && (
        <ChangeWater
          room={room}
          batch={batch}
          coverL={model.asked.coverL}
          first={batch.leach === null}
          pouredOffL={0}
          freshL={round1(model.asked.coverL)}

          due
        />
      )}
      {batch.state === 'usedUp' && (
        <Button
          variant="outline-light"
          disabled={busy}
          onClick={() => void send({ kind: 'retire', clayId: batch.id }, `${batch.values.name} put away`)}
        >
          Put it away
        </Button>
      )}
      {partly && (
        <small>
          Part of it stands in pots. To leach what is left, open it as a batch of its own, of {litres(batch.leftL)}.
        </small>
      )}
    </section>
  );
}

export function Gone({ batch }: NowProps) {
  const { send, busy } = useClayAct();
  return (
    <section className="now" aria-label="Now">
      <small>{batch.values.name} was put away</small>
      <div className="say">Gone</div>
      <Button
        variant="outline-light"
        disabled={busy}
        onClick={() => void send({ kind: 'bringBack', clayId: batch.id }, `Brought ${batch.values.name} back`)}
      >
        Bring it back
      </Button>
    </section>
  );
}
