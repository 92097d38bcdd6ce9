import { useQuery } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import Button from 'react-bootstrap/Button';
import Dropdown from 'react-bootstrap/Dropdown';
import { Link, useSearchParams } from 'react-router';
import type { ClayBatchView, ClayRoom } from '../../contract/clay.ts';
import { BRIM_PER_CLAY, forecastLeach, type LeachForecast } from '../../core/clay/index.ts';
import type { PotView } from '../../contract/pots.ts';
import { get } from '../shell/api.ts';
import { Icon } from '../drawing/icon.tsx';
import { dayMonthYear, litres, ppmText } from '../shell/format.ts';
import { Empty, Failed, Loading } from '../shell/states.tsx';
import { useServerNow } from '../shell/use-server-now.ts';
import { useShell } from '../shell/use-shell.ts';
import { BatchForm } from './batch-form.tsx';
import { BatchSwitcher } from './batch-switcher.tsx';
import { ClayNow } from './clay-now.tsx';
import { clayQuery } from './clay-query.ts';
import { capital, dayWords, grainWords, stateWords } from './clay-words.ts';
import { HoldDialog, type HeldPot } from './hold-dialog.tsx';
import { leachOf, leachQuestion, wayForecast, type Leach } from './leach.ts';
import { LeachChart } from './leach-chart.tsx';
import { LifeSteps } from './life-steps.tsx';
import { NeverLeached } from './never-leached.tsx';
import { PlanHolds } from './plan-holds.tsx';
import { useClayAct } from './send-clay.ts';
import { SoakLog } from './soak-log.tsx';
import { useWays } from './use-ways.ts';
import { WaysCard } from './ways-card.tsx';

/** Clay: preparing medium, pots whose clay was never leached, potting up. */
export function ClayPage() {
  const room = useQuery(clayQuery);
  const shell = useShell();
  if (room.isPending || !shell.data) return <Loading what="the clay" />;
  if (!room.data) return <Failed error={room.error} retry={() => void room.refetch()} />;
  return <Clay room={room.data} zone={shell.data.zone} />;
}

/** Batches that stand side by side in the header; older ones are in the menu beside them. */
const SIDE_BY_SIDE = 4;

/** The batch that wants something: soaking before rinsed before the newest. */
function firstChoice(batches: readonly ClayBatchView[]): ClayBatchView | undefined {
  const order = ['soaking', 'rinsed', 'bag', 'ready', 'drained'];
  const rank = (b: ClayBatchView) => (order.indexOf(b.state) + 1 || 9) + (b.retiredOn ? 20 : 0);
  return [...batches].sort((a, b) => rank(a) - rank(b))[0];
}

function Clay({ room, zone }: { room: ClayRoom; zone: string }) {
  const [params, setParams] = useSearchParams();
  const [form, setForm] = useState<{ existing?: ClayBatchView; name?: string }>();
  const [showGone, setShowGone] = useState(false);
  const [planning, setPlanning] = useState<string>();
  const set = (changes: Record<string, string | null>) => {
    const next = new URLSearchParams(params);
    for (const [key, value] of Object.entries(changes)) {
      if (value === null) next.delete(key);
      else next.set(key, value);
    }
    setParams(next, { replace: true });
  };
  const chosen = room.batches.find((b) => b.id === params.get('batch')) ?? firstChoice(room.batches);
  const kept = room.batches.filter((b) => b.retiredOn === null || showGone || b.id === chosen?.id);
  const shown = kept.filter((b, i) => i < SIDE_BY_SIDE || b.id === chosen?.id);
  const older = kept.filter((b) => !shown.includes(b));
  const gone = room.batches.length - room.batches.filter((b) => b.retiredOn === null).length;
  const heldId = params.get('hold');
  // Any pot may be checked: one that is not listed is asked for.
  const listed = heldId ? heldPotOf(room, heldId) : undefined;
  const asked = useQuery({ queryKey: ['pot', heldId], queryFn: () => get<PotView>(`/api/pots/${heldId}`), enabled: heldId !== null && !listed });
  const held = listed ?? (heldId !== null && asked.data ? heldPotFrom(asked.data) : undefined);
  const planned = room.unleached.find((p) => p.potId === planning);
  return (
    <div className="page clay-page">
      <header>
        <div className="min-0">
          <h1>Clay</h1>
          <div className="small">{chosen ? aboutOf(chosen) : 'From the bag to the pots: rinsed, leached until it reads low, potted up'}</div>
        </div>
        <div className="push d-flex gap-2 align-items-center min-0">
          {chosen && <BatchSwitcher batches={shown} chosenId={chosen.id} choose={(id) => set({ batch: id })} />}
          <Dropdown align="end">
            <Dropdown.Toggle size="sm" variant="outline-secondary" aria-label="More about clay">
              <Icon name="plus" />
            </Dropdown.Toggle>
            <Dropdown.Menu>
              <Dropdown.Item as="button" onClick={() => setForm({})}>
                Open a new bag
              </Dropdown.Item>
              <Dropdown.Item as={Link} to={`/clay/pot-up${chosen?.ready ? `?clay=${chosen.id}` : ''}`}>
                Pot something up
              </Dropdown.Item>
              {older.length > 0 && <Dropdown.Divider />}
              {older.map((b) => (
                <Dropdown.Item as="button" key={b.id} onClick={() => set({ batch: b.id })}>
                  {capital(b.values.name)}, {stateWords(b)}
                </Dropdown.Item>
              ))}
              {gone > 0 && (
                <Dropdown.Item as="button" onClick={() => setShowGone(!showGone)}>
                  {showGone ? 'Hide' : 'Show'} the {gone} put away
                </Dropdown.Item>
              )}
              {room.named.map((n) => (
                <Dropdown.Item as="button" key={n.name} onClick={() => setForm({ name: n.name })}>
                  Keep {n.name}, named on {n.pots} pot{n.pots === 1 ? '' : 's'}
                </Dropdown.Item>
              ))}
            </Dropdown.Menu>
          </Dropdown>
        </div>
      </header>
      {chosen ? (
        <Batch
          key={chosen.id}
          room={room}
          batch={chosen}
          zone={zone}
          edit={() => setForm({ existing: chosen })}
          quiet={held !== undefined || form !== undefined}
        />
      ) : (
        <Empty title="No clay kept yet">
          <p>
            New clay gives its minerals to the first waters it meets. Open a bag here, and its soaks are read, foreseen and counted until it is fit to plant.
          </p>
          <Button onClick={() => setForm({})}>Open a new bag</Button>
          {room.named.length > 0 && (
            <p className="small mt-3 mb-0">Your pots name {room.named.map((n) => n.name).join(', ')}: keep them too, to say which were never leached.</p>
          )}
        </Empty>
      )}
      <NeverLeached room={room} open={(id) => set({ hold: id })} plan={setPlanning} />
      {form && (
        <BatchForm
          room={room}
          {...form}
          onClose={(id) => {
            setForm(undefined);
            if (id) set({ batch: id });
          }}
        />
      )}
      {held && <HoldDialog room={room} pot={held} known={room.unleached.find((p) => p.potId === held.id)} onClose={() => set({ hold: null })} />}
      {planned && <PlanHolds room={room} pot={planned} onClose={() => setPlanning(undefined)} />}
    </div>
  );
}

/** The pot an address asks to hold: one of the list, or one that is held. */
function heldPotOf(room: ClayRoom, potId: string): HeldPot | undefined {
  const listed = room.unleached.find((p) => p.potId === potId);
  if (listed) return { id: potId, code: listed.code, name: listed.name, waterL: listed.waterL };
  const running = room.holds.find((h) => h.potId === potId);
  return running && { id: potId, code: running.code, name: running.name, waterL: running.waterL };
}

function heldPotFrom({ pot, values }: PotView): HeldPot {
  const clayL = values.clayL ?? (values.reservoirMl * 5) / 1000;
  return { id: pot.id, code: pot.code, name: pot.name, waterL: values.brimMl === null ? clayL * BRIM_PER_CLAY : values.brimMl / 1000 };
}

function aboutOf({ values, usedL }: ClayBatchView): string {
  return [
    capital(values.name),
    grainWords(values),
    `${litres(values.volumeL)} bag`,
    values.openedOn ? `opened ${dayMonthYear(values.openedOn)}` : '',
    usedL > 0 ? `${litres(usedL)} potted up` : '',
  ]
    .filter(Boolean)
    .join(' · ');
}

function Batch({ room, batch, zone, edit, quiet }: { room: ClayRoom; batch: ClayBatchView; zone: string; edit(): void; quiet: boolean }) {
  const [asTable, setAsTable] = useState(false);
  const { send } = useClayAct();
  const ticking = useServerNow(true);
  // The minute is enough: the model need not run every second.
  const nowMs = Math.max(Date.parse(room.now), Math.floor(ticking / 60_000) * 60_000);
  const still = room.waters.find((w) => w.id === batch.soak?.waterId) ?? room.waters.find((w) => w.kind === 'still');
  const asked = useMemo(
    () => leachQuestion(batch, nowMs, room.scale, still?.stillNowL != null ? { nowL: still.stillNowL, perDayL: still.perDayL ?? 0 } : null),
    [batch, nowMs, room.scale, still?.stillNowL, still?.perDayL],
  );
  const leach = useMemo(() => leachOf(asked), [asked]);
  const ways = useWays(batch.retiredOn === null && (batch.state === 'soaking' || batch.state === 'rinsed' || batch.state === 'bag') ? asked : undefined);
  const followed = useMemo(() => wayForecast(leach, batch.values.way), [leach, batch.values.way]);
  const atRest = batch.soak?.drainedAt != null || batch.ready;
  const stands = batch.soak !== null && batch.soak.drainedAt === null;
  const forecast = useMemo<LeachForecast>(
    () => (atRest ? forecastLeach(leach.fit, asked.history, asked.nowHours, [], asked.gatePpm, stands ? 12 : 0) : followed.forecast),
    [atRest, leach, asked, followed, stands],
  );
  const onPen = (half: number) => (half * room.scale) / 0.5;
  const basePpm = batch.soak?.basePpm ?? still?.basePpm ?? 0;
  const startMs = batch.soak ? Date.parse(batch.soak.startedAt) : nowMs;
  const charted = batch.soak !== null || batch.state === 'rinsed' || batch.state === 'bag';
  const head = headline(batch, forecast, leach, startMs, nowMs, zone, onPen, still?.stillNowL ?? null);
  const nextInHours = batch.ready ? undefined : followed.plan.changes[0]?.inHours;
  const props = { room, batch, leach, forecast, nowMs, zone, onPen, nextInHours, keys: !quiet };
  return (
    <>
      <LifeSteps
        batch={batch}
        leach={leach}
        forecast={forecast}
        startMs={startMs}
        nowMs={nowMs}
        zone={zone}
        waiting={room.unleached.filter((p) => p.verdict.kind === 'repot').length}
      />
      <section className="cols">
        <div className="sheet plot">
          <div className="plot-head">
            <h2>{charted ? 'What the water takes up' : capital(batch.values.name)}</h2>
            <span className="small">{charted ? 'dots: your readings; line: the fit; dashes: what comes next' : batch.why}</span>
            <span className="push d-flex gap-2">
              <Dropdown align="end">
                <Dropdown.Toggle size="sm" variant="outline-secondary">
                  {capital(batch.values.name)}
                </Dropdown.Toggle>
                <Dropdown.Menu>
                  <Dropdown.Item as="button" onClick={edit}>
                    Change what is written of it
                  </Dropdown.Item>
                  <Dropdown.Item as="button" onClick={() => void send({ kind: 'dried', clayId: batch.id, potId: null }, `${batch.values.name}: dried out`)}>
                    It dried out
                  </Dropdown.Item>
                  {batch.retiredOn === null && (
                    <Dropdown.Item as="button" onClick={() => void send({ kind: 'retire', clayId: batch.id }, `${batch.values.name} put away`)}>
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
            <SoakLog batch={batch} forecast={forecast} shown={(half) => onPen(half) + basePpm} startMs={startMs} zone={zone} />
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
          {batch.pots.length > 0 && !ways && charted && <InPots batch={batch} />}
        </div>
      </section>
    </>
  );
}

/** Water that went on it so far, L. */
function usedSoFar({ soak }: ClayBatchView): number {
  if (!soak) return 0;
  return soak.history.firstL + soak.history.acts.reduce((sum, act) => sum + (act.kind === 'change' ? act.freshL : 0), 0);
}

type Head = { title: string; when: string; range: string; summary: string };

function headline(
  batch: ClayBatchView,
  { ready }: LeachForecast,
  leach: Leach,
  startMs: number,
  nowMs: number,
  zone: string,
  onPen: (half: number) => number,
  stillL: number | null,
): Head {
  const at = (hours: number) => startMs + hours * 3_600_000;
  const flat = leach.standing.flat;
  const flatWords = `${ppmText(onPen(flat.mean))} (${ppmText(onPen(flat.low))} to ${ppmText(onPen(flat.high))}) over the base`;
  const done = (title: string, when: string, range: string): Head => ({ title, when, range, summary: `${title} ${when} ${range}` });
  if (batch.ready) return done('Ready', batch.soak?.drainedAt ? 'and drained' : 'now', `Its last water goes flat at ${flatWords}.`);
  if (batch.soak?.drainedAt) return done('Not ready,', 'and drained', `Its last water would have gone flat at ${flatWords}.`);
  if (ready.changes === undefined || ready.atHours === undefined)
    return done('Not within four weeks', 'this way', 'Choose another way, or give it more water.');
  const when = dayWords(at(ready.atHours), nowMs, zone);
  const earliest = ready.earliestHours === undefined ? when : dayWords(at(ready.earliestHours), nowMs, zone);
  const latest = ready.latestHours === undefined ? undefined : dayWords(at(ready.latestHours), nowMs, zone);
  const range =
    earliest === latest
      ? `Nine times in ten ${latest}, if it is changed as planned`
      : `${capital(earliest)} at the earliest, ${latest === undefined ? 'how late nobody can say yet' : `${latest} at the latest`}`;
  const water = ready.litres
    ? ` They take ${litres(ready.litres)}${stillL === null ? '' : stillL >= ready.litres ? ` of the ${litres(stillL)} still water there is` : `; ${litres(stillL)} still water is there now`}.`
    : '';
  const title = ready.changes === 0 ? 'This water may do,' : `Ready in ${ready.changes} ${batch.soak ? 'more ' : ''}change${ready.changes === 1 ? '' : 's'},`;
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
      {batch.pots.length > 0 && (
        <>
          <h3>Stands in</h3>
          <ul className="in-pots">
            {batch.pots.map((pot) => (
              <li key={pot.id}>
                <Link to={`/pots/${pot.id}`}>{pot.code}</Link> {pot.name}
              </li>
            ))}
          </ul>
        </>
      )}
    </div>
  );
}

function InPots({ batch }: { batch: ClayBatchView }) {
  return (
    <section className="sheet p-3" aria-label="Pots in it">
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
    </section>
  );
}
