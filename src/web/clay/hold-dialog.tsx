import { useState, type FormEvent } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import Modal from 'react-bootstrap/Modal';
import type { ClayRoom, HoldView, UnleachedPot } from '../../contract/clay.ts';
import { inSentence } from '../../core/quantity/index.ts';
import { Icon } from '../drawing/icon.tsx';
import { newId } from '../shell/api.ts';
import { typedNumber } from '../shell/field-reader.ts';
import { dayMonth, inSmallUnit, mL, ppmText, readSmall, smallSign } from '../shell/format.ts';
import { LabelledField } from '../shell/labelled-field.tsx';
import { useServerNow } from '../shell/use-server-now.ts';
import { otherProblems, problemAt } from '../shell/use-act.ts';
import { waitWords } from '../shell/wait-words.ts';
import { PenEntry } from './pen-entry.tsx';
import { useClayAct } from './send-clay.ts';

export type HeldPot = { id: string; code: string; name: string; waterL: number };
type Props = {
  room: ClayRoom;
  pot: HeldPot;
  /** What is known of its clay, where it is listed. */
  known: UnleachedPot | undefined;
  onClose(): void;
};

/** A salt check or an in-pot leach, led through: tape, fill, wait, read at the top, drain, read at the hole. */
export function HoldDialog({ room, pot, known, onClose }: Props) {
  const hold = room.holds.find((h) => h.potId === pot.id);
  const [was, setWas] = useState<HoldView>();
  return (
    <Modal show onHide={onClose} animation={false} centered aria-labelledby="hold-title" contentClassName="hold-dialog">
      <Modal.Header closeButton>
        <Modal.Title as="h2" id="hold-title">
          {pot.code} {pot.name}
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        {hold ? (
          <Running room={room} hold={hold} onDrained={() => setWas(hold)} />
        ) : was ? (
          <Done was={was} known={known} onClose={onClose} again={() => setWas(undefined)} />
        ) : (
          <Start room={room} pot={pot} known={known} />
        )}
      </Modal.Body>
    </Modal>
  );
}

function Start({ room, pot, known }: { room: ClayRoom; pot: HeldPot; known: UnleachedPot | undefined }) {
  const { send, problems, busy } = useClayAct();
  const leach = known?.verdict.kind === 'hold' || known?.verdict.kind === 'repot';
  const [purpose, setPurpose] = useState<'check' | 'leach'>(leach ? 'leach' : 'check');
  const still = room.waters.find((w) => w.kind === 'still') ?? room.waters[0];
  const [waterId, setWater] = useState(still?.id ?? '');
  const [amount, setAmount] = useState('');
  const [minutes, setMinutes] = useState('');
  const usual = purpose === 'check' ? 30 : 60;
  const water = room.waters.find((w) => w.id === waterId);
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const typed = readSmall(amount);
    const waterL = typed.kind === 'empty' ? pot.waterL : typed.kind === 'volume' ? typed.ml / 1000 : amount;
    await send(
      {
        kind: 'startHold',
        potId: pot.id,
        clockId: newId(),
        planId: known?.planned[0]?.id ?? null,
        purpose,
        waterId,
        waterL: waterL as number,
        minutes: (minutes.trim() === '' ? usual : typedNumber(minutes)) as number,
      },
      `${pot.code}: filled, its clock runs`,
    );
  };
  return (
    <form className="thing-form" noValidate onSubmit={(e) => void submit(e)}>
      {known && <SoFar known={known} />}
      <div className="d-flex gap-3" role="radiogroup" aria-label="What for">
        <Form.Check
          type="radio"
          id="hold-check"
          label="Salt check, half an hour"
          checked={purpose === 'check'}
          onChange={() => setPurpose('check')}
        />
        <Form.Check
          type="radio"
          id="hold-leach"
          label="Leach it, one hour"
          checked={purpose === 'leach'}
          onChange={() => setPurpose('leach')}
        />
      </div>
      <HowTo water={water} purpose={purpose} />
      <div className="pair">
        <LabelledField label={`Water in, ${smallSign()}`} error={problemAt(problems, 'waterL')}>
          {(a) => (
            <Form.Control
              {...a}
              inputMode="decimal"
              placeholder={inSmallUnit(pot.waterL * 1000)}
              value={amount}
              onChange={(e) => setAmount(e.target.value)}
            />
          )}
        </LabelledField>
        <LabelledField label="Minutes" error={problemAt(problems, 'minutes')}>
          {(a) => (
            <Form.Control
              {...a}
              inputMode="decimal"
              placeholder={String(usual)}
              value={minutes}
              onChange={(e) => setMinutes(e.target.value)}
            />
          )}
        </LabelledField>
      </div>
      <LabelledField label="With" error={undefined}>
        {(a) => (
          <Form.Select {...a} value={waterId} onChange={(e) => setWater(e.target.value)}>
            {room.waters.map((w) => (
              <option key={w.id} value={w.id}>
                {w.name}
              </option>
            ))}
          </Form.Select>
        )}
      </LabelledField>
      {otherProblems(problems, ['waterL', 'minutes']) && (
        <p className="field-error mb-0" role="alert">
          {otherProblems(problems, ['waterL', 'minutes'])}
        </p>
      )}
      <Button type="submit" variant="clay" size="lg" disabled={busy || waterId === ''}>
        It is full: start the clock
      </Button>
    </form>
  );
}

function HowTo({ water, purpose }: { water: ClayRoom['waters'][number] | undefined; purpose: 'check' | 'leach' }) {
  return (
    <ol className="small mb-0">
      <li>Stand the pot over a tray and tape its holes: taped pots leak.</li>
      <li>Tip the old reservoir out first.</li>
      <li>
        Fill to the brim with {water ? inSentence(water.name) : 'still water'}
        {water?.basePpm == null
          ? ', and read that water by itself first on the Shelf'
          : `, which reads ${ppmText(water.basePpm)}`}
        ; top up as air bubbles out.
      </li>
      <li>
        {purpose === 'check'
          ? 'After half an hour dip the pen at the top, then let a little out and read it at the hole.'
          : 'After an hour read it at the top, drain it, and read at the hole.'}
      </li>
    </ol>
  );
}

function Running({ room, hold, onDrained }: { room: ClayRoom; hold: HoldView; onDrained(): void }) {
  const now = useServerNow(true);
  const top = useClayAct();
  const hole = useClayAct();
  const drain = useClayAct();
  const left = Date.parse(hold.endsAt) - now;
  const read = (act: typeof top, where: 'top' | 'hole', reading: { kind: string }) =>
    act.send(
      {
        kind: 'readHold',
        holdId: hold.id,
        where,
        reading: reading as never,
        ppmMeterId: room.ppmMeter?.id ?? null,
        confirmedOdd: act.code === 'reading-odd' || act.code === 'reading-below-base',
      },
      `${hold.code}, ${where === 'top' ? 'at the top' : 'at the hole'}`,
    );
  const finish = async () => {
    if (await drain.send({ kind: 'drainHold', holdId: hold.id, to: room.poured[0] ?? '' }, `${hold.code} drained`))
      onDrained();
  };
  const expected = hold.expectedTopPpm
    ? `${ppmText(hold.expectedTopPpm.low)} to ${ppmText(hold.expectedTopPpm.high)}`
    : undefined;
  return (
    <div className="d-grid gap-3">
      <div className="now">
        <small>
          {hold.purpose === 'check' ? 'Salt check' : 'Hold'} with {mL(hold.waterL * 1000)} of {inSentence(hold.water)}
        </small>
        <div className="say">{left > 0 ? `${waitWords(left)} to go` : 'Time: read at the top'}</div>
        <small>
          Dip just under the surface.{' '}
          {expected
            ? `Expected by its end: ${expected}.`
            : 'Nothing was read in this pot before, so anything may come.'}
        </small>
        <PenEntry
          draftKey={`hold-top:${hold.id}`}
          subject="holdTop"
          subjectId={hold.id}
          label="top of the clay"
          expected={expected}
          ppmMeter={room.ppmMeter}
          error={Object.values(top.problems)[0]}
          busy={top.busy}
          autoFocus
          onKeep={(r) => read(top, 'top', r.ppm)}
        />
        <Reads hold={hold} where="top" words="Top of the clay" />
      </div>
      <div className="now second">
        <small>Then untape a hole over the tray, let it run, and read what comes</small>
        <PenEntry
          draftKey={`hold-hole:${hold.id}`}
          subject="holdHole"
          subjectId={hold.id}
          label="at the hole"
          ppmMeter={room.ppmMeter}
          error={Object.values(hole.problems)[0]}
          busy={hole.busy}
          keys={false}
          onKeep={(r) => read(hole, 'hole', r.ppm)}
        />
        <Reads hold={hold} where="hole" words="At the hole" />
      </div>
      {hold.topPpm === null && (
        <p className="small mb-0">Not read at the top yet: a hold that nobody reads teaches nothing.</p>
      )}
      {Object.values(drain.problems)[0] && (
        <p className="field-error mb-0" role="alert">
          {Object.values(drain.problems)[0]}
        </p>
      )}
      <Button
        variant={hold.topPpm === null ? 'outline-secondary' : 'primary'}
        size="lg"
        disabled={drain.busy}
        onClick={() => void finish()}
      >
        Drained
      </Button>
      <p className="small mb-0">
        <Icon name="infoCircle" /> Fill it with its feed again afterwards. What ran out goes to tolerant plants, thinned
        when strong.
      </p>
    </div>
  );
}

/** What was read so far, so that what it began with stands beside what it came to. */
function Reads({ hold, where, words }: { hold: HoldView; where: 'top' | 'hole'; words: string }) {
  const reads = hold.reads.filter((r) => r.where === where);
  if (reads.length === 0) return null;
  return (
    <div>
      {words}:{' '}
      {reads.map((r, i) => (
        <span key={r.minutes}>
          {i > 0 && ', then '}
          <b className="num">{ppmText(r.ppm)}</b> ppm <small>after {Math.round(r.minutes)} min</small>
        </span>
      ))}
    </div>
  );
}

/** The checks and holds of a pot so far, before and after beside each other. */
function SoFar({ known }: { known: UnleachedPot }) {
  if (known.held.length === 0) return <p className="small mb-0">{known.evidence}</p>;
  return (
    <table className="facts small mb-0">
      <thead>
        <tr>
          <th scope="col">So far, over the water’s base</th>
          <th scope="col">top</th>
          <th scope="col">hole</th>
        </tr>
      </thead>
      <tbody>
        {known.held.map((h, i) => (
          <tr key={i}>
            <th scope="row">
              {h.purpose === 'check' ? 'Salt check' : 'Hold'} {dayMonth(h.on)}
            </th>
            <td className="num">{h.topPpm === null ? 'not read' : ppmText(h.topPpm)}</td>
            <td className="num">{h.holePpm === null ? '' : ppmText(h.holePpm)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Done({
  was,
  known,
  onClose,
  again,
}: {
  was: HoldView;
  known: UnleachedPot | undefined;
  onClose(): void;
  again(): void;
}) {
  const words =
    was.topPpm === null
      ? 'It was not read at the top, so it teaches nothing.'
      : `The top read ${ppmText(was.topPpm)} ppm${was.holePpm === null ? '' : `, the hole ${ppmText(was.holePpm)}`}.`;
  const next =
    known?.bars && known.verdict.kind === 'hold'
      ? `${known.verdict.holds === 1 ? 'One more hold' : `${known.verdict.holds} more holds`} should bring a check under ${ppmText(known.passPpm)}.`
      : known?.verdict.kind === 'repot'
        ? `Three holds would not bring it under ${ppmText(known.passPpm)}: think of repotting.`
        : known
          ? 'A check next week will tell whether it holds.'
          : 'Its clay is not among those that want leaching.';
  return (
    <div className="d-grid gap-3">
      <p className="mb-0">
        {words} {next}
      </p>
      <div className="d-flex gap-2">
        <Button autoFocus onClick={onClose}>
          Good
        </Button>
        <Button variant="outline-secondary" onClick={again}>
          Hold it once more now
        </Button>
      </div>
    </div>
  );
}
