import { useState } from 'react';
import { Link } from 'react-router';
import type { ClayRoom, UnleachedPot } from '../../contract/clay.ts';
import { inSentence } from '../../core/quantity/index.ts';
import { PotSection } from '../drawing/index.ts';
import { dayMonth, litres, mL, ppmText, weekdayDayMonth } from '../shell/format.ts';
import { HoldSequence } from './hold-sequence.tsx';

const SHOWN = 4;

/** Pots whose clay was never leached: most worrying first, what each hold would do, and what it comes to. */
export function NeverLeached({
  room,
  open,
  plan,
}: {
  room: ClayRoom;
  open(potId: string): void;
  plan(potId: string): void;
}) {
  const [all, setAll] = useState(false);
  const [why, setWhy] = useState(false);
  const pots = all ? room.unleached : room.unleached.slice(0, SHOWN);
  const compared = room.unleached.find((p) => p.flushAgainstHold !== null);
  return (
    <section className="sheet never" aria-label="Pots whose clay was never leached">
      <div className="how">
        <div>
          <h2>Pots whose clay was never leached</h2>
          <div className="small">unproven, so we measure as we go</div>
        </div>
        {room.unleached.length === 0 ? (
          <p className="small mb-0">
            None is known. A pot is listed when its clay is kept as never leached, or when a salt check reads high;
            check any pot from its page.
          </p>
        ) : (
          <div className="small legend">Dark: the last check. Pale: a check a week after each one-hour hold.</div>
        )}
        <div className="d-flex gap-2 flex-wrap">
          {compared && (
            <button type="button" className="btn btn-link btn-sm p-0" aria-expanded={why} onClick={() => setWhy(!why)}>
              Why not just flush?
            </button>
          )}
          {room.unleached.length > SHOWN && (
            <button type="button" className="btn btn-link btn-sm p-0" onClick={() => setAll(!all)}>
              {all ? 'Only the worst' : `All ${room.unleached.length}`}
            </button>
          )}
        </div>
        {why && compared ? <WhyNotFlush pot={compared} /> : <HoldSequence />}
      </div>
      {pots.map((pot) => (
        <Card key={pot.potId} pot={pot} room={room} open={() => open(pot.potId)} plan={() => plan(pot.potId)} />
      ))}
    </section>
  );
}

function WhyNotFlush({ pot }: { pot: UnleachedPot }) {
  const { flushL, flush, hold } = pot.flushAgainstHold!;
  const bar = (share: number, words: string) => (
    <div className="share">
      <span style={{ width: `${Math.max(2, share * 100)}%` }} />
      <b className="num">{Math.round(share * 100)} %</b> {words}
    </div>
  );
  return (
    <div className="why-not">
      <div className="small">Of the salt inside {pot.code}’s pebbles, by the model:</div>
      {bar(flush, `leaves with a flush of ${mL(flushL * 1000)} in three minutes`)}
      {bar(hold, `leaves with an hour’s hold of ${mL(pot.waterL * 1000)}`)}
      <div className="small">A flush changes the water between the pebbles; only time draws on what is in them.</div>
    </div>
  );
}

function Card({ pot, room, open, plan }: { pot: UnleachedPot; room: ClayRoom; open(): void; plan(): void }) {
  const running = room.holds.find((h) => h.potId === pot.potId);
  const planned = pot.planned[0];
  const ready = room.batches.find((b) => b.ready && b.leftL > 0.3 && b.retiredOn === null);
  return (
    <article className="c" aria-label={`${pot.code} ${pot.name}`}>
      <div className="g">
        <PotSection drawing={pot.drawing} seed={pot.code} size={54} decorative />
      </div>
      <div className="n">
        {pot.checked?.topPpm != null ? (
          <b className="num">{ppmText(pot.checked.topPpm)} ppm</b>
        ) : (
          <b className="num quiet">not read</b>
        )}
        <Link to={`/pots/${pot.potId}`}>{pot.code}</Link>
        <small>
          {pot.name}, {inSentence(pot.place)}
        </small>
      </div>
      <Fall pot={pot} />
      <div className="sg">
        {running ? (
          <button type="button" className="btn btn-sm btn-primary" onClick={open}>
            Held now: read it
          </button>
        ) : (
          <>
            <Verdict pot={pot} ready={ready} />{' '}
            <span className="acts">
              {(pot.verdict.kind === 'hold' || pot.verdict.kind === 'repot') && !planned && (
                <button
                  type="button"
                  className="btn btn-link btn-sm p-0"
                  aria-label={`Put holds on the round, ${pot.code}`}
                  onClick={plan}
                >
                  Plan it
                </button>
              )}
              {planned && <span className="chip water">on the round {weekdayDayMonth(planned.onDate)}</span>}{' '}
              <button
                type="button"
                className="btn btn-link btn-sm p-0"
                aria-label={`${pot.verdict.kind === 'check' || pot.verdict.kind === 'clean' ? 'Salt check' : 'Hold now'}, ${pot.code}`}
                onClick={open}
              >
                {pot.verdict.kind === 'check' || pot.verdict.kind === 'clean' ? 'Salt check' : 'Hold now'}
              </button>
              {pot.verdict.kind === 'repot' && (
                <>
                  {' '}
                  <Link
                    className="btn btn-link btn-sm p-0"
                    to={`/clay/pot-up?pot=${pot.potId}${ready ? `&clay=${ready.id}` : ''}`}
                  >
                    Repot
                  </Link>
                </>
              )}
            </span>
          </>
        )}
      </div>
    </article>
  );
}

function Verdict({ pot, ready }: { pot: UnleachedPot; ready: ClayRoom['batches'][number] | undefined }) {
  const pass = ppmText(pot.passPpm);
  switch (pot.verdict.kind) {
    case 'check':
      return (
        <span title={pot.evidence}>
          <b>Salt check first.</b> {pot.evidence}
        </span>
      );
    case 'clean':
      return (
        <span title={pot.evidence}>
          <b>Check it again:</b> by now it should read about {ppmText(pot.bars![0]!.mean)}, under {pass}.
        </span>
      );
    case 'hold':
      return (
        <span
          title={`${pot.evidence} Passes at ${pass}: the gate and about ${ppmText(pot.feedPpm)} of feed that the clay holds back.`}
        >
          <b>
            {pot.verdict.holds === 1
              ? 'One hold may do,'
              : `Hold 1 h, ${['', '', 'twice', 'three times'][pot.verdict.holds] ?? `${pot.verdict.holds} times`}:`}
          </b>{' '}
          {litres(pot.verdict.litres)} still water.
        </span>
      );
    case 'repot':
      return (
        <span
          title={`${pot.evidence} Passes at ${pass}: the gate and about ${ppmText(pot.feedPpm)} of feed that the clay holds back.`}
        >
          <b>Repot{ready ? ` into ${ready.values.name}` : ''}.</b> Three holds would leave it above {pass}.
        </span>
      );
  }
}

/** The last check dark, what a check would read a week after each hold pale; the line is where it passes. */
function Fall({ pot }: { pot: UnleachedPot }) {
  if (!pot.bars || pot.checked?.topPpm == null)
    return <div className="small fall">the top of its clay was not read yet</div>;
  const values = [pot.checked.topPpm, ...pot.bars.slice(1).map((b) => b.mean)];
  const high = Math.max(...values, pot.passPpm * 1.3);
  const y = (v: number) => 50 - (v / high) * 44;
  const words = `Top of the clay ${ppmText(values[0]!)} ppm on ${dayMonth(pot.checked.on)}; after each hold about ${values.slice(1).map(ppmText).join(', ')}; passes at ${ppmText(pot.passPpm)}.`;
  return (
    <svg className="fall" width={116} height={66} viewBox="0 0 116 66" role="img" aria-label={words}>
      <title>{words}</title>
      {values.map((v, i) => (
        <g key={i}>
          <rect
            x={i * 28 + 3}
            y={y(v)}
            width={20}
            height={50 - y(v)}
            rx={2}
            fill={i === 0 ? '#a24e2c' : v <= pot.passPpm ? '#7fb08e' : '#ecd9cb'}
            stroke={i > 0 && v > pot.passPpm ? '#c98a68' : undefined}
          />
          {i > 0 && (
            <path
              d={`M${i * 28 + 13} ${y(Math.min(high, pot.bars![i]!.high))}V${y(pot.bars![i]!.low)}`}
              stroke="#54615f"
              strokeWidth={1}
            />
          )}
          <text
            x={i * 28 + 13}
            y={63}
            textAnchor="middle"
            fill={i === 0 ? '#a24e2c' : '#54615f'}
            fontWeight={i === 0 ? 650 : 400}
          >
            {ppmText(v)}
          </text>
        </g>
      ))}
      <path d={`M0 ${y(pot.passPpm)}H116`} stroke="#2f6b45" strokeWidth={1.2} strokeDasharray="3 2.5" />
      <path d="M0 50H116" stroke="#b9b4a6" />
    </svg>
  );
}
