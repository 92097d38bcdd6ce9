import { useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { Link } from 'react-router';
import type { ClayBatchView, ClayRoom } from '../../contract/clay.ts';
import { pouredOffVerdict } from '../../core/clay/index.ts';
import { Icon } from '../drawing/icon.tsx';
import { useActs } from '../shell/acts.tsx';
import { newId } from '../shell/api.ts';
import { typedNumber } from '../shell/field-reader.ts';
import { phText, ppmText, weekdayDayMonth } from '../shell/format.ts';
import { useAct } from '../shell/use-act.ts';
import { ChangeWater } from './change-water.tsx';
import { alongWords, dayWords, readingWords, spanWords } from './clay-words.ts';
import { round1, type NowProps } from './now-props.ts';
import { PenEntry } from './pen-entry.tsx';
import { useClayAct } from './send-clay.ts';

/** Whether somebody stands over the batch with the pen just now: then the change is the next act. */
const JUST_READ_MS = 3 * 3_600_000;

/** Keeps a reading of the water it stands in, now or as it was read earlier. */
function useReadLeach({ room, batch }: NowProps) {
  const { send, problems, code, busy } = useClayAct();
  const [earlier, setEarlier] = useState<{ at: string; temperature: string }>();
  const [atWrong, setAtWrong] = useState<string>();
  const keep = async (readings: Parameters<Parameters<typeof PenEntry>[0]['onKeep']>[0]) => {
    const at = earlier?.at ? new Date(earlier.at) : null;
    if (at && Number.isNaN(at.getTime())) {
      setAtWrong('Give the day and the time at which it was read.');
      return false;
    }
    setAtWrong(undefined);
    const temperature = typedNumber(earlier?.temperature ?? '') as number | null;
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
    problems[''] ??
    problems['ppm'] ??
    problems['ph'] ??
    Object.values(problems).find((_, i) => i === 0 && !problems['at'] && !problems['temperatureC']);
  return { keep, earlier, setEarlier, atWrong, message, problems, busy };
}

/** It stands in water: read it, change it, or let it stand. */
export function Leaching(props: NowProps) {
  const { room, batch, model, nextInHours, nowMs, zone, onPen, keys } = props;
  const { undo } = useActs();
  const leach = batch.leach!;
  const { standing } = model;
  const lastRead = batch.log.find((line) => line.kind === 'read' && line.at > leach.lastFilledAt);
  const justRead = lastRead !== undefined && nowMs - Date.parse(lastRead.at) < JUST_READ_MS;
  const changeDue = !batch.ready && nextInHours !== undefined && nextInHours <= 0.5;
  const lastStep = batch.log.find((line) => ['filled', 'read', 'drained'].includes(line.kind));
  const takeBack = () => lastStep && void undo(lastStep.eventId);
  useHotkeys('u', takeBack, { enabled: keys && lastStep !== undefined });
  const ppm = lastRead?.ppm ?? onPen(standing.readsNow.mean) + leach.basePpm;
  const say = sayOf(batch.ready, changeDue, justRead);
  const next = nowMs + (nextInHours ?? 0) * 3_600_000;
  const { keep, earlier, setEarlier, atWrong, message, problems, busy } = useReadLeach(props);
  return (
    <section className="now" aria-label="Now">
      <HowFar {...props} say={say} next={next} changeDue={changeDue} />
      <PenEntry
        draftKey={`clay:${batch.id}`}
        subject="clay"
        subjectId={batch.id}
        label="pen reads"
        expected={rangeText(
          onPen(standing.readsNow.low) + leach.basePpm,
          onPen(standing.readsNow.high) + leach.basePpm,
        )}
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
        <button
          type="button"
          aria-expanded={earlier !== undefined}
          onClick={() => setEarlier(earlier ? undefined : { at: '', temperature: '' })}
        >
          earlier, or °C
        </button>
      </PenEntry>
      <Earlier earlier={earlier} setEarlier={setEarlier} atWrong={atWrong} problems={problems} />
      <ChangeIt {...props} ppm={ppm} read={lastRead !== undefined} due={changeDue} justRead={justRead} />
      {!batch.ready && !changeDue && nextInHours !== undefined && (
        <RemindMe room={room} batch={batch} atMs={next} zone={zone} />
      )}
    </section>
  );
}

function Earlier({
  earlier,
  setEarlier,
  atWrong,
  problems,
}: {
  earlier: { at: string; temperature: string } | undefined;
  setEarlier(next: { at: string; temperature: string } | undefined): void;
  atWrong: string | undefined;
  problems: Readonly<Record<string, string>>;
}) {
  if (!earlier) return null;
  return (
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
  );
}

/** Who gets the water that comes off, and the fresh water that goes on. */
function ChangeIt({
  ppm,
  read,
  due,
  justRead,
  ...props
}: NowProps & { ppm: number; read: boolean; due: boolean; justRead: boolean }) {
  const { room, batch, model } = props;
  return (
    <>
      {(due || batch.ready) && <PouredOff room={room} ppm={ppm} ph={batch.lastPh ?? undefined} read={read} />}
      <ChangeWater
        key={batch.log[0]?.eventId}
        room={room}
        batch={batch}
        coverL={model.asked.coverL}
        pouredOffL={pourOffOf(props)}
        freshL={freshOf(props)}
        due={due}
        autoFocus={batch.ready || (due && justRead)}
        drainFirst={batch.ready}
      />
    </>
  );
}

/** How far it is, what is next, and when. */
function HowFar({
  room,
  batch,
  model,
  forecast,
  nextInHours,
  nowMs,
  zone,
  say,
  next,
  changeDue,
}: NowProps & { say: string; next: number; changeDue: boolean }) {
  const { standing } = model;
  const planned = room.byPlan?.[batch.id];
  const done = batch.leach?.changes ?? 0;
  const changes = forecast.ready.changes;
  return (
    <>
      <small>
        Soak {done + 1}
        {changes !== undefined && changes > 0 && ` of about ${done + 1 + changes}`} · {spanWords(standing.hours)} in
        {batch.ready ? '' : `, ${standing.levelledOff ? 'and it has levelled off' : alongWords(standing)}`}
      </small>
      <div className="say">{say}</div>
      {batch.ready ? (
        <small>{batch.why}</small>
      ) : changeDue ? null : (
        <small>
          {nextInHours === undefined
            ? batch.why
            : `The next change comes ${dayWords(next, nowMs, zone)}, in ${spanWords(nextInHours)}. ${readingWords(standing)}`}
        </small>
      )}
      {planned && !batch.ready && (
        <small>
          <Link to="/season">The season’s plan</Link> changes it on {weekdayDayMonth(planned)}.
        </small>
      )}
    </>
  );
}

/** What is to be done with it now. */
function sayOf(ready: boolean, changeDue: boolean, justRead: boolean): string {
  if (ready) return 'Ready: drain it';
  if (!changeDue) return 'Let it stand';
  return justRead ? 'Change the water now' : 'Read it, then change';
}

/** What comes off: all but what the clay is known to hold back. */
const pourOffOf = ({ batch, model }: NowProps) =>
  Math.max(0, round1((1 - model.fit.clay.retained) * (batch.leach?.waterL ?? 0)));
const freshOf = ({ batch, model, forecast }: NowProps) =>
  round1(
    forecast.coming[0]?.freshL ??
      Math.max(0.1, model.asked.coverL - model.fit.clay.retained * (batch.leach?.waterL ?? 0)),
  );
const rangeText = (low: number, high: number) =>
  ppmText(low) === ppmText(high) ? ppmText(low) : `${ppmText(low)}–${ppmText(high)}`;

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
      {
        kind: 'plan',
        planId: newId(),
        subjectKind: 'collection',
        subjectId: null,
        words,
        onDate: onDate < room.today ? room.today : onDate,
        origin: 'clay',
      },
      `On the round’s list: ${words}`,
    );
    setAsked(done);
  };
  return (
    <button
      type="button"
      className="btn btn-link btn-sm other p-0 align-self-start"
      disabled={busy || asked}
      onClick={() => void remind()}
    >
      {asked ? 'On the round’s list' : 'Put it on the round’s list'}
    </button>
  );
}
