import type { ReactNode } from 'react';
import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import type { DriftPot, DriftRoom } from '../../contract/drift.ts';
import type { SoakView } from '../../contract/soak.ts';
import { riseOf } from '../../core/drift/index.ts';
import { inSentence } from '../../core/quantity/index.ts';
import { daysBetween } from '../../core/regimen/index.ts';
import { PotSection } from '../drawing/index.ts';
import { dayMonth, inSmallUnit, mL, phText, readSmall, smallSign } from '../shell/format.ts';
import { useServerNow } from '../shell/use-server-now.ts';
import { SoakChart } from './soak-chart.tsx';
import { SoakForm } from './soak-form.tsx';
import { SoakReading } from './soak-reading.tsx';
import { caveats, KIND_WHY, KIND_WORDS, READ_AT } from './soak-words.ts';
import { useDriftAct } from './use-drift-act.ts';
import { Term } from '../shell/term.tsx';

/** A pot as a test knows it: also one of which nothing is foretold yet. */
export type PotInTest = Pick<DriftPot, 'id' | 'code' | 'name' | 'drawing' | 'fillMl'>;
type Props = { room: DriftRoom; pot: PotInTest; soaks: readonly SoakView[]; compared: string | null };

/** A soak test: under way with its clock and its next reading, or the last one with what it says. */
export function SoakCard({ room, pot, soaks, compared }: Props) {
  const [starting, setStarting] = useState(false);
  const [which, setWhich] = useState<string>();
  const soak = soaks.find((s) => s.id === which) ?? soaks.findLast((s) => !s.ended) ?? soaks.at(-1);
  const start = (
    <Button size="sm" variant={soak ? 'outline-secondary' : 'primary'} onClick={() => setStarting(true)}>
      {soak ? 'Test it again' : 'Start a soak test'}
    </Button>
  );
  return (
    <section className="sheet test" aria-label="Soak test">
      <div className="test-head">
        <PotSection
          drawing={{ ...pot.drawing, level: soak && !soak.ended ? 1 : pot.drawing.level }}
          seed={pot.code}
          size={58}
          name={pot.code}
        />
        <div>
          <h2>Soak test{soak && ` ${KIND_WORDS[soak.kind]}`}</h2>
          <div className="small">
            {pot.code} {pot.name}
            {soak && (
              <>
                <br />
                {soak.ended ? dayMonth(soak.on) : 'hole taped'}, {mL(soak.fillMl)} {inSentence(soak.water)}
              </>
            )}
          </div>
        </div>
      </div>
      {soak ? (
        <Test soak={soak} room={room} start={start} soaks={soaks} setWhich={setWhich} compared={compared} />
      ) : (
        <NotTested start={start} />
      )}
      {starting && <SoakForm pot={pot} onClose={() => setStarting(false)} />}
    </section>
  );
}

function NotTested({ start }: { start: ReactNode }) {
  return (
    <>
      <p className="small mb-0">
        What this clay gives off in an hour is read in an hour: tape the hole, fill the pot with the feed it gets
        anyway, cover it, read the pH at the start and after {READ_AT.slice(1).join(', ')} minutes.
      </p>
      <p className="small mb-0">Until then it stands where the other pots in its clay stand, and its own visits.</p>
      {start}
    </>
  );
}

function Test({
  soak,
  room,
  start,
  soaks,
  setWhich,
  compared,
}: {
  soak: SoakView;
  room: Props['room'];
  start: ReactNode;
  soaks: Props['soaks'];
  setWhich(next: string | undefined): void;
  compared: string | null;
}) {
  return (
    <>
      {!soak.ended && <Clock soak={soak} />}
      <Chips soak={soak} />
      {soak.reads.some((r) => r.ph !== null) && <SoakChart soak={soak} />}
      {!soak.ended && <SoakReading room={room} soak={soak} />}
      {soak.ended &&
        soak.kind !== 'opened' &&
        !soak.reads.some((r) => r.opened) &&
        daysBetween(soak.on, room.today) <= OPENED_WITHIN && <SoakReading room={room} soak={soak} opened />}
      <Rise soak={soak} />
      <p className="small mb-0">{KIND_WHY[soak.kind]}</p>
      <Gives soak={soak} />
      {soak.ended && (
        <div className="d-flex gap-2 align-items-center flex-wrap">
          {start}
          {soaks.length > 1 && (
            <select
              className="form-select form-select-sm w-auto push"
              aria-label="Which test"
              value={soak.id}
              onChange={(e) => setWhich(e.target.value)}
            >
              {soaks.map((s) => (
                <option key={s.id} value={s.id}>
                  {dayMonth(s.on)}, {KIND_WORDS[s.kind]}
                </option>
              ))}
            </select>
          )}
        </div>
      )}
      {soak.ended && compared && soaks.at(-1) === soak && <p className="small mb-0">{compared}</p>}
    </>
  );
}

/** Collected water is read again after a day, or as soon as somebody comes by. */
const OPENED_WITHIN = 3;

/** How long it stands, and what is next. */
function Clock({ soak }: { soak: SoakView }) {
  const now = useServerNow(true);
  const { send, problems, busy } = useDriftAct();
  const [leaked, setLeaked] = useState('');
  const [wrong, setWrong] = useState<string>();
  const gone = Math.max(0, now - Date.parse(soak.startedAt)) / 1000;
  const whole = (Date.parse(soak.endsAt) - Date.parse(soak.startedAt)) / 1000;
  const share = Math.min(1, gone / whole);
  const left = Math.max(0, Math.round((whole - gone) / 60));
  const r = 22;
  const round = 2 * Math.PI * r;
  const over = gone > whole;
  return (
    <div className="soak-clock">
      <svg viewBox="0 0 56 56" width="56" height="56" aria-hidden>
        <circle cx="28" cy="28" r={r} fill="none" stroke="#e9e3d5" strokeWidth="7" />
        <circle
          cx="28"
          cy="28"
          r={r}
          fill="none"
          stroke="#0e5a63"
          strokeWidth="7"
          strokeDasharray={`${share * round} ${round}`}
          transform="rotate(-90 28 28)"
        />
      </svg>
      <div>
        <b className="num" role="timer">
          {clockText(gone)}
        </b>
        <div className="small">
          {over
            ? `ran over by ${Math.round((gone - whole) / 60)} min: read it all the same`
            : `${left} min to the last reading`}
        </div>
      </div>
      <form
        className="drained"
        onSubmit={(e) => {
          e.preventDefault();
          const typed = readSmall(leaked);
          if (typed.kind !== 'empty' && typed.kind !== 'volume')
            return setWrong(`Type the ${smallSign()} that leaked, such as ${inSmallUnit(15)}, or leave it empty.`);
          setWrong(undefined);
          void send(
            { kind: 'endSoak', soakId: soak.id, leakedMl: typed.kind === 'volume' ? typed.ml : null },
            `${soak.code}: soak test over`,
          );
        }}
      >
        <input
          className="form-control form-control-sm"
          inputMode="decimal"
          aria-label={`Leaked, ${smallSign()}`}
          placeholder={`leaked, ${smallSign()}`}
          value={leaked}
          onChange={(e) => setLeaked(e.target.value)}
        />
        <Button type="submit" size="sm" variant="outline-secondary" disabled={busy}>
          Drained
        </Button>
      </form>
      {(wrong ?? Object.values(problems)[0]) && (
        <div className="field-error drained" role="alert">
          {wrong ?? Object.values(problems)[0]}
        </div>
      )}
    </div>
  );
}

function clockText(seconds: number): string {
  const minutes = Math.floor(seconds / 60);
  const pad = (n: number) => String(n).padStart(2, '0');
  return minutes >= 60
    ? `${Math.floor(minutes / 60)}:${pad(minutes % 60)}:${pad(Math.floor(seconds % 60))}`
    : `${minutes}:${pad(Math.floor(seconds % 60))}`;
}

/** What was read at which minute. */
function Chips({ soak }: { soak: SoakView }) {
  const minutes = [
    ...new Set([
      ...READ_AT.filter((m) => !soak.ended && (Date.parse(soak.endsAt) - Date.parse(soak.startedAt)) / 60_000 >= m),
      ...soak.reads.filter((r) => !r.opened).map((r) => r.minutes),
    ]),
  ].sort((a, b) => a - b);
  const opened = soak.reads.find((r) => r.opened);
  return (
    <ul className="rd" aria-label="Readings">
      {minutes.map((m) => {
        const read = soak.reads.find((r) => r.minutes === m && !r.opened);
        return (
          <li key={m} className={read ? '' : 'next'}>
            <b>{read?.ph == null ? '—' : phText(read.ph)}</b>
            {m === 0 ? '0 min' : m}
          </li>
        );
      })}
      {opened && (
        <li>
          <b>{opened.ph === null ? '—' : phText(opened.ph)}</b>
          opened
        </li>
      )}
    </ul>
  );
}

/** The rise as it was read: "+0.8 in 62 min, still rising", whatever can be reckoned from it; of a kit's ranges, from and to. */
function Rise({ soak }: { soak: SoakView }) {
  const read = soak.reads.flatMap(({ minutes, ph, range, opened }) =>
    ph === null || opened ? [] : [{ minutes, ph, low: range?.low, high: range?.high }],
  );
  const rise = riseOf([...read].sort((a, b) => a.minutes - b.minutes));
  if (!rise) return null;
  return (
    <>
      <p className="mb-0 rise">
        <b className="num">
          {rise.low === rise.high ? withSign(rise.by) : `${withSign(rise.low)} to ${withSign(rise.high)}`}
        </b>{' '}
        in {rise.minutes} min{rise.stillRising ? ', still rising' : ''}
      </p>
      {rise.low !== rise.high && (
        <p className="small mb-0">
          A colour stands for a range, so the rise is one too. A pen, or more minutes, would narrow it.
        </p>
      )}
      {rise.cannotBe && (
        <p className="field-error mb-0" role="status">
          These two cannot both be right: clay does not take pH down. Read again, or take one of them back.
        </p>
      )}
    </>
  );
}

const withSign = (by: number) => `${by > 0 ? '+' : by < 0 ? '−' : ''}${Math.abs(by).toFixed(1)}`;

/** What it says, with how sure that is. */
function Gives({ soak }: { soak: SoakView }) {
  const { result } = soak;
  if (!result.ok)
    return (
      <div className="gives none" role="status">
        {result.message}
      </div>
    );
  const { middle, low, high } = result.firstHourUeq;
  const half = (high - low) / 2;
  return (
    <div className="gives" role="status">
      This pot gives
      <b>
        {Math.round(middle)} ± {Math.round(half)} µeq
      </b>{' '}
      of <Term of="alkali">alkali</Term> in the first hour
      <small>
        nine times in ten {Math.round(low)} to {Math.round(high)}
        {result.determined === 'poorly' ? ': poorly determined' : ''}
        {result.stillRising ? '; still rising at the last reading' : ''}; {caveats(soak)}
      </small>
    </div>
  );
}
