import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import Dropdown from 'react-bootstrap/Dropdown';
import { Link } from 'react-router';
import type { ClayBatchView, ClayRoom } from '../../contract/clay.ts';
import { type LeachForecast } from '../../core/clay/index.ts';
import { litres, ppmText, upperFirst } from '../shell/format.ts';
import { ClayNow } from './clay-now.tsx';
import { dayWords } from './clay-words.ts';
import { type LeachModel, type WayForecast, type LeachQuestion, type LeachAnswer } from '../../core/clay/index.ts';
import { LeachChart } from './leach-chart.tsx';
import { LifeSteps } from './life-steps.tsx';
import { useClayAct } from './send-clay.ts';
import { LeachLog } from './leach-log.tsx';
import { WaysCard } from './ways-card.tsx';
import type { NowProps } from './now-props.ts';
import { useLeach } from './use-leach.ts';
import { Loading } from '../shell/states.tsx';

type SheetProps = { room: ClayRoom; batch: ClayBatchView; zone: string; edit(): void; quiet: boolean };
/** One batch: its life, the saw-tooth or its log, the next act and the ways. */
export function BatchSheet(props: SheetProps) {
  const { nowMs, still, answer } = useLeach(props.room, props.batch);
  if (!answer) return <Loading what="what the water took up" />;
  return <Sheet {...props} nowMs={nowMs} still={still} answer={answer} />;
}

function Sheet({
  room,
  batch,
  zone,
  edit,
  quiet,
  nowMs,
  still,
  answer: { model, ways, forecast, nextInHours: changesIn },
}: SheetProps & { nowMs: number; still: ClayRoom['waters'][number] | undefined; answer: LeachAnswer }) {
  const [asTable, setAsTable] = useState(false);
  const { send } = useClayAct();
  const { asked } = model;
  const onPen = (half: number) => (half * room.scale) / 0.5;
  const basePpm = batch.leach?.basePpm ?? still?.basePpm ?? 0;
  const startMs = batch.leach ? Date.parse(batch.leach.startedAt) : nowMs;
  const charted = batch.leach !== null || batch.state === 'rinsed' || batch.state === 'bag';
  const head = headline(batch, forecast, model, startMs, nowMs, zone, onPen, still?.stillNowL ?? null);
  const nextInHours = batch.ready ? undefined : changesIn;
  const props = { room, batch, model, forecast, nowMs, zone, onPen, nextInHours, keys: !quiet };
  return (
    <>
      <LifeSteps
        batch={batch}
        model={model}
        forecast={forecast}
        startMs={startMs}
        nowMs={nowMs}
        zone={zone}
        waiting={room.unleached.filter((p) => p.verdict.kind === 'repot').length}
      />
      <section className="cols">
        <div className="sheet plot">
          <PlotHead charted={charted} batch={batch} edit={edit} send={send} asTable={asTable} setAsTable={setAsTable} />
          {asTable ? (
            <LeachLog
              batch={batch}
              forecast={forecast}
              shown={(half) => onPen(half) + basePpm}
              startMs={startMs}
              zone={zone}
            />
          ) : charted ? (
            <LeachChart
              batch={batch}
              forecast={forecast}
              nowHours={asked.nowHours}
              onPen={onPen}
              basePpm={basePpm}
              gatePpm={batch.values.gatePpm}
              zone={zone}
              startMs={startMs}
              summary={head.summary}
            >
              <figcaption className="head">
                <p className="big">
                  {head.title} <span>{head.when}</span>
                </p>
                <p className="mb-0">
                  <b>Ready when four weeks of still water stay under {ppmText(batch.values.gatePpm)}, 19 times in 20</b>
                  <br />
                  {head.range}
                </p>
              </figcaption>
            </LeachChart>
          ) : (
            <Uncharted batch={batch} />
          )}
        </div>
        <Right props={props} ways={ways} batch={batch} onPen={onPen} asked={asked} charted={charted} />
      </section>
    </>
  );
}

function Right({
  props,
  ways,
  batch,
  onPen,
  asked,
  charted,
}: {
  props: NowProps;
  ways: readonly WayForecast[];
  batch: ClayBatchView;
  onPen: (half: number) => number;
  asked: LeachQuestion;
  charted: boolean;
}) {
  return (
    <div className="right">
      <ClayNow {...props} />
      {ways.length > 0 && (
        <section className="sheet ways" aria-label="Ways to the gate">
          <WaysCard batch={batch} ways={ways} onPen={onPen} usedL={usedSoFar(batch)} days={asked.nowHours / 24} />
        </section>
      )}
      {batch.pots.length > 0 && ways.length === 0 && charted && (
        <section className="sheet p-3" aria-label="Pots in it">
          <PotsInIt batch={batch} />
        </section>
      )}
    </div>
  );
}

function PlotHead({
  charted,
  batch,
  edit,
  send,
  asTable,
  setAsTable,
}: {
  charted: boolean;
  batch: ClayBatchView;
  edit: () => void;
  send: ReturnType<typeof useClayAct>['send'];
  asTable: boolean;
  setAsTable(next: boolean): void;
}) {
  return (
    <div className="plot-head">
      <h2>{charted ? 'What the water takes up' : upperFirst(batch.values.name)}</h2>
      <span className="small">
        {charted ? 'dots: your readings; line: the fit; dashes: what comes next' : batch.why}
      </span>
      <span className="push d-flex gap-2">
        <Dropdown align="end">
          <Dropdown.Toggle size="sm" variant="outline-secondary">
            {upperFirst(batch.values.name)}
          </Dropdown.Toggle>
          <Dropdown.Menu>
            <Dropdown.Item as="button" onClick={edit}>
              Change what is written of it
            </Dropdown.Item>
            <Dropdown.Item
              as="button"
              onClick={() =>
                void send({ kind: 'dried', clayId: batch.id, potId: null }, `${batch.values.name}: dried out`)
              }
            >
              It dried out
            </Dropdown.Item>
            {batch.retiredOn === null && (
              <Dropdown.Item
                as="button"
                onClick={() => void send({ kind: 'retire', clayId: batch.id }, `${batch.values.name} put away`)}
              >
                Put it away: used up or thrown out
              </Dropdown.Item>
            )}
          </Dropdown.Menu>
        </Dropdown>
        <Button size="sm" variant="outline-secondary" aria-pressed={asTable} onClick={() => setAsTable(!asTable)}>
          {asTable ? 'Chart' : 'Log'}
        </Button>
      </span>
    </div>
  );
}

/** Water that went on it so far, L. */
function usedSoFar({ leach }: ClayBatchView): number {
  if (!leach) return 0;
  return (
    leach.history.firstL + leach.history.acts.reduce((sum, act) => sum + (act.kind === 'change' ? act.freshL : 0), 0)
  );
}

type Head = { title: string; when: string; range: string; summary: string };

function headline(
  batch: ClayBatchView,
  { ready }: LeachForecast,
  model: LeachModel,
  startMs: number,
  nowMs: number,
  zone: string,
  onPen: (half: number) => number,
  stillL: number | null,
): Head {
  const at = (hours: number) => startMs + hours * 3_600_000;
  const { mean, low, high } = model.standing.standard;
  const comesTo = `about ${ppmText(onPen(mean))} (${ppmText(onPen(low))} to ${ppmText(onPen(high))}) over the base in four weeks of still water`;
  const done = (title: string, when: string, range: string): Head => ({
    title,
    when,
    range,
    summary: `${title} ${when} ${range}`,
  });
  if (batch.ready) return done('Ready', batch.leach?.drainedAt ? 'and drained' : 'now', `It would come to ${comesTo}.`);
  if (batch.leach?.drainedAt) return done('Not ready,', 'and drained', `It would come to ${comesTo}.`);
  if (ready.changes === undefined || ready.atHours === undefined)
    return done('Not within four weeks', 'this way', 'Choose another way, or give it more water.');
  return done(
    titleOf(ready.changes, batch.leach !== null),
    `about ${dayWords(at(ready.atHours), nowMs, zone)}`,
    `${rangeOf(ready, at, nowMs, zone)}.${stillWords(ready.litres, stillL)}`,
  );
}

function titleOf(changes: number, begun: boolean): string {
  if (changes === 0) return 'This water may do,';
  return `Ready in ${changes} ${begun ? 'more ' : ''}change${changes === 1 ? '' : 's'},`;
}

/** From its earliest day to its latest. */
function rangeOf(
  { atHours, earliestHours, latestHours }: LeachForecast['ready'],
  at: (hours: number) => number,
  nowMs: number,
  zone: string,
): string {
  const day = (hours: number | undefined) => (hours === undefined ? undefined : dayWords(at(hours), nowMs, zone));
  const earliest = day(earliestHours ?? atHours) ?? '';
  const latest = day(latestHours);
  if (earliest === latest) return `Nine times in ten ${latest}, if it is changed as planned`;
  return `${upperFirst(earliest)} at the earliest, ${latest === undefined ? 'how late nobody can say yet' : `${latest} at the latest`}`;
}

/** Still water the changes take, against what there is. */
function stillWords(takesL: number | undefined, stillL: number | null): string {
  if (!takesL) return '';
  const of =
    stillL === null
      ? ''
      : stillL >= takesL
        ? ` of the ${litres(stillL)} still water there is`
        : `; ${litres(stillL)} still water is there now`;
  return ` They take ${litres(takesL)}${of}.`;
}

function Uncharted({ batch }: { batch: ClayBatchView }) {
  return (
    <div className="uncharted">
      <p>
        {batch.values.prep === 'leached'
          ? 'It was leached before it was kept here, so there is nothing to draw.'
          : 'Nothing was soaked, so there is nothing to draw.'}
      </p>
      {batch.values.note && <p className="small">{batch.values.note}</p>}
      {batch.pots.length > 0 && <PotsInIt batch={batch} />}
    </div>
  );
}

function PotsInIt({ batch }: { batch: ClayBatchView }) {
  return (
    <>
      <h2>
        In {batch.pots.length} pot{batch.pots.length === 1 ? '' : 's'}
      </h2>
      <ul className="in-pots">
        {batch.pots.map((pot) => (
          <li key={pot.id}>
            <Link to={`/pots/${pot.id}`}>{pot.code}</Link> {pot.name}
          </li>
        ))}
      </ul>
    </>
  );
}
