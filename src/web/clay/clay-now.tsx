import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import { useHotkeys } from 'react-hotkeys-hook';
import { Link } from 'react-router';
import type { ClayBatchView, ClayRoom } from '../../contract/clay.ts';
import { pouredOffVerdict, type LeachForecast } from '../../core/clay/index.ts';
import { Icon } from '../drawing/icon.tsx';
import { useActs } from '../shell/acts.tsx';
import { newId } from '../shell/api.ts';
import { litres, phText, ppmText } from '../shell/format.ts';
import { useAct } from '../shell/use-act.ts';
import { ChangeWater } from './change-water.tsx';
import { dayWords, spanWords } from './clay-words.ts';
import type { Leach } from './leach.ts';
import { PenEntry } from './pen-entry.tsx';
import { useClayAct } from './send-clay.ts';

type Props = {
  room: ClayRoom;
  batch: ClayBatchView;
  leach: Leach;
  forecast: LeachForecast;
  /** Hours until the way that is followed changes the water; undefined when it needs no change. */
  nextInHours: number | undefined;
  nowMs: number;
  zone: string;
  onPen(half: number): number;
  keys: boolean;
};

/** Whether somebody stands over the batch with the pen just now: then the change is the next act. */
const JUST_READ_MS = 3 * 3_600_000;

/** The next act on a batch: one sentence, one quantity, one field. */
export function ClayNow(props: Props) {
  const { batch } = props;
  if (batch.retiredOn) return <Gone {...props} />;
  switch (batch.state) {
    case 'bag':
      return <Rinse {...props} />;
    case 'rinsed':
      return <FirstWater {...props} />;
    case 'soaking':
      return <Soaking {...props} />;
    case 'ready':
    case 'leached':
    case 'drained':
    case 'unleached':
    case 'usedUp':
      return batch.soak && batch.soak.drainedAt === null ? <Soaking {...props} /> : <AtRest {...props} />;
  }
}

function Rinse({ batch }: Props) {
  const { send, busy } = useClayAct();
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
        <span>Clay dust harms the lungs: wet it before you pour it out, rinse it wet, and do not breathe the dust.</span>
      </div>
      <small>The dust goes; the minerals stay. What they are worth shows in its first water.</small>
      <Button
        variant="clay"
        size="lg"
        autoFocus
        disabled={busy}
        onClick={() => void send({ kind: 'prep', clayId: batch.id, step: 'rinsed', done: true }, `Rinsed ${batch.values.name}`)}
      >
        It runs clear
      </Button>
    </section>
  );
}

function FirstWater({ room, batch, leach, onPen }: Props) {
  const { send, busy } = useClayAct();
  const first = leach.standing.flat;
  return (
    <section className="now" aria-label="Now">
      <small>Rinsed{batch.boiledOn ? ' and boiled' : ''}; now its first water</small>
      <div className="say">Pour its first water on</div>
      <small>
        It will read {ppmText(onPen(first.low))} to {ppmText(onPen(first.high))} over the water’s base when it goes flat, nine bags in ten
        {batch.ownBags > 0 ? `; ${batch.ownBags} of your own bags count in that` : ''}.
      </small>
      <ChangeWater room={room} batch={batch} first coverL={leach.asked.coverL} pouredOffL={0} freshL={leach.asked.coverL} ppm={undefined} autoFocus />
      {!batch.boiledOn && (
        <details className="quiet">
          <summary>Boil it first?</summary>
          <p className="mb-2">
            Ten minutes kill germs and loosen some minerals; it does not replace the soaking. Heat-proof pan, never full, let it cool before you pour.
          </p>
          <Button
            size="sm"
            variant="outline-light"
            disabled={busy}
            onClick={() => void send({ kind: 'prep', clayId: batch.id, step: 'boiled', done: true }, `Boiled ${batch.values.name}`)}
          >
            Boiled for ten minutes
          </Button>
        </details>
      )}
    </section>
  );
}

function Soaking(props: Props) {
  const { room, batch, leach, forecast, nextInHours, nowMs, zone, onPen, keys } = props;
  const { send, problems, code, busy } = useClayAct();
  const { undo } = useActs();
  const [earlier, setEarlier] = useState<{ at: string; temperature: string }>();
  const [atWrong, setAtWrong] = useState<string>();
  const soak = batch.soak!;
  const { standing } = leach;
  const lastRead = batch.log.find((line) => line.kind === 'read' && line.at > soak.lastFilledAt);
  const justRead = lastRead !== undefined && nowMs - Date.parse(lastRead.at) < JUST_READ_MS;
  const changeDue = !batch.ready && nextInHours !== undefined && nextInHours <= 0.5;
  const lastStep = batch.log.find((line) => ['filled', 'read', 'drained'].includes(line.kind));
  const takeBack = () => lastStep && void undo(lastStep.eventId);
  useHotkeys('u', takeBack, { enabled: keys && lastStep !== undefined });
  const ppm = lastRead?.ppm ?? onPen(standing.readsNow.mean) + soak.basePpm;
  const changes = forecast.ready.changes;
  const say = batch.ready ? 'Ready: drain it' : changeDue ? (justRead ? 'Change the water now' : 'Read it, then change') : 'Let it stand';
  const next = nowMs + (nextInHours ?? 0) * 3_600_000;
  const keep = async (readings: Parameters<Parameters<typeof PenEntry>[0]['onKeep']>[0]) => {
    const at = earlier?.at ? new Date(earlier.at) : null;
    if (at && Number.isNaN(at.getTime())) {
      setAtWrong('Give the day and the time at which it was read.');
      return false;
    }
    setAtWrong(undefined);
    const temperature = earlier?.temperature.trim() ? Number(earlier.temperature.replace(',', '.')) : null;
    const done = await send(
      {
        kind: 'read',
        clayId: batch.id,
        ...readings,
        ppmMeterId: room.ppmMeter?.id ?? null,
        phMeterId: room.phMeter?.id ?? null,
        temperatureC: temperature,
        at: at?.toISOString() ?? null,
        confirmedOdd: code === 'reading-odd' || code === 'reading-below-base',
      },
      `${batch.values.name} read`,
    );
    if (done) setEarlier(undefined);
    return done;
  };
  const message =
    problems[''] ?? problems['ppm'] ?? problems['ph'] ?? Object.values(problems).find((_, i) => i === 0 && !problems['at'] && !problems['temperatureC']);
  return (
    <section className="now" aria-label="Now">
      <small>
        Soak {soak.changes + 1}
        {changes !== undefined && changes > 0 && ` of about ${soak.changes + 1 + changes}`} · {spanWords(standing.hours)} in,{' '}
        {standing.levelledOff ? 'and it has levelled off' : `${Math.round(standing.along * 100)} % of the way to flat`}
      </small>
      <div className="say">{say}</div>
      {batch.ready ? (
        <small>{batch.why}</small>
      ) : changeDue ? null : (
        <small>
          {nextInHours === undefined
            ? batch.why
            : `The next change comes ${dayWords(next, nowMs, zone)}, in ${spanWords(nextInHours)}. A reading on the way sharpens the forecast.`}
        </small>
      )}
      <PenEntry
        draftKey={`clay:${batch.id}`}
        subject="clay"
        subjectId={batch.id}
        label="pen reads"
        expected={rangeText(onPen(standing.readsNow.low) + soak.basePpm, onPen(standing.readsNow.high) + soak.basePpm)}
        ppmMeter={room.ppmMeter}
        phMeter={room.phMeter}
        error={message}
        busy={busy}
        autoFocus={!justRead}
        keys={keys}
        onKeep={keep}
      >
        {lastStep?.undoable && (
          <button type="button" onClick={takeBack}>
            <kbd>U</kbd> take it back
          </button>
        )}
        <button type="button" aria-expanded={earlier !== undefined} onClick={() => setEarlier(earlier ? undefined : { at: '', temperature: '' })}>
          earlier, or °C
        </button>
      </PenEntry>
      {earlier && (
        <div className="earlier">
          <label>
            Read at{' '}
            <input
              type="datetime-local"
              className="form-control form-control-sm"
              value={earlier.at}
              onChange={(e) => setEarlier({ ...earlier, at: e.target.value })}
            />
          </label>
          <label>
            Water, °C{' '}
            <input
              className="form-control form-control-sm"
              inputMode="decimal"
              value={earlier.temperature}
              onChange={(e) => setEarlier({ ...earlier, temperature: e.target.value })}
            />
          </label>
          {(atWrong ?? problems['at'] ?? problems['temperatureC']) && (
            <div className="field-error" role="alert">
              {atWrong ?? problems['at'] ?? problems['temperatureC']}
            </div>
          )}
        </div>
      )}
      {(changeDue || batch.ready) && <PouredOff room={room} ppm={ppm} ph={batch.lastPh ?? undefined} read={lastRead !== undefined} />}
      <ChangeWater
        key={batch.log[0]?.eventId}
        room={room}
        batch={batch}
        coverL={leach.asked.coverL}
        pouredOffL={pourOffOf(props)}
        freshL={freshOf(props)}
        ppm={ppm}
        due={changeDue}
        autoFocus={changeDue && justRead}
        drainFirst={batch.ready}
      />
      {!batch.ready && !changeDue && nextInHours !== undefined && <RemindMe room={room} batch={batch} atMs={next} zone={zone} />}
    </section>
  );
}

/** What comes off: all but what the clay is known to hold back. */
const pourOffOf = ({ batch, leach }: Props) => Math.max(0, round1((1 - leach.fit.clay.retained) * (batch.soak?.waterL ?? 0)));
const freshOf = ({ batch, leach, forecast }: Props) =>
  round1(forecast.coming[0]?.freshL ?? Math.max(0.1, leach.asked.coverL - leach.fit.clay.retained * (batch.soak?.waterL ?? 0)));
const rangeText = (low: number, high: number) => (ppmText(low) === ppmText(high) ? ppmText(low) : `${ppmText(low)}–${ppmText(high)}`);
const round1 = (l: number) => Math.round(l * 10) / 10;

/** Who could take the water that comes off. */
function PouredOff({ room, ppm, ph, read }: { room: ClayRoom; ppm: number; ph: number | undefined; read: boolean }) {
  const verdict = pouredOffVerdict(ppm / room.scale, ph);
  const to = room.poured[0] ?? (verdict.to === 'pots in soil' ? 'pots in soil' : 'the garden');
  return (
    <div className="give">
      <Icon name="flower" />
      <div>
        <b>Give it to {to}</b>{' '}
        <small>
          {read ? '' : 'about '}
          {ppmText(ppm)} ppm{ph === undefined ? '' : `, pH ${phText(ph)}`}: {verdict.words}
        </small>
      </div>
    </div>
  );
}

/** Puts the next look at a batch on the round's list. */
function RemindMe({ room, batch, atMs, zone }: { room: ClayRoom; batch: ClayBatchView; atMs: number; zone: string }) {
  const { send, busy } = useAct('/api/shell/plans/acts');
  const [asked, setAsked] = useState(false);
  const onDate = new Date(atMs).toLocaleDateString('en-CA', { timeZone: zone });
  const remind = async () => {
    const words = `Read ${batch.values.name}, change its water`;
    const done = await send(
      { kind: 'plan', planId: newId(), subjectKind: 'collection', subjectId: null, words, onDate: onDate < room.today ? room.today : onDate, origin: 'clay' },
      `On the round’s list: ${words}`,
    );
    setAsked(done);
  };
  return (
    <button type="button" className="btn btn-link btn-sm other p-0 align-self-start" disabled={busy || asked} onClick={() => void remind()}>
      {asked ? 'On the round’s list' : 'Put it on the round’s list'}
    </button>
  );
}

function AtRest({ room, batch, leach }: Props) {
  const { send, busy } = useClayAct();
  const partly = batch.state === 'unleached' && batch.usedL > 0.05;
  const again = batch.state === 'drained' || (batch.state === 'unleached' && !partly) || (batch.state === 'usedUp' && batch.leftL > 0.05);
  const say =
    batch.state === 'usedUp' ? 'None of it is left' : batch.ready ? 'Ready to pot up' : batch.state === 'unleached' ? 'Leach what is left' : 'Not ready yet';
  return (
    <section className="now" aria-label="Now">
      <small>
        {litres(batch.leftL)} of {litres(batch.values.volumeL)} left
      </small>
      <div className="say">{say}</div>
      <small>{batch.why}</small>
      {batch.driedOn && <small>It dried out on {batch.driedOn}: dry clay pushes pH afresh, so watch the first weeks.</small>}
      {batch.leftL > 0.05 && (
        <Link className={`btn btn-lg ${batch.ready ? 'btn-clay' : 'btn-outline-light'}`} to={`/clay/pot-up?clay=${batch.id}`}>
          Pot up from it
        </Link>
      )}
      {again && (
        <ChangeWater
          room={room}
          batch={batch}
          coverL={leach.asked.coverL}
          first={batch.soak === null}
          pouredOffL={0}
          freshL={round1(leach.asked.coverL)}
          ppm={undefined}
          due
        />
      )}
      {batch.state === 'usedUp' && (
        <Button variant="outline-light" disabled={busy} onClick={() => void send({ kind: 'retire', clayId: batch.id }, `${batch.values.name} put away`)}>
          Put it away
        </Button>
      )}
      {partly && <small>Part of it stands in pots. To leach what is left, open it as a batch of its own, of {litres(batch.leftL)}.</small>}
    </section>
  );
}

function Gone({ batch }: Props) {
  const { send, busy } = useClayAct();
  return (
    <section className="now" aria-label="Now">
      <small>{batch.values.name} was put away</small>
      <div className="say">Gone</div>
      <Button variant="outline-light" disabled={busy} onClick={() => void send({ kind: 'bringBack', clayId: batch.id }, `Brought ${batch.values.name} back`)}>
        Bring it back
      </Button>
    </section>
  );
}
