import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import { useSearchParams } from 'react-router';
import type { LogChoices } from '../../../contract/log.ts';
import { TURN_MEASURES, type Turn } from '../../../contract/turns.ts';
import { plusDays } from '../../../core/regimen/index.ts';
import { Icon } from '../../drawing/icon.tsx';
import { get } from '../../shell/api.ts';
import { dayMonthYear } from '../../shell/format.ts';
import { Empty, Failed, Loading } from '../../shell/states.tsx';
import { useAct } from '../../shell/use-act.ts';
import { BookTabs } from '../book-tabs.tsx';
import { FoundTable } from './found-table.tsx';
import { TurnForm } from './turn-form.tsx';
import { TURN_ICON } from './turn-words.ts';
import { TurnsBody, USUAL_SPAN, WeeksEitherSide } from './turns-card.tsx';
import { telling, useCompared, useTurns } from './use-turns.ts';

const YEARS = [1, 2, 5] as const;
const A_YEAR_DAYS = 364;

/** Everything that was changed, for all pots or some, and what the weeks either side were like. */
export function TurnsPage() {
  const [params, setParams] = useSearchParams();
  const set = (some: Record<string, string>) =>
    setParams(
      (before) => {
        const next = new URLSearchParams(before);
        for (const [key, value] of Object.entries(some)) {
          if (value) next.set(key, value);
          else next.delete(key);
        }
        return next;
      },
      { replace: true },
    );
  const of = (key: string) => params.get(key) ?? undefined;
  const which = { pot: of('pot'), place: of('place') };
  const turns = useTurns({ ...which, from: of('from') });
  const [withHidden, setWithHidden] = useState(false);
  const [naming, setNaming] = useState<Turn>();
  const view = turns.data;
  const shown = (view?.turns ?? []).filter(({ hidden, on }) => (withHidden || !hidden) && on >= view!.from);
  const chosen = shown.find(({ id }) => id === (of('turn') ?? (view && telling(view))));
  const weeks = Number(of('weeks') ?? USUAL_SPAN);
  const compared = useCompared(chosen?.id, weeks, which);
  if (turns.isPending) return <Loading what="what was changed" />;
  if (!view) return <Failed error={turns.error} retry={() => void turns.refetch()} />;
  const hidden = view.turns.filter((turn) => turn.hidden).length;
  return (
    <div className="page turns-page">
      <header>
        <div>
          <h1>Book</h1>
          <div className="small">What was changed, and what followed</div>
        </div>
        <BookTabs />
      </header>
      {view.since === null ? (
        <Empty title="Nothing was watered yet">
          <p className="mb-0">
            A new regimen, feed, water, clay, pen, place or treatment shows here by itself, with the weeks around it.
          </p>
        </Empty>
      ) : (
        <>
          <section className="sheet turns" aria-label="What I changed, and what followed">
            <div className="turns-top">
              <Which which={which} change={set} />
              <Form.Select
                size="sm"
                aria-label="How far back"
                className="weeks"
                value={of('from') ?? ''}
                onChange={(e) => set({ from: e.target.value })}
              >
                {YEARS.map((n) => (
                  <option key={n} value={n === 1 ? '' : plusDays(view.today, -A_YEAR_DAYS * n)}>
                    {n === 1 ? 'a year' : `${n} years`}
                  </option>
                ))}
              </Form.Select>
              <WeeksEitherSide weeks={weeks} change={(n) => set({ weeks: String(n) })} />
              {hidden > 0 && (
                <Form.Check
                  type="switch"
                  id="with-hidden"
                  label={`${hidden} hidden`}
                  checked={withHidden}
                  onChange={(e) => setWithHidden(e.target.checked)}
                />
              )}
            </div>
            <TurnsBody
              view={view}
              turns={shown}
              chosen={chosen}
              weeks={weeks}
              choose={(id) => set({ turn: id })}
              lanes={TURN_MEASURES}
              which={which}
            />
            {compared.data && compared.data.turn.id === chosen?.id && <FoundTable compared={compared.data} />}
          </section>
          <TurnList turns={shown} chosen={chosen} choose={(id) => set({ turn: id })} name={setNaming} />
        </>
      )}
      {naming && (
        <TurnForm
          turn={naming}
          others={shown.filter(({ id }) => id !== naming.id)}
          onClose={() => setNaming(undefined)}
        />
      )}
    </div>
  );
}

function Which({
  which,
  change,
}: {
  which: { pot?: string | undefined; place?: string | undefined };
  change(some: Record<string, string>): void;
}) {
  const choices = useQuery({ queryKey: ['book', 'choices'], queryFn: () => get<LogChoices>('/api/book/choices') });
  const value = which.pot ? `pot:${which.pot}` : which.place ? `place:${which.place}` : '';
  const choose = (asked: string) => {
    const [kind, id = ''] = asked.split(':');
    change({ pot: kind === 'pot' ? id : '', place: kind === 'place' ? id : '' });
  };
  return (
    <Form.Select
      size="sm"
      className="which"
      aria-label="Which pots"
      value={value}
      onChange={(e) => choose(e.target.value)}
    >
      <option value="">all pots</option>
      {(choices.data?.places ?? []).map(({ id, name }) => (
        <option key={id} value={`place:${id}`}>
          {name}
        </option>
      ))}
      {(choices.data?.pots ?? []).map(({ id, code, name }) => (
        <option key={id} value={`pot:${id}`}>
          {code} {name}
        </option>
      ))}
    </Form.Select>
  );
}

/** The turns as a list: the newest first, each can be named, joined, hidden. */
function TurnList({
  turns,
  chosen,
  choose,
  name,
}: {
  turns: readonly Turn[];
  chosen: Turn | undefined;
  choose(id: string): void;
  name(turn: Turn): void;
}) {
  const { send, busy } = useAct('/api/book/turns/marks');
  if (turns.length === 0)
    return (
      <Empty title="Nothing was changed in this time">
        <p className="mb-0">A new regimen, feed, water, clay, pen, place or treatment shows here by itself.</p>
      </Empty>
    );
  return (
    <section className="sheet turn-list" aria-label="Turns">
      <ul>
        {[...turns].reverse().map((turn) => (
          <li key={turn.id} className={turn.id === chosen?.id ? 'chosen' : ''}>
            <span className="nowrap">{dayMonthYear(turn.on)}</span>
            <Icon name={TURN_ICON[turn.kind]} />
            <span className="min-0">
              <button type="button" className="btn btn-link p-0" onClick={() => choose(turn.id)}>
                {turn.title}
              </button>
              <span className="small"> {turn.what.join('. ')}</span>
            </span>
            <span className="acts">
              <Button
                size="sm"
                variant="outline-secondary"
                aria-label={`Name ${turn.title}`}
                onClick={() => name(turn)}
              >
                Name
              </Button>
              {turn.joined.length > 0 && (
                <Button
                  size="sm"
                  variant="outline-secondary"
                  disabled={busy}
                  onClick={() => void send({ id: turn.joined.at(-1), joinedTo: null }, 'Parted')}
                >
                  Part
                </Button>
              )}
              <Button
                size="sm"
                variant="outline-secondary"
                disabled={busy}
                aria-label={`${turn.hidden ? 'Show' : 'Hide'} ${turn.title}`}
                onClick={() => void send({ id: turn.id, hidden: !turn.hidden }, turn.hidden ? 'Shown again' : 'Hidden')}
              >
                {turn.hidden ? 'Show' : 'Hide'}
              </Button>
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
