import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import type { TrialView } from '../../../contract/trials.ts';
import { dayMonth, dayMonthYear, upperFirst } from '../../shell/format.ts';
import { useWidth } from '../../shell/use-width.ts';
import { EndTrial } from './end-trial.tsx';
import { TrialPicture } from './trial-picture.tsx';
import { chipOf, STATE_WORDS, TRIAL_MEASURE, verdictWords } from './trial-words.ts';

/** A trial as it stands: its question, its pots, what it says and what it cannot. @param whole with its pots and what must stay equal */
export function TrialCard({ trial, whole = false }: { trial: TrialView; whole?: boolean }) {
  const [ending, setEnding] = useState(false);
  const [ref, width] = useWidth(340);
  const chip = chipOf(trial);
  const open = trial.state === 'running' || trial.state === 'over';
  return (
    <section className="sheet trial" aria-label={trial.question}>
      <h2>{trial.question}</h2>
      <p className="small mb-1">
        {upperFirst(trial.arms[0])}, or {trial.arms[1]}: {trial.pots.length} pots, {trial.weeks} weeks from{' '}
        {dayMonth(trial.startOn)} to {dayMonth(trial.endOn)}, {STATE_WORDS[trial.state]}
        {trial.endedOn && ` ${dayMonthYear(trial.endedOn)}`}. {TRIAL_MEASURE[trial.measure].name}:{' '}
        {TRIAL_MEASURE[trial.measure].of}.
      </p>
      <div ref={ref}>
        <TrialPicture trial={trial} width={width} />
      </div>
      <p className="verdict mb-1">
        <b>{verdictWords(trial)}</b>
      </p>
      {trial.unequal.length > 0 && (
        <p className="small mb-1">
          Not kept equal: {trial.unequal.slice(0, whole ? undefined : 3).join('; ')}
          {!whole && trial.unequal.length > 3 && ` and ${trial.unequal.length - 3} more`}.
        </p>
      )}
      {trial.asDone && (
        <p className="small mb-1">
          By what the pots were given, and not by what they were meant to get:{' '}
          {TRIAL_MEASURE[trial.measure].text(trial.asDone.low)} to{' '}
          {TRIAL_MEASURE[trial.measure].text(trial.asDone.high)} {TRIAL_MEASURE[trial.measure].unit}.
        </p>
      )}
      {trial.endWhy && <p className="small mb-1">Ended: {trial.endWhy}</p>}
      <div className="trial-foot">
        {open && (
          <Button variant={trial.state === 'over' ? 'primary' : 'outline-secondary'} onClick={() => setEnding(true)}>
            End it
          </Button>
        )}
        <span className={`chip ${chip.tone}`}>{chip.words}</span>
      </div>
      {ending && <EndTrial trial={trial} onClose={() => setEnding(false)} />}
    </section>
  );
}
