import { inSentence } from '../../../core/quantity/words.ts';
import { useMemo, useRef, useState } from 'react';
import Button from 'react-bootstrap/Button';
import { useHotkeys } from 'react-hotkeys-hook';
import { Link, useSearchParams } from 'react-router';
import { drawPractice, EXERCISES, practiceReading, type Exercise } from '../../../core/simulation/index.ts';
import { newId } from '../../shell/api.ts';
import { litres, phText, ppmText } from '../../shell/format.ts';
import { LocalPen } from '../../shell/use-dip.ts';
import { BucketPicture } from '../../drawing/bucket-picture.tsx';
import { lastReading } from '../bench-words.ts';
import { PhNow } from '../ph-now.tsx';
import { PortionChart } from '../portion-chart.tsx';
import { PortionTable } from '../portion-table.tsx';
import type { SendStep } from '../send-step.ts';
import { StrengthNow } from '../strength-now.tsx';
import { deedsOf, practiceView, type PracticeStep } from './practice-view.ts';
import { scoreOf } from './score.ts';

const WORDS: Record<Exercise, { title: string; task: string }> = {
  reach: {
    title: 'Reach +100',
    task: 'Bring soft water to 100 over its own reading. Nobody knows how strong the stock is: small portions, read after each.',
  },
  rescue: {
    title: 'Rescue an overshoot',
    task: 'Somebody poured far too much into a jug that cannot hold the water it would take. Bring it back to 100 over the water.',
  },
  ph: {
    title: 'Bring the pH down',
    task: 'Strength is done. The water is soft, so a drop of acid goes a long way: into 5.5 to 6.5 in as few corrections as you can.',
  },
};

const BUCKETS = 1_000_000;
/** Which bucket is drawn: the one the address names, so that two can try the same; else any. */
const bucketNumber = (named: string | null) =>
  named !== null && /^\d{1,6}$/.test(named) ? Number(named) : Math.floor(Math.random() * BUCKETS);

/** The bench on a bucket that does not exist: three short exercises, scored, and nothing of them is kept. */
export function PracticePage() {
  const [exercise, setExercise] = useState<Exercise>('reach');
  const [asked] = useSearchParams();
  const [seed, setSeed] = useState(() => bucketNumber(asked.get('bucket')));
  const [best, setBest] = useState<Partial<Record<Exercise, number>>>({});
  const start = (next: Exercise) => {
    setExercise(next);
    setSeed(seed + 1);
  };
  return (
    <div className="page bench practice">
      <header>
        <div className="flex-fill">
          <h1>Practice bucket</h1>
          <div className="small">A simulated bucket with a stock nobody knows. Nothing of it goes into the book.</div>
        </div>
        <nav className="stepper" aria-label="Exercises">
          {EXERCISES.map((e) => (
            <button
              key={e}
              type="button"
              className={e === exercise ? 'on' : ''}
              aria-current={e === exercise ? 'step' : undefined}
              onClick={() => start(e)}
            >
              {WORDS[e].title}
              {best[e] !== undefined && <span aria-label={`best ${best[e]} of 3`}>{'●'.repeat(best[e])}</span>}
            </button>
          ))}
        </nav>
        <Link className="btn btn-outline-secondary btn-sm" to="/bench">
          To the bench
        </Link>
      </header>
      <Run
        key={`${exercise}-${seed}`}
        exercise={exercise}
        seed={seed}
        onDone={(points) => setBest((b) => ({ ...b, [exercise]: Math.max(points, b[exercise] ?? 0) }))}
        onAgain={() => start(exercise)}
        onNext={() => start(EXERCISES[(EXERCISES.indexOf(exercise) + 1) % EXERCISES.length]!)}
      />
    </div>
  );
}

type RunProps = { exercise: Exercise; seed: number; onDone(points: number): void; onAgain(): void; onNext(): void };

function Run({ exercise, seed, onDone, onAgain, onNext }: RunProps) {
  const bucket = useMemo(() => drawPractice(exercise, seed), [exercise, seed]);
  const [steps, setSteps] = useState<readonly PracticeStep[]>([]);
  const [dipAfter, setDipAfter] = useState<string>();
  const [settled, setSettled] = useState(false);
  const dips = useRef(1);
  const view = useMemo(() => practiceView(bucket, steps), [bucket, steps]);
  const send: SendStep = (step, _words, thenDip = false) => {
    const id = newId();
    if (thenDip) setDipAfter(id);
    setSteps((s) => [...s, { id, step }]);
    return Promise.resolve('done');
  };
  const undo = () => setSteps((s) => s.slice(0, -1));
  useHotkeys('u', undo);
  const pen = useMemo(
    () => (meterId: string) => practiceReading(bucket, deedsOf(steps), meterId === 'pH' ? 'pH' : 'ppm', dips.current++),
    [bucket, steps],
  );
  const finish = () => {
    setSettled(true);
    onDone(scoreOf(bucket, steps, view).points);
  };
  const dipNow = dipAfter !== undefined && dipAfter === view.lastEventId;
  const done = settled || (exercise === 'ph' && view.ph.inside);
  return (
    <LocalPen value={pen}>
      <section className="sheet recipe practice-task" aria-label="The task">
        <div>
          <span className="small">The task</span>
          <b>{WORDS[exercise].task}</b>
        </div>
        <div>
          <span className="small">In it</span>
          <b className="num">{litres(view.volumeL)}</b>
        </div>
        <div>
          <span className="small">Holds</span>
          <b className="num">{litres(bucket.capacityL)}</b>
        </div>
      </section>
      <section className="cols">
        <div className="sheet jug">
          <div className="small">The {inSentence(view.vessel.name)}</div>
          <BucketPicture
            volumeL={view.volumeL}
            capacityL={bucket.capacityL}
            strength={view.basePpm === null ? 0 : (lastReading(view) - view.basePpm) / view.netPpm}
          />
        </div>
        <div className="sheet plot">
          <PortionChart view={view} part={0} />
        </div>
        <div className="side">
          {done ? (
            <Scored bucket={bucket} steps={steps} view={view} onAgain={onAgain} onNext={onNext} onSeen={onDone} />
          ) : exercise === 'ph' ? (
            <PhNow view={view} send={send} dipNow={dipNow} onUndo={undo} onThrowOut={finish} onPour={finish} />
          ) : (
            <StrengthNow view={view} send={send} dipNow={dipNow} onUndo={undo} onGoOn={finish} />
          )}
          <div className="sheet table-sheet">
            <PortionTable view={view} />
          </div>
        </div>
      </section>
    </LocalPen>
  );
}

type ScoredProps = {
  bucket: ReturnType<typeof drawPractice>;
  steps: readonly PracticeStep[];
  view: ReturnType<typeof practiceView>;
  onAgain(): void;
  onNext(): void;
  onSeen(points: number): void;
};

function Scored({ bucket, steps, view, onAgain, onNext, onSeen }: ScoredProps) {
  const score = scoreOf(bucket, steps, view);
  const next = () => {
    onSeen(score.points);
    onNext();
  };
  return (
    <section className="now" aria-label="Now">
      <small>{score.landed ? 'It landed' : 'It did not land'}</small>
      <div className="say">
        <span aria-label={`${score.points} of 3`}>
          {'●'.repeat(score.points)}
          {'○'.repeat(3 - score.points)}
        </span>
        <br />
        {bucket.exercise === 'ph'
          ? `pH ${view.ph.latest === null ? 'not read' : phText(view.ph.latest)}`
          : `reads ${ppmText(lastReading(view))}`}
      </div>
      <small>{score.words}</small>
      <div className="d-flex gap-2 flex-wrap">
        <Button variant="clay" size="lg" autoFocus onClick={next}>
          The next one
        </Button>
        <Button variant="outline-light" size="lg" onClick={onAgain}>
          Again, another bucket
        </Button>
      </div>
    </section>
  );
}
