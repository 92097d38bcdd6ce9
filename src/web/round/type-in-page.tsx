import type { ReactNode } from 'react';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useRef, useState, type KeyboardEvent } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import { Link } from 'react-router';
import type { RoundAct, RoundActDone, RoundPot, RoundView } from '../../contract/round.ts';
import { newId, OfflineError, ProblemError, request } from '../shell/api.ts';
import { fetchAnew } from '../shell/fetch-anew.ts';
import { inSmallUnit, phText, ppmText, smallSign } from '../shell/format.ts';
import { Empty, Failed, Loading } from '../shell/states.tsx';
import { useDraft } from '../shell/use-draft.ts';
import { roundQuery } from './round-query.ts';
import { actsOf, BLANK_LINE, onSheet, type Line } from './type-in.ts';
import { asksHere, type AskHere, type AsksHere } from './what-is-asked.ts';

/** A printed round typed in: a line a pot, Enter from box to box, and all of it logged with one press. */
export function TypeInPage() {
  const round = useQuery(roundQuery);
  if (round.isPending) return <Loading what="the round" />;
  if (!round.data) return <Failed error={round.error} retry={() => void round.refetch()} />;
  const pots = onSheet(round.data);
  if (pots.length === 0)
    return (
      <Empty title="Nothing to type in">
        <p className="mb-0">
          Every pot of today’s round is done. <Link to="/round">Back to the round</Link>
        </p>
      </Empty>
    );
  return <SheetForm key={round.data.today} view={round.data} pots={pots} />;
}

function SheetForm({ view, pots }: { view: RoundView; pots: readonly RoundPot[] }) {
  const [lines, change, clear] = useDraft<Record<string, Line>>(`typed-sheet:${view.today}`, {});
  const [wrong, setWrong] = useState<Record<string, string>>({});
  const [busy, setBusy] = useState(false);
  const [said, setSaid] = useState('');
  const client = useQueryClient();
  const form = useRef<HTMLFormElement>(null);
  const lineOf = (pot: RoundPot) => lines[pot.id] ?? BLANK_LINE;
  const set = (pot: RoundPot, part: Partial<Line>) => {
    // What is written at a pot says that it was done.
    const wrote = ['left', 'ppm', 'ph', 'fill'].some(
      (name) => part[name as keyof Line] !== undefined && part[name as keyof Line] !== '',
    );
    change({ [pot.id]: { ...lineOf(pot), ...(wrote ? { done: true } : {}), ...part } });
  };
  const ticked = pots.filter((pot) => lineOf(pot).done);

  const enterGoesOn = (event: KeyboardEvent<HTMLInputElement>) => {
    if (event.key !== 'Enter') return;
    event.preventDefault();
    const boxes = [...(form.current?.querySelectorAll<HTMLInputElement>('input.cell') ?? [])];
    boxes[boxes.indexOf(event.currentTarget) + 1]?.focus();
  };

  const log = async () => {
    setBusy(true);
    setSaid('');
    const refused: Record<string, string> = {};
    let logged = 0;
    for (const pot of ticked) {
      const typed = actsOf(lineOf(pot), pot, view);
      if (!typed.ok) {
        refused[pot.id] = Object.values(typed.errors).find(Boolean) ?? 'Look at this line again.';
        continue;
      }
      try {
        for (const act of typed.acts) await send(act);
        logged++;
      } catch (error) {
        if (error instanceof ProblemError)
          refused[pot.id] =
            error.problem.code === 'already-logged'
              ? 'Already logged, perhaps on the other device. Nothing was logged twice.'
              : error.problem.detail;
        else if (error instanceof OfflineError)
          refused[pot.id] = 'The server does not answer. What is typed is kept; log it when it is back.';
        else throw error;
      }
    }
    setWrong(refused);
    setSaid(
      `${logged} pot${logged === 1 ? '' : 's'} logged${Object.keys(refused).length > 0 ? `, ${Object.keys(refused).length} still to look at` : ''}.`,
    );
    if (Object.keys(refused).length === 0 && ticked.length === pots.length) clear();
    await fetchAnew(client);
    setBusy(false);
  };

  return (
    <div className="page type-in">
      <header>
        <div>
          <h1>Type the sheet in</h1>
          <div className="small">
            A line a pot; what is left empty was not measured. Whatever is written ticks its pot. Enter goes from box to
            box.
          </div>
        </div>
        <Link className="btn btn-outline-secondary push" to="/round/print">
          The sheet
        </Link>
      </header>
      <Form
        ref={form}
        className="sheet p-3"
        noValidate
        onSubmit={(e) => {
          e.preventDefault();
          void log();
        }}
      >
        <div className="table-scroll">
          <table className="table table-sm align-middle">
            <thead>
              <tr>
                <th>Done</th>
                <th>Pot</th>
                <th>Old ppm</th>
                <th>Old pH</th>
                <th>Left, {smallSign()}</th>
                <th>Filled, {smallSign()}</th>
                <th>Seen</th>
              </tr>
            </thead>
            <tbody>
              {pots.map((pot) => {
                const line = lineOf(pot);
                const cell = (name: 'ppm' | 'ph' | 'left' | 'fill', label: string, quiet: string) => (
                  <td>
                    <input
                      className="form-control form-control-sm cell"
                      inputMode="decimal"
                      autoComplete="off"
                      aria-label={`${pot.code}, ${label}`}
                      placeholder={quiet}
                      value={line[name]}
                      aria-invalid={Boolean(wrong[pot.id])}
                      onKeyDown={enterGoesOn}
                      onChange={(e) => set(pot, { [name]: e.target.value })}
                    />
                  </td>
                );
                const tick = (name: 'crust' | 'tips', words: string) => (
                  <Form.Check
                    inline
                    type="checkbox"
                    id={`${pot.id}-${name}`}
                    label={words}
                    aria-label={`${pot.code}, ${words}`}
                    checked={line[name]}
                    onChange={(e) => set(pot, { [name]: e.target.checked, done: true })}
                  />
                );
                const asks = asksHere(pot, view.reading, line);
                return <SheetLine key={pot.id} {...{ pot, line, set, wrong, cell, tick, asks }} />;
              })}
            </tbody>
          </table>
        </div>
        <div className="d-flex gap-3 align-items-center">
          <Button type="submit" size="lg" disabled={busy || ticked.length === 0}>
            {busy ? 'Logging …' : `Log ${ticked.length} pot${ticked.length === 1 ? '' : 's'}`}
          </Button>
          <span role="status">{said}</span>
        </div>
      </Form>
    </div>
  );
}

function SheetLine({
  pot,
  line,
  set,
  wrong,
  cell,
  tick,
  asks,
}: {
  asks: AsksHere | undefined;
  pot: RoundPot;
  line: Line;
  set: (pot: RoundPot, part: Partial<Line>) => void;
  wrong: Record<string, string>;
  cell: (name: 'ph' | 'left' | 'ppm' | 'fill', label: string, quiet: string) => ReactNode;
  tick: (name: 'tips' | 'crust', words: string) => ReactNode;
}) {
  return (
    <tr>
      <td>
        <Form.Check
          type="checkbox"
          aria-label={`${pot.code} done`}
          checked={line.done}
          onChange={(e) => set(pot, { done: e.target.checked })}
        />
      </td>
      <th scope="row">
        {pot.code} {pot.name}
        {pot.soak && !pot.soak.given && (
          <Form.Check
            type="checkbox"
            id={`${pot.id}-soaked`}
            className="fw-normal small"
            label={pot.soak.way === 'spray' ? 'sprayed' : 'soaked'}
            aria-label={`${pot.code} ${pot.soak.way === 'spray' ? 'sprayed' : 'soaked'}`}
            checked={line.soaked}
            onChange={(e) => set(pot, { soaked: e.target.checked })}
          />
        )}
        {wrong[pot.id] && (
          <div className="field-error" role="alert">
            {wrong[pot.id]}
          </div>
        )}
      </th>
      {cell('ppm', 'old ppm', quiet(asks?.ppm, pot.expected.ppm, ppmText))}
      {cell('ph', 'old pH', quiet(asks?.ph, pot.expected.ph, phText))}
      {cell('left', 'left', '')}
      {cell('fill', 'filled', inSmallUnit(pot.fillMl))}
      <td className="nowrap">
        {tick('crust', 'crust')}
        {tick('tips', 'brown tips')}
      </td>
    </tr>
  );
}

/** What stands in a box that nothing was typed in. */
function quiet(ask: AskHere | undefined, expected: number | undefined, text: (value: number) => string): string {
  const words = expected === undefined ? '' : text(expected);
  if (!ask) return words;
  return `${ask.is === 'asked' ? 'asked' : 'leave'}${words && `, ${words}`}`;
}

/** One act, at once: a sheet is typed in where the server is. A soak that was typed in is over, and is drained with it. */
async function send(act: RoundAct): Promise<void> {
  const id = newId();
  await request<RoundActDone>('PUT', `/api/round/acts/${id}`, act);
  if (act.kind === 'supplement' && act.way === 'soak')
    await request<RoundActDone>('PUT', `/api/round/acts/${newId()}`, {
      kind: 'drained',
      potId: act.potId,
      supplementId: id,
    });
}
