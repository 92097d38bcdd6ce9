import Button from 'react-bootstrap/Button';
import { Link } from 'react-router';
import type { RoundMix, RoundPot } from '../../contract/round.ts';
import { useActs } from '../shell/acts.tsx';
import { newId } from '../shell/api.ts';
import { litres, mL, phText, ppmText } from '../shell/format.ts';

/** One mix of the round: for how many pots, how much, and how it stands. */
export function MixCard({ mix, tone }: { mix: RoundMix; tone: number }) {
  const { batch } = mix;
  const needsMore = mix.litresToMix > 0;
  return (
    <article className={`sheet mix tone-${tone % 3}`} aria-label={`Mix ${mix.letter}`}>
      <h2 className="num">
        {mix.letter} · {mix.name}
      </h2>
      <div className="small">{summary(mix)}</div>
      {mix.leftover && <UseLeftover mix={mix} leftover={mix.leftover} />}
      {mix.noMixing ? (
        mix.potsLeft > 0 && <span className="btn btn-outline-secondary no-mixing">No mixing</span>
      ) : batch?.status === 'open' ? (
        <Link className="btn btn-primary" to={`/bench/${batch.id}`}>
          Carry on
        </Link>
      ) : needsMore && mix.potsLeft > 0 ? (
        <Link className="btn btn-primary" to={`/bench/new?mix=${encodeURIComponent(mix.key)}`}>
          {batch && batch.leftMl > 0 ? 'Make more' : 'Make at bench'}
        </Link>
      ) : batch ? (
        <Link className="btn btn-outline-secondary" to={`/bench/${batch.id}`}>
          Made {batch.time}
        </Link>
      ) : null}
    </article>
  );
}

/** What is worth saying of the mixes together: which could be one bucket, and how one person does the soaks. */
export function MixNotes({ mixes, pots }: { mixes: readonly RoundMix[]; pots: readonly InTrial[] }) {
  // Each pair is said once.
  const pairs = mixes.filter((m) => m.oneWith && m.letter < m.oneWith.letter);
  const soaks = mixes.filter((m) => m.stagger.length > 1);
  const trials = mixes.flatMap((mix) => trialWords(mix, pots));
  if (pairs.length + soaks.length + trials.length === 0) return null;
  return (
    <section className="mix-notes small" aria-label="About the mixes">
      {pairs.map((m) => (
        <span key={m.key}>
          <b>
            {m.letter} and {m.oneWith!.letter}
          </b>{' '}
          could be one bucket, {ppmText(m.oneWith!.netPpm)} over base:{' '}
          <Link to={`/bench/new?mix=${encodeURIComponent(m.key)}&with=${encodeURIComponent(m.oneWith!.key)}`}>
            make both together
          </Link>
        </span>
      ))}
      {soaks.map((m) => (
        <span key={m.key}>
          <b>Soaks {m.letter}, for one person:</b> {staggerWords(m)}; the last is drained after{' '}
          {m.stagger.at(-1)!.drainMin} min
        </span>
      ))}
      {trials.map(({ letter, words }) => (
        <span key={letter}>
          <b>A trial runs in {letter}:</b> {words}
        </span>
      ))}
    </section>
  );
}

type InTrial = Pick<RoundPot, 'id' | 'code' | 'trial' | 'done'>;

/** Which of a mix's pots get what in a trial, of those that are still to be filled; nothing where none is in one. */
function trialWords({ letter, potIds, use }: RoundMix, pots: readonly InTrial[]): { letter: string; words: string }[] {
  if (use === 'soak' || use === 'spray') return [];
  const arms = new Map<string, string[]>();
  for (const { id, code, trial, done } of pots)
    if (trial && done?.kind !== 'filled' && potIds.includes(id)) {
      const gets = trial.replace(/^Trial: /, '');
      arms.set(gets, [...(arms.get(gets) ?? []), code]);
    }
  const words = [...arms].map(([gets, codes]) => `${codes.sort().join(', ')} ${gets}`).join('; ');
  return words === '' ? [] : [{ letter, words }];
}

/** A mix left over that would do: taken for this one with a press, read again before it is poured. */
function UseLeftover({ mix, leftover }: { mix: RoundMix; leftover: NonNullable<RoundMix['leftover']> }) {
  const { put } = useActs();
  const take = () => {
    const id = newId();
    const act = {
      id,
      url: `/api/bench/batches/${leftover.id}/steps/${id}`,
      body: { kind: 'assign', mixKey: mix.key },
      words: `${leftover.name} for mix ${mix.letter}`,
    };
    return put(act, { toast: `${leftover.name}: taken for mix ${mix.letter}` });
  };
  return (
    <div className="small leftover">
      {mL(leftover.leftMl)} of {leftover.name} left over, reads {ppmText(leftover.readsPpm)}.{' '}
      <Button variant="link" size="sm" className="p-0" onClick={() => void take()}>
        Use it for these
      </Button>
    </div>
  );
}

function summary(mix: RoundMix): string {
  const held = mix.holdMinutes === null ? '' : `, hold ${mix.holdMinutes} min`;
  const pots = `${mix.potsLeft} pot${mix.potsLeft === 1 ? '' : 's'}${held}`;
  const { batch } = mix;
  if (batch?.status === 'open') return `being made since ${batch.time}, for ${pots}`;
  const made = madeWords(batch);
  if (mix.noMixing) return `as it comes, ${pots}`;
  if (mix.potsLeft === 0) return `${mix.pots === 1 ? 'done' : `all ${mix.pots} done`}${made ? ` · ${made}` : ''}`;
  if (mix.litresToMix > 0) return `make ${litres(mix.litresToMix)} for ${pots}${made ? ` · ${made}` : ''}`;
  return `${pots} to fill · ${made}`;
}

/** "1.4 L left, reads 104, pH 5.6"; nothing while it is being made. */
function madeWords(batch: RoundMix['batch']): string {
  if (batch?.status !== 'poured' || batch.leftMl <= 0) return '';
  const reads = batch.readsPpm === null ? '' : `, reads ${ppmText(batch.readsPpm)}`;
  const stood = batch.readsPpm === null ? '; it stood, stir it' : '; it stood, read it again';
  return `${mL(batch.leftMl)} left${reads}${batch.ph === null ? '' : `, pH ${phText(batch.ph)}`}${batch.today ? '' : stood}`;
}

/** Pots named of a soak; each has its clock on its own card. */
const MOST_NAMED = 16;
function staggerWords({ stagger }: RoundMix): string {
  const named = stagger
    .slice(0, MOST_NAMED)
    .map((t) => `${t.code} ${t.startMin === 0 ? 'at once' : `after ${t.startMin}`}`);
  const more = stagger.length - named.length;
  return `${named.join(', ')} min${more > 0 ? ` and ${more} more` : ''}`;
}
