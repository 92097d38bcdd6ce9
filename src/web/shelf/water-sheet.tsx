import { useMemo, useState } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import type { ShelfRoom } from '../../contract/shelf.ts';
import { inSentence, ecFromPpm, ppmFromEc } from '../../core/quantity/index.ts';
import {
  blendFor,
  DKH_PER_MEQ,
  fromMeqL,
  hardnessMeqL,
  solve,
  waterVerdict,
  type KnownWater,
  type Verdict,
  type Blend,
} from '../../core/solution/index.ts';
import { useActs } from '../shell/acts.tsx';
import { newId } from '../shell/api.ts';
import { dayMonth, litres, money, phText, ppmText } from '../shell/format.ts';
import { readNumber } from '../shell/field-reader.ts';
import { useShell } from '../shell/use-shell.ts';
import { soundReading, waterOf, type RoomWater } from './chemistry.ts';
import { ReadingsChart } from './readings-chart.tsx';
import type { SheetProps } from './sheet.tsx';
import { WaterWords } from './shelf-words.tsx';

/** A water: what it reads and holds, what it is good for, chlorine, and what it blends to. */
export function WaterSheet({ room, thing: water, small }: SheetProps<RoomWater>) {
  const last = soundReading(water);
  const known = waterOf(water, room.scale);
  return (
    <>
      <section aria-label="Readings">
        <header className="d-flex align-items-baseline gap-2">
          <h3>What it reads</h3>
          <span className="push d-flex gap-2">
            {water.values.tankL !== null && (
              <Button
                size="sm"
                variant="outline-secondary"
                aria-label={`Look into the tank of ${water.values.name}`}
                onClick={() => small('count')}
              >
                Tank
              </Button>
            )}
            <Button size="sm" aria-label={`Read ${water.values.name}`} onClick={() => small('read')}>
              Read it
            </Button>
          </span>
        </header>
        <ReadingsChart
          readings={water.readings.flatMap((r) =>
            r.ppm === null ? [] : [{ id: r.eventId, at: r.at, on: r.on, value: r.ppm, tainted: r.tainted }],
          )}
          what="ppm"
          empty="Never read yet."
        />
        {water.readings.some((r) => r.ph !== null) && (
          <ReadingsChart
            readings={water.readings.flatMap((r) =>
              r.ph === null ? [] : [{ id: r.eventId, at: r.at, on: r.on, value: r.ph, tainted: r.tainted }],
            )}
            what="pH"
            empty=""
          />
        )}
        <p className="small mb-0">
          <WaterWords water={water} />
          {water.values.costPerL !== null && ` · a litre costs ${money(water.values.costPerL)}`}
        </p>
      </section>
      {last?.ppm != null && <Verdicts verdict={waterVerdict(ecFromPpm(last.ppm, room.scale), water.values.kind)} />}
      {known && !known.ok && <p className="chip soon wrap mb-0">{known.message}</p>}
      {known?.ok && <Holds known={known} scale={room.scale} />}
      <Chlorine water={water} small={small} />
      {known?.ok && water.values.kind !== 'still' && <BlendCard room={room} water={water} known={known} />}
    </>
  );
}

function Verdicts({ verdict }: { verdict: { feeding: Verdict; soaks: Verdict } }) {
  const chip = ({ tone, words }: Verdict, about: string) => (
    <li className={`chip wrap ${tone === 'good' ? 'good' : tone === 'warn' ? 'late' : 'soon'}`}>
      {tone === 'good' ? '✓ ' : tone === 'warn' ? '! ' : ''}
      <span className="visually-hidden">{about}: </span>
      {words}
    </li>
  );
  return (
    <ul className="remarks" aria-label="What it is good for, by common practice">
      {chip(verdict.feeding, 'feeding')}
      {chip(verdict.soaks, 'soaks')}
    </ul>
  );
}

const HOW: Record<KnownWater['how'], string> = {
  analysis: 'from its analysis',
  kit: 'by drop kit, within what its reading leaves room for',
  reading: 'a guess from its reading: nobody tested it',
};

/** What is in it, with how sure that is, and where its pH goes by itself. */
function Holds({ known, scale }: { known: KnownWater; scale: number }) {
  const solved = solve(known.composition);
  if (!solved.ok) return null;
  const dkh = solved.alkalinityMeqL * DKH_PER_MEQ;
  return (
    <section aria-label="What it holds">
      <h3>What it holds</h3>
      <table className="facts">
        <tbody>
          <tr>
            <th scope="row">Alkalinity</th>
            <td className="num">
              <b>{dkh.toFixed(1)}</b> ± {(1.645 * known.alkalinitySd * DKH_PER_MEQ).toFixed(1)} °dKH
            </td>
            <td>
              {fromMeqL(solved.alkalinityMeqL, 'mg/L CaCO3').toFixed(0)} mg/L CaCO₃, {solved.alkalinityMeqL.toFixed(2)}{' '}
              meq/L; {HOW[known.how]}
            </td>
          </tr>
          <tr>
            <th scope="row">Hardness</th>
            <td className="num">
              <b>{(hardnessMeqL(known.composition) * DKH_PER_MEQ).toFixed(1)}</b> °d
            </td>
            <td>
              calcium about {Math.round(known.composition.Ca * 40.08)}, magnesium{' '}
              {Math.round(known.composition.Mg * 24.3)} mg/L
            </td>
          </tr>
          <tr>
            <th scope="row">Conducts</th>
            <td className="num">
              <b>{(solved.ecUsCm / 1000).toFixed(2)}</b> mS/cm
            </td>
            <td>{ppmText(ppmFromEc(solved.ecUsCm, scale))} on your pen, 25 °C</td>
          </tr>
          {solved.saturation.calcite !== null && solved.saturation.calcite > 0.3 && (
            <tr>
              <th scope="row">Scale</th>
              <td colSpan={2}>more calcium carbonate than it can hold: it leaves scale</td>
            </tr>
          )}
        </tbody>
      </table>
    </section>
  );
}

/** Chlorine leaves an open can; chloramine and minerals do not. */
function Chlorine({ water, small }: { water: RoomWater; small(kind: 'stand'): void }) {
  const shell = useShell();
  const { put } = useActs();
  const { chlorine, name, kind } = water.values;
  const clock = shell.data?.clocks.find((c) => c.subjectKind === 'water' && c.subjectId === water.id);
  if (clock) {
    const over = shell.data !== undefined && Date.parse(clock.endsAt) <= Date.parse(shell.data.now);
    const stop = () => {
      const id = newId();
      void put(
        {
          id,
          url: `/api/shell/plans/acts/${id}`,
          body: { kind: 'stopClock', clockId: clock.id },
          words: `Stopped: ${clock.words}`,
        },
        { toast: `Stopped: ${clock.words}` },
      );
    };
    return (
      <p className="chip water wrap mb-0">
        {over
          ? 'It has stood long enough: the chlorine is gone, the minerals are not.'
          : `${clock.words}: ready at the clock above.`}{' '}
        <button type="button" className="link" onClick={stop}>
          {over ? 'Used up' : 'Stop'}
        </button>
      </p>
    );
  }
  if (chlorine === 'chloramine') {
    return (
      <p className="chip soon wrap mb-0">
        Chloramine does not leave by standing, with an air stone or without. Blend it, or use another water for tender
        roots.
      </p>
    );
  }
  if (chlorine === 'none' || (chlorine === 'unknown' && kind !== 'tap')) return null;
  return (
    <p className="small mb-0">
      {chlorine === 'unknown' ? 'If it is chlorinated, an' : 'An'} open can loses its chlorine in a day or two; minerals
      and fluoride stay.{' '}
      <Button size="sm" variant="outline-secondary" aria-label={`Let ${name} stand`} onClick={() => small('stand')}>
        Let a can stand
      </Button>
    </p>
  );
}

/** "To get 80 over still water from tap": the share of each, and what the blend's alkalinity and pH are. */
export function BlendCard({ room, water, known }: { room: ShelfRoom; water: RoomWater; known: KnownWater }) {
  const others = room.waters.filter(
    (w) =>
      w.id !== water.id &&
      w.retiredOn === null &&
      waterOf(w, room.scale)?.ok &&
      (soundReading(w)?.ppm ?? 1e9) < (soundReading(water)?.ppm ?? 0),
  );
  const [otherId, setOtherId] = useState(others.find((w) => w.values.kind === 'still')?.id ?? others[0]?.id ?? '');
  const [text, setText] = useState('80');
  const [volume, setVolume] = useState('5');
  const over = readNumber(text);
  const volumeL = readNumber(volume);
  const other = others.find((w) => w.id === otherId);
  const otherPpm = (other && soundReading(other)?.ppm) ?? undefined;
  const blend = useMemo(() => {
    const weak = other && waterOf(other, room.scale);
    if (!weak?.ok || over === undefined || !(over > 0) || otherPpm === undefined) return undefined;
    return blendFor(known.composition, weak.composition, ecFromPpm(otherPpm + over, room.scale));
  }, [known, other, otherPpm, over, room.scale]);
  if (!other || otherPpm === undefined) return null;
  return (
    <section className="blend-card" aria-label={`Blend ${water.values.name}`}>
      <h3>Blend it</h3>
      <p className="blend-line mb-0">
        To get{' '}
        <Form.Control
          size="sm"
          className="tiny"
          inputMode="decimal"
          aria-label="ppm over the other water"
          value={text}
          onChange={(e) => setText(e.target.value)}
        />{' '}
        over{' '}
        {others.length > 1 ? (
          <Form.Select
            size="sm"
            aria-label="The other water"
            className="d-inline-block w-auto"
            value={otherId}
            onChange={(e) => setOtherId(e.target.value)}
          >
            {others.map((w) => (
              <option key={w.id} value={w.id}>
                {w.values.name}
              </option>
            ))}
          </Form.Select>
        ) : (
          inSentence(other.values.name)
        )}
        , in{' '}
        <Form.Control
          size="sm"
          className="tiny"
          inputMode="decimal"
          aria-label="Litres of the blend"
          value={volume}
          onChange={(e) => setVolume(e.target.value)}
        />{' '}
        L:
      </p>
      <Blended
        blend={blend}
        volumeL={volumeL}
        water={water}
        other={other}
        room={room}
        over={over}
        otherPpm={otherPpm}
      />
    </section>
  );
}

function Blended({
  blend,
  volumeL,
  water,
  other,
  room,
  over,
  otherPpm,
}: {
  blend: Blend | undefined;
  volumeL: number | undefined;
  water: RoomWater;
  other: RoomWater;
  room: ShelfRoom;
  over: number | undefined;
  otherPpm: number;
}) {
  return blend && volumeL !== undefined && volumeL > 0 ? (
    <p className="mb-0" role="status">
      <b className="nowrap">{litres(blend.share * volumeL)}</b> of {inSentence(water.values.name)} and{' '}
      <b className="nowrap">{litres((1 - blend.share) * volumeL)}</b> of {inSentence(other.values.name)}. It reads{' '}
      <b className="num">{ppmText(ppmFromEc(blend.solved.ecUsCm, room.scale))}</b> at pH {phText(blend.solved.ph)}, with{' '}
      <b className="num nowrap">{(blend.alkalinityMeqL * DKH_PER_MEQ).toFixed(1)} °dKH</b>.
    </p>
  ) : (
    <p className="small mb-0" role="status">
      {over !== undefined && over > 0
        ? `A blend reads between ${ppmText(otherPpm)} and ${ppmText(soundReading(water)?.ppm ?? 0)}: ask for less than ${ppmText((soundReading(water)?.ppm ?? 0) - otherPpm)} over.`
        : 'Give the ppm over the other water, such as 80.'}
    </p>
  );
}

/** When it was last read, in words. */
export function readWhen(water: RoomWater): string {
  const last = water.readings[0];
  return last ? `read ${dayMonth(last.on)}` : 'never read';
}
