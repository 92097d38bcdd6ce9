import type { ReactNode } from 'react';
import type { ClayBatchView } from '../../contract/clay.ts';
import { dayMonth, ppmText } from '../shell/format.ts';
import type { LeachModel } from './leach.ts';
import type { LeachForecast } from '../../core/clay/index.ts';
import { dayWords } from './clay-words.ts';

type Step = { name: string; hint: string; done: boolean; now: boolean; pips?: ReactNode };

/** The life of a batch from the bag to the pots, with where it stands. */
export function LifeSteps({
  batch,
  model,
  forecast,
  startMs,
  nowMs,
  zone,
  waiting,
}: {
  batch: ClayBatchView;
  model: LeachModel;
  forecast: LeachForecast;
  startMs: number;
  nowMs: number;
  zone: string;
  waiting: number;
}) {
  const { leach } = batch;
  const before = batch.values.prep !== 'new' && !leach;
  const firstRead = batch.log.filter((l) => l.kind === 'read' && l.ppm !== null && l.atHours !== null);
  const firstFlat = firstRead.filter(
    (l) => l.atHours! <= (model.asked.history.acts.find((a) => a.kind === 'change')?.atHours ?? Infinity) + 0.01,
  )[0];
  const more = forecast.ready.changes;
  const changes = leach?.changes ?? 0;
  const all = changes + (leach?.drainedAt || batch.ready ? 0 : (more ?? 0));
  const leaching = leach !== null && leach.drainedAt === null && !batch.ready;
  const readyAt = forecast.ready.atHours === undefined ? undefined : startMs + forecast.ready.atHours * 3_600_000;
  const steps: Step[] = [
    {
      name: 'Rinse',
      hint: before ? 'before it was kept here' : batch.rinsedOn ? 'until it ran clear' : 'wet: no dust to breathe',
      done: before || batch.rinsedOn !== null || leach !== null,
      now: batch.state === 'bag',
    },
    {
      name: 'Boil 10 min',
      hint: batch.boiledOn ? 'kills germs; soaking still needed' : 'if you like: kills germs',
      done: batch.boiledOn !== null,
      now: false,
    },
    {
      name: 'Soak',
      hint: firstFlat
        ? `first one read ${ppmText(firstFlat.ppm!)}`
        : leach
          ? 'not read yet'
          : before
            ? 'not here'
            : 'in still water',
      done: leach !== null || batch.values.prep === 'leached',
      now: batch.state === 'rinsed',
    },
    {
      name: all > 0 ? `Change × ${all}` : 'Change',
      hint: !leach
        ? 'until it reads low'
        : leaching
          ? `${changes} done${more ? `, ${more} to go` : ''}`
          : `${changes} done`,
      done: batch.ready || batch.values.prep === 'leached',
      now: leaching,
      pips:
        all > 0 && all < 9 ? (
          <span className="pips" aria-hidden>
            {Array.from({ length: all }, (_, i) => (
              <u key={i} className={i < changes ? 'f' : i === changes && leaching ? 'n' : ''} />
            ))}
          </span>
        ) : undefined,
    },
    {
      name: 'Ready',
      hint: batch.ready
        ? leach?.drainedAt
          ? `since ${dayMonth(leach.drainedAt.slice(0, 10))}`
          : 'flat under the gate'
        : batch.values.prep === 'unleached' && !leach
          ? 'it never was'
          : `flat under ${ppmText(batch.values.gatePpm)}${readyAt && leach ? `, about ${dayWords(readyAt, nowMs, zone)}` : ''}`,
      done: batch.ready,
      now: batch.ready && batch.pots.length === 0 && batch.usedL === 0,
    },
    {
      name: 'Potted',
      hint:
        batch.pots.length > 0
          ? `${batch.pots.length} pot${batch.pots.length === 1 ? '' : 's'}`
          : waiting > 0
            ? `${waiting} pot${waiting === 1 ? '' : 's'} waiting`
            : 'none yet',
      done: batch.pots.length > 0,
      now: false,
    },
  ];
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
