import { useMemo, useState } from 'react';
import Button from 'react-bootstrap/Button';
import Dropdown from 'react-bootstrap/Dropdown';
import { Link } from 'react-router';
import type { ClayBatchView, ClayRoom } from '../../contract/clay.ts';
import { forecastLeach, type LeachForecast } from '../../core/clay/index.ts';
import { litres, ppmText, upperFirst } from '../shell/format.ts';
import { useServerNow } from '../shell/use-server-now.ts';
import { ClayNow } from './clay-now.tsx';
import { dayWords } from './clay-words.ts';
import { leachOf, leachQuestion, wayForecast, type LeachModel } from './leach.ts';
import { LeachChart } from './leach-chart.tsx';
import { LifeSteps } from './life-steps.tsx';
import { useClayAct } from './send-clay.ts';
import { LeachLog } from './leach-log.tsx';
import { useWays } from './use-ways.ts';
import { WaysCard } from './ways-card.tsx';

/** One batch: its life, the saw-tooth or its log, the next act and the ways. */
export function BatchSheet({
  room,
  batch,
  zone,
  edit,
  quiet,
}: {
  room: ClayRoom;
  batch: ClayBatchView;
  zone: string;
  edit(): void;
  quiet: boolean;
}) {
  const [asTable, setAsTable] = useState(false);
  const { send } = useClayAct();
  const ticking = useServerNow(true);
  // The minute is enough: the model need not run every second.
  const nowMs = Math.max(Date.parse(room.now), Math.floor(ticking / 60_000) * 60_000);
  const still = room.waters.find((w) => w.id === batch.leach?.waterId) ?? room.waters.find((w) => w.kind === 'still');
  const asked = useMemo(
    () =>
      leachQuestion(
        batch,
        nowMs,
        room.scale,
        still?.stillNowL != null ? { nowL: still.stillNowL, perDayL: still.perDayL ?? 0 } : null,
      ),
    [batch, nowMs, room.scale, still?.stillNowL, still?.perDayL],
  );
  const model = useMemo(() => leachOf(asked), [asked]);
  const ways = useWays(
    batch.retiredOn === null && (batch.state === 'soaking' || batch.state === 'rinsed' || batch.state === 'bag')
      ? asked
      : undefined,
  );
  const followed = useMemo(() => wayForecast(model, batch.values.way), [model, batch.values.way]);
  const atRest = batch.leach?.drainedAt != null || batch.ready;
  const stands = batch.leach !== null && batch.leach.drainedAt === null;
  const forecast = useMemo<LeachForecast>(
    () =>
      atRest
        ? forecastLeach(model.fit, asked.history, asked.nowHours, [], asked.gatePpm, stands ? 12 : 0)
        : followed.forecast,
    [atRest, model, asked, followed, stands],
  );
  const onPen = (half: number) => (half * room.scale) / 0.5;
  const basePpm = batch.leach?.basePpm ?? still?.basePpm ?? 0;
  const startMs = batch.leach ? Date.parse(batch.leach.startedAt) : nowMs;
  const charted = batch.leach !== null || batch.state === 'rinsed' || batch.state === 'bag';
  const head = headline(batch, forecast, model, startMs, nowMs, zone, onPen, still?.stillNowL ?? null);
  const nextInHours = batch.ready ? undefined : followed.plan.changes[0]?.inHours;
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
                  <b>Ready when a soak goes flat under {ppmText(batch.values.gatePpm)}</b>
                  <br />
                  {head.range}
                </p>
              </figcaption>
            </LeachChart>
          ) : (
            <Uncharted batch={batch} />
          )}
        </div>
        <div className="right">
          <ClayNow {...props} />
          {ways && (
            <section className="sheet ways" aria-label="Ways to the gate">
              <WaysCard batch={batch} ways={ways} onPen={onPen} usedL={usedSoFar(batch)} days={asked.nowHours / 24} />
            </section>
          )}
          {batch.pots.length > 0 && !ways && charted && (
            <section className="sheet p-3" aria-label="Pots in it">
              <PotsInIt batch={batch} />
            </section>
          )}
        </div>
      </section>
    </>
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
  const flat = model.standing.flat;
  const flatWords = `${ppmText(onPen(flat.mean))} (${ppmText(onPen(flat.low))} to ${ppmText(onPen(flat.high))}) over the base`;
  const done = (title: string, when: string, range: string): Head => ({
    title,
    when,
    range,
    summary: `${title} ${when} ${range}`,
  });
  if (batch.ready)
    return done('Ready', batch.leach?.drainedAt ? 'and drained' : 'now', `Its last water goes flat at ${flatWords}.`);
  if (batch.leach?.drainedAt)
    return done('Not ready,', 'and drained', `Its last water would have gone flat at ${flatWords}.`);
  if (ready.changes === undefined || ready.atHours === undefined)
    return done('Not within four weeks', 'this way', 'Choose another way, or give it more water.');
  const when = dayWords(at(ready.atHours), nowMs, zone);
  const earliest = ready.earliestHours === undefined ? when : dayWords(at(ready.earliestHours), nowMs, zone);
  const latest = ready.latestHours === undefined ? undefined : dayWords(at(ready.latestHours), nowMs, zone);
  const range =
    earliest === latest
      ? `Nine times in ten ${latest}, if it is changed as planned`
      : `${upperFirst(earliest)} at the earliest, ${latest === undefined ? 'how late nobody can say yet' : `${latest} at the latest`}`;
  const water = ready.litres
    ? ` They take ${litres(ready.litres)}${stillL === null ? '' : stillL >= ready.litres ? ` of the ${litres(stillL)} still water there is` : `; ${litres(stillL)} still water is there now`}.`
    : '';
  const title =
    ready.changes === 0
      ? 'This water may do,'
      : `Ready in ${ready.changes} ${batch.leach ? 'more ' : ''}change${ready.changes === 1 ? '' : 's'},`;
  return done(title, `about ${when}`, `${range}.${water}`);
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
