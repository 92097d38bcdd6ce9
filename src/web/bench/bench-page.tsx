import { useState } from 'react';
import { useQuery } from '@tanstack/react-query';
import Button from 'react-bootstrap/Button';
import Table from 'react-bootstrap/Table';
import { Link } from 'react-router';
import type { BatchView } from '../../contract/bench.ts';
import type { BatchListItem, BenchList } from '../../contract/bench-list.ts';
import type { ManyDone } from '../../contract/common.ts';
import { daysBetween } from '../../core/regimen/index.ts';
import { MixCard, roundQuery } from '../round/index.ts';
import { useActs } from '../shell/acts.tsx';
import { get, newId, ProblemError } from '../shell/api.ts';
import { dayMonth, litres, mL, phText, ppmText, whenText } from '../shell/format.ts';
import { Empty, Failed, Loading } from '../shell/states.tsx';
import { useShell } from '../shell/use-shell.ts';

const STATUS: Record<BatchView['status'], string> = { open: 'being made', poured: 'ready', abandoned: 'thrown out' };

/** "ready, until 2 Dec", "used up", "past its day". */
function stateWords(b: BatchListItem, today: string): string {
  if (b.status !== 'poured') return STATUS[b.status];
  if (b.leftMl < 20) return 'used up';
  if (b.keepsUntil === null) return STATUS.poured;
  return b.keepsUntil < today ? `past ${dayMonth(b.keepsUntil)}` : `ready, until ${dayMonth(b.keepsUntil)}`;
}

/** What is left of mixes that were made, how old it is, and until when it may be used. */
function LeftOver({ batches, pastDay, today }: BenchList & { today: string }) {
  const left = batches.filter(hasLeft);
  // Past their day they are told one by one while they are few.
  const many = (pastDay?.ids.length ?? 0) > FEW_PAST;
  const shown = many ? left.filter((b) => !pastDay!.ids.includes(b.id)) : left;
  if (left.length === 0 && !many) return null;
  return (
    <section aria-label="Left over">
      <h2>Left over</h2>
      <ul className="sheet bench-left">
        {shown.map((b) => (
          <li key={b.id}>
            <Link to={`/bench/${b.id}`}>{b.name}</Link>
            <span>
              <b className="num">{mL(b.leftMl)}</b>
              {b.readsPpm !== null && ` at ${ppmText(b.readsPpm)} ppm`}
            </span>
            <span className="small">{ageWords(b, today)}</span>
          </li>
        ))}
        {many && <PastDay pastDay={pastDay!} today={today} />}
      </ul>
    </section>
  );
}
const FEW_PAST = 2;
const hasLeft = (b: BatchListItem) => b.status === 'poured' && b.leftMl >= 20;

/** Leftovers nobody said a word of since: one line, and one act that says they are gone. */
function PastDay({
  pastDay: { ids, ml, sinceOn },
  today,
}: {
  pastDay: NonNullable<BenchList['pastDay']>;
  today: string;
}) {
  const { put, say } = useActs();
  const [busy, setBusy] = useState(false);
  const out = async () => {
    if (busy) return;
    setBusy(true);
    const id = newId();
    const words = `${ids.length} leftovers poured out`;
    const leftovers = ids.map((batchId) => ({ eventId: newId(), batchId }));
    try {
      const sent = await put<ManyDone>({
        ...{ id, url: `/api/bench/leftovers/${id}`, body: { leftovers, to: '' }, words },
        subjects: ids,
      });
      if (sent.kind === 'waiting') say(`${words}, kept here until the server answers`, { id, lines: [id] });
      else if (sent.value.loggedIds.length === 0) say('They were poured out already, on another device');
      else say(`${sent.value.loggedIds.length} leftovers poured out`, { id, lines: sent.value.loggedIds });
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      say(error.problem.detail);
    } finally {
      setBusy(false);
    }
  };
  return (
    <li>
      <span>{ids.length} more past their day</span>
      <span>
        <b className="num">{litres(ml / 1000)}</b> in all
      </span>
      <span className="small">the oldest {whenMade(sinceOn, today)}; nobody said where they went</span>
      <Button variant="outline-secondary" size="sm" className="push" aria-disabled={busy} onClick={() => void out()}>
        All poured out
      </Button>
    </li>
  );
}
const whenMade = (on: string, today: string) =>
  on.slice(0, 4) === today.slice(0, 4) ? `of ${dayMonth(on)}` : `of ${dayMonth(on)} ${on.slice(0, 4)}`;

function ageWords({ startedOn, keepsUntil }: BatchListItem, today: string): string {
  const age = daysBetween(startedOn, today);
  const old = age === 0 ? 'made today' : age === 1 ? 'a day old' : `${age} days old`;
  if (keepsUntil === null) return old;
  return `${old}, ${keepsUntil < today ? 'past' : 'to be used by'} ${dayMonth(keepsUntil)}`;
}

/** Bench: what is wanted today, what is being made, what is left, and then what was made lately. */
export function BenchPage() {
  const shell = useShell();
  const round = useQuery(roundQuery);
  const list = useQuery({
    queryKey: ['batches'],
    queryFn: () => get<BenchList>('/api/bench/batches'),
  });
  if (list.isPending) return <Loading what="the bench" />;
  if (!list.data) return <Failed error={list.error} retry={() => void list.refetch()} />;
  const { batches } = list.data;
  const open = batches.filter((b) => b.status === 'open');
  const left = batches.filter(hasLeft).filter((b) => !list.data.pastDay?.ids.includes(b.id)).length;
  const past = list.data.pastDay?.ids.length ?? 0;
  const today = shell.data?.today ?? '';
  const wanted = round.data?.mixes.filter((m) => !m.noMixing && m.potsLeft > 0 && m.batch?.status !== 'open') ?? [];
  return (
    <div className="page bench-list">
      <header>
        <div>
          <h1>Bench</h1>
          <div className="small">
            {open.length ? `${open.length} being made` : 'Nothing is being made'} ·{' '}
            {left ? `${left} with something left` : past ? 'nothing left that keeps' : 'nothing left over'}
          </div>
        </div>
        <Link className="btn btn-outline-secondary push" to="/bench/recipes">
          Recipes
        </Link>
        <Link className="btn btn-outline-secondary" to="/bench/practice">
          Practise
        </Link>
        <Link className="btn btn-primary" to="/bench/new">
          Start a batch
        </Link>
      </header>
      {batches.length === 0 && (
        <Empty title="The bench is clear">
          <p className="mb-0">
            Start a batch from the round, or freely here. The bench coaches it to strength portion by portion.
          </p>
        </Empty>
      )}
      {open.map((b) => (
        <section key={b.id} className="now flex-row align-items-center">
          <div>
            <div className="num fs-4">{b.name}</div>
            <small>
              {litres(b.volumeL)} · started {whenText(b.startedOn, b.time, today)}
              {b.openDays > 0
                ? ` · standing for ${b.openDays === 1 ? 'a day' : `${b.openDays} days`}: read it again before you go on`
                : ' · everything typed is kept'}
            </small>
          </div>
          <Link className="btn btn-clay push" to={`/bench/${b.id}`}>
            Carry on
          </Link>
        </section>
      ))}
      {wanted.length > 0 && (
        <section aria-label="Wanted today">
          <h2>Wanted today</h2>
          <div className="bench-wanted">
            {wanted.map((m, n) => (
              <MixCard key={m.key} mix={m} tone={n} />
            ))}
          </div>
        </section>
      )}
      <LeftOver {...list.data} today={today} />
      {batches.length > 0 && (
        <section className="sheet batch-table" aria-label="Made lately">
          <Table hover responsive className="mb-0">
            <caption className="visually-hidden">Batches, newest first</caption>
            <thead>
              <tr>
                <th scope="col">When</th>
                <th scope="col">Batch</th>
                <th scope="col" className="text-end">
                  Made
                </th>
                <th scope="col" className="text-end">
                  Reads
                </th>
                <th scope="col" className="text-end">
                  pH
                </th>
                <th scope="col" className="text-end">
                  Left
                </th>
                <th scope="col">State</th>
              </tr>
            </thead>
            <tbody>
              {batches.map((b) => (
                <tr key={b.id}>
                  <td className="nowrap">{whenText(b.startedOn, b.time, today)}</td>
                  <td>
                    <Link to={`/bench/${b.id}`}>{b.name}</Link>
                  </td>
                  <td className="text-end num">{litres(b.volumeL)}</td>
                  <td className="text-end">
                    {b.readsPpm === null ? (
                      '—'
                    ) : (
                      <span className="nowrap">
                        <b className="num">{ppmText(b.readsPpm)}</b> ppm
                      </span>
                    )}
                  </td>
                  <td className="text-end num">{b.ph === null ? '—' : phText(b.ph)}</td>
                  <td className="text-end nowrap">{b.status === 'poured' && b.leftMl >= 20 ? mL(b.leftMl) : '—'}</td>
                  <td>{stateWords(b, today)}</td>
                </tr>
              ))}
            </tbody>
          </Table>
        </section>
      )}
    </div>
  );
}
