import Button from 'react-bootstrap/Button';
import { Link } from 'react-router';
import type { RoundMix, RoundPot } from '../../contract/round.ts';
import { mL, upperFirst } from '../shell/format.ts';
import { useServerNow } from '../shell/use-server-now.ts';
import { waitWords } from '../shell/wait-words.ts';

type Props = {
  pot: RoundPot;
  mix: RoundMix | undefined;
  narrow: boolean;
  busy: boolean;
  begin(): void;
  drain(): void;
  without(): void;
};

/** A supplement before the filling: filled to the brim and held, or sprayed on the leaves of a basket. */
export function SoakNow({ pot, mix, narrow, busy, begin, drain, without }: Props) {
  const now = useServerNow(pot.inSoak !== null);
  const primary = narrow ? 'clay' : 'primary';
  if (pot.inSoak) {
    const left = pot.inSoak.endsAt === null ? 0 : Date.parse(pot.inSoak.endsAt) - now;
    return <InSoak soak={pot.inSoak} left={left} primary={primary} busy={busy} drain={drain} />;
  }
  const { soak } = pot;
  if (!soak || soak.given) return null;
  const ready = mix?.batch?.status === 'poured' && mix.batch.leftMl > 0 ? mix.batch : undefined;
  const spray = soak.way === 'spray';
  return (
    <section className="soak-now" aria-label={spray ? 'Leaf spray' : 'Soak'}>
      <SoakSteps spray={spray} soak={soak} mix={mix} pot={pot} />
      <BeginIt ready={ready} primary={primary} busy={busy} begin={begin} spray={spray} mix={mix} />
      <Button type="button" variant="link" className="p-0 small" onClick={without}>
        or flush and fill without it; it stays due
      </Button>
    </section>
  );
}

function BeginIt({
  ready,
  primary,
  busy,
  begin,
  spray,
  mix,
}: {
  ready: RoundMix['batch'] | undefined;
  primary: 'clay' | 'primary';
  busy: boolean;
  begin: () => void;
  spray: boolean;
  mix: Props['mix'];
}) {
  return ready ? (
    <Button data-log type="button" size="lg" variant={primary} className="w-100" disabled={busy} onClick={begin}>
      {spray ? 'Sprayed: flush and fill' : 'It is in: start its clock, next pot'}
    </Button>
  ) : (
    mix && (
      <Link
        data-log
        className={`btn btn-lg w-100 btn-${primary}`}
        to={mix.batch?.status === 'open' ? `/bench/${mix.batch.id}` : `/bench/new?mix=${encodeURIComponent(mix.key)}`}
      >
        {mix.batch?.status === 'open' ? `Finish mix ${mix.letter}` : `Make mix ${mix.letter} first`}
      </Link>
    )
  );
}

function SoakSteps({
  spray,
  soak,
  mix,
  pot,
}: {
  spray: boolean;
  soak: NonNullable<RoundPot['soak']>;
  mix: Props['mix'];
  pot: Props['pot'];
}) {
  return (
    <ol className="steps soak-steps">
      {!spray && soak.dryFirst && (
        <SoakStep title="Only once it has run dry" hint="dry clay lifts pH as it did when new; skip it until then" />
      )}
      {!spray && <SoakStep title="Tip out and read the old reservoir" hint="as for a filling; it is kept below" />}
      {!spray && <SoakStep title="Tape the holes, a tray under it" hint="taped pots leak" />}
      <SoakStep
        title={
          spray ? `Spray the leaves with mix ${mix?.letter ?? ''}` : `Fill to the brim with mix ${mix?.letter ?? ''}`
        }
        hint={
          spray
            ? 'both sides, in the morning, out of the sun until dry'
            : `re-fill as air bubbles out${pot.keepDry ? `; ${pot.keepDry}` : ''}`
        }
        amount={mL(soak.pouredMl)}
      />
      {!spray && <SoakStep title="Hold" hint="then drain, flush, fill" amount={`${soak.holdMinutes}\u00a0min`} />}
    </ol>
  );
}

function InSoak({
  soak,
  left,
  primary,
  busy,
  drain,
}: {
  soak: NonNullable<RoundPot['inSoak']>;
  left: number;
  primary: 'clay' | 'primary';
  busy: boolean;
  drain: () => void;
}) {
  return (
    <section className="soak-now" aria-label="In its soak">
      <p className="mb-1">
        <b>{upperFirst(soak.words)}</b>, since {timeOf(soak.startedAt)}
        {soak.endsAt && `, until ${timeOf(soak.endsAt)}`}. Top it up as air bubbles out of the clay.
      </p>
      <div className="num fs-3" role="timer">
        {left > 0 ? waitWords(left) : `over${left < -60_000 ? `, ${waitWords(-left)} ago` : ''}`}
      </div>
      <Button data-log type="button" size="lg" variant={primary} className="w-100" disabled={busy} onClick={drain}>
        {left > 60_000 ? 'Drain it now, early' : 'Drained: flush and fill'}
      </Button>
    </section>
  );
}

function SoakStep({ title, hint, amount }: { title: string; hint: string; amount?: string }) {
  return (
    <li className="step">
      <b className="n" aria-hidden />
      <div>
        {title}
        <div className="small">{hint}</div>
      </div>
      {amount && <b className="num">{amount}</b>}
    </li>
  );
}

const timeOf = (at: string) => new Date(at).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' });
