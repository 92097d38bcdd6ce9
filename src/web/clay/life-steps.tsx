import type { ReactNode } from 'react';
import type { ClayBatchView } from '../../contract/clay.ts';
import { dayMonth, ppmText } from '../shell/format.ts';
import type { LeachModel } from '../../core/clay/index.ts';
import type { LeachForecast } from '../../core/clay/index.ts';
import { dayWords } from './clay-words.ts';

type Step = { name: string; hint: string; done: boolean; now: boolean; pips?: ReactNode };

type Life = {
  batch: ClayBatchView;
  model: LeachModel;
  forecast: LeachForecast;
  startMs: number;
  nowMs: number;
  zone: string;
  waiting: number;
};

/** It came here already leached, or is kept as it was. */
const cameSo = ({ batch }: Life) => batch.values.prep !== 'new' && !batch.leach;
const isLeaching = ({ batch }: Life) => batch.leach !== null && batch.leach.drainedAt === null && !batch.ready;

function rinse(life: Life): Step {
  const { batch } = life;
  const before = cameSo(life);
  return {
    name: 'Rinse',
    hint: before ? 'before it was kept here' : batch.rinsedOn ? 'until it ran clear' : 'wet: no dust to breathe',
    done: before || batch.rinsedOn !== null || batch.leach !== null,
    now: batch.state === 'bag',
  };
}

function boil({ batch }: Life): Step {
  return {
    name: 'Boil 10 min',
    hint: batch.boiledOn ? 'kills germs; soaking still needed' : 'if you like: kills germs',
    done: batch.boiledOn !== null,
    now: false,
  };
}

/** What the first water read before it was changed, ppm. */
function firstRead({ batch, model }: Life): number | null {
  const changedAt = model.asked.history.acts.find((act) => act.kind === 'change')?.atHours ?? Infinity;
  const line = batch.log.find(
    (l) => l.kind === 'read' && l.ppm !== null && l.atHours !== null && l.atHours <= changedAt + 0.01,
  );
  return line?.ppm ?? null;
}

function soak(life: Life): Step {
  const { batch } = life;
  const first = firstRead(life);
  const unread = batch.leach ? 'not read yet' : cameSo(life) ? 'not here' : 'in still water';
  return {
    name: 'Soak',
    hint: first === null ? unread : `first one read ${ppmText(first)}`,
    done: batch.leach !== null || batch.values.prep === 'leached',
    now: batch.state === 'rinsed',
  };
}

function change(life: Life): Step {
  const { batch, forecast } = life;
  const done = batch.leach?.changes ?? 0;
  const toGo = batch.leach?.drainedAt || batch.ready ? 0 : (forecast.ready.changes ?? 0);
  const all = done + toGo;
  const leaching = isLeaching(life);
  const counted = `${done} done${leaching && toGo ? `, ${toGo} to go` : ''}`;
  return {
    name: all > 0 ? `Change × ${all}` : 'Change',
    hint: batch.leach ? counted : 'until it reads low',
    done: batch.ready || batch.values.prep === 'leached',
    now: leaching,
    pips: all > 0 && all < 9 ? <Pips done={done} all={all} leaching={leaching} /> : undefined,
  };
}

function Pips({ done, all, leaching }: { done: number; all: number; leaching: boolean }) {
  return (
    <span className="pips" aria-hidden>
      {Array.from({ length: all }, (_, i) => (
        <u key={i} className={i < done ? 'f' : i === done && leaching ? 'n' : ''} />
      ))}
    </span>
  );
}

function ready({ batch, forecast, startMs, nowMs, zone }: Life): Step {
  const { leach } = batch;
  const hint = () => {
    if (batch.ready)
      return leach?.drainedAt ? `since ${dayMonth(leach.drainedAt.slice(0, 10))}` : 'stays under the gate';
    if (batch.values.prep === 'unleached' && !leach) return 'it never was';
    const hours = forecast.ready.atHours;
    const when = hours !== undefined && leach ? `, about ${dayWords(startMs + hours * 3_600_000, nowMs, zone)}` : '';
    return `to stay under ${ppmText(batch.values.gatePpm)}${when}`;
  };
  return {
    name: 'Ready',
    hint: hint(),
    done: batch.ready,
    now: batch.ready && batch.pots.length === 0 && batch.usedL === 0,
  };
}

const pots = (n: number) => `${n} pot${n === 1 ? '' : 's'}`;
function potted({ batch, waiting }: Life): Step {
  const potted = batch.pots.length;
  return {
    name: 'Potted',
    hint: potted > 0 ? pots(potted) : waiting > 0 ? `${pots(waiting)} waiting` : 'none yet',
    done: potted > 0,
    now: false,
  };
}

/** The life of a batch from the bag to the pots, with where it stands. */
export function LifeSteps(life: Life) {
  const steps = [rinse, boil, soak, change, ready, potted].map((step) => step(life));
  return (
    <ol className="sheet life" aria-label="From the bag to the pots" tabIndex={0}>
      {steps.map((step, i) => (
        <li
          key={step.name}
          className={step.now ? 'now-step' : step.done ? 'ok' : ''}
          aria-current={step.now ? 'step' : undefined}
        >
          <i aria-hidden>{step.done && !step.now ? '✓' : i + 1}</i>
          <b>
            {step.name} {step.pips}
            <span className="visually-hidden">{step.now ? ', now' : step.done ? ', done' : ', to come'}</span>
          </b>
          <small>{step.hint}</small>
        </li>
      ))}
    </ol>
  );
}
