import type { KeyboardEvent, ReactNode } from 'react';
import type { RoundMix, RoundPot } from '../../contract/round.ts';
import { inSentence } from '../../core/quantity/index.ts';
import { inSmallUnit, mL, phText, ppmText, smallSign } from '../shell/format.ts';
import { DrainClock } from './drain-clock.tsx';
import { between, flushLeaves, type FlushAsRead } from './flush-as-read.ts';
import { flushAmount, flushWhy } from './flush-words.ts';
import { LookOver } from './look-over.tsx';
import { MiniField } from './mini-field.tsx';
import type { Draft, Errors, Field } from './read-draft.ts';
import { Step } from './step.tsx';
import { askedNow, CALLED, type AsksHere } from './what-is-asked.ts';

type Props = {
  pot: RoundPot;
  mix: RoundMix | undefined;
  /** The flush, planned by what is typed. */
  flush: FlushAsRead;
  draft: Draft;
  errors: Errors;
  change(part: Partial<Draft>): void;
  onKeyDown(event: KeyboardEvent<HTMLInputElement>): void;
  /** What is asked of it; undefined where everything is read. */
  asks: AsksHere | undefined;
  /** The readings, where they stand among the steps. */
  readings: ReactNode;
  /** Put before the flush: a soak or a spray. */
  before?: ReactNode;
};

/** A filling, step by step. */
export function FillSteps({ pot, mix, flush, draft, errors, change, onKeyDown, asks, readings, before }: Props) {
  const mini = (name: Field, label: string, quiet: string, unit?: string) => (
    <MiniField
      name={name}
      label={label}
      quiet={quiet}
      {...(unit === undefined ? {} : { unit })}
      value={draft[name]}
      error={errors[name]}
      onChange={(value) => change({ [name]: value })}
      onKeyDown={onKeyDown}
    />
  );
  // On the phone the reading has a place of its own, and keeps its number.
  const numbers = readings ? [1, 2, 3, 4, 5, 6] : [1, 3, 4, 5, 6];
  const next = () => numbers.shift()!;
  const ready = mix?.batch?.status === 'poured' ? mix.batch : undefined;
  return (
    <ol className="steps">
      <Step
        n={next()}
        title={pot.watering.wash ? 'Tip it all out, wash the reservoir' : 'Tip out the old reservoir'}
        hint="to tolerant plants, not the drain"
        side={mini(
          'left',
          `Left in the old reservoir, ${smallSign()}`,
          pot.expected.leftMl === undefined ? '' : `≈ ${inSmallUnit(pot.expected.leftMl)}`,
        )}
        error={errors.left}
        errorId="left-error"
      />
      {readings && <Step n={next()} title="Read the old reservoir" hint={readHint(asks)} side={readings} now />}
      {before && (
        <li className="step given">
          <b className="n" aria-hidden>
            ✓
          </b>
          <div>{before}</div>
        </li>
      )}
      <Step
        n={next()}
        title={
          <>
            Flush from the top with <b className="num flush-amount">{flushAmount(flush)}</b>
          </>
        }
        hint={[flushWhy(flush), flushLeaves(flush), 'tepid', pot.keepDry].filter(Boolean).join('; ')}
        side={mini('flush', `Flushed with, ${smallSign()}, when other than planned`, inSmallUnit(flush.flushMl))}
        error={errors.flush}
        errorId="flush-error"
      />
      <Step
        n={next()}
        title={
          <>
            Let it drain <DrainClock pot={pot} />
          </>
        }
        side={mini('runOff', 'Run-off at the end of the flush, ppm', runOffWords(flush), 'ppm')}
        error={errors.runOff}
        errorId="runOff-error"
      />
      <FillStep n={next()} pot={pot} mix={mix} ready={ready} mini={mini} errors={errors} />
      <Step n={next()} title="Look it over" hint={<LookOver draft={draft} change={change} errors={errors} />} wide />
    </ol>
  );
}

/** What of the old reservoir is asked, under its step. */
function readHint(asks: AsksHere | undefined): string {
  if (!asks) return 'empty: not measured';
  const [one, ...more] = askedNow(asks);
  if (!one) return 'nothing is asked of it';
  return more.length > 0 ? 'both are asked' : `${CALLED[one]} is asked, the other may be left`;
}

/** What should run off at the end: between what, where that is known. */
function runOffWords({ flush, range }: FlushAsRead): string {
  if (range) return between(range.runOff).replace(' to ', '–');
  return flush.runOffPpm === null ? '' : `≈ ${ppmText(flush.runOffPpm)}`;
}

function FillStep({
  n,
  pot,
  mix,
  ready,
  mini,
  errors,
}: {
  n: number;
  pot: Props['pot'];
  mix: Props['mix'];
  ready: RoundMix['batch'] | undefined;
  mini: (name: Field, label: string, quiet: string) => ReactNode;
  errors: Props['errors'];
}) {
  return (
    <Step
      n={n}
      title={
        pot.watering.what === 'plain'
          ? `Fill to the hole with ${inSentence(pot.watering.waterName ?? 'still water')}`
          : `Fill to the hole${mix ? ` with mix ${mix.letter}` : ''}`
      }
      hint={
        [
          ready && ready.leftMl > 0 && pot.fillMl > ready.pourableMl ? `only ${mL(ready.leftMl)} of it left` : '',
          ready && ready.readsPpm !== null
            ? `reads ${ppmText(ready.readsPpm)}${ready.ph === null ? '' : `, pH ${phText(ready.ph)}`}`
            : '',
          pot.fillMl < pot.reservoirMl - 10 ? 'its limit: new growth below' : '',
        ]
          .filter(Boolean)
          .join('; ') || undefined
      }
      side={mini('fill', `Fill, ${smallSign()}, when other than planned`, inSmallUnit(pot.fillMl))}
      error={errors.fill}
      errorId="fill-error"
    />
  );
}
