import { MEDIUM_WORDS, STAGES } from '../../contract/kinds.ts';
import type { PotsView } from '../../contract/pots.ts';
import { PlantFigure } from '../drawing/plant-figure.tsx';
import { countBy, IN_STATE, NO_CLAY, STATES, type PlacedPot, type PotFilter, type State } from './pot-filters.ts';
import { SIGN_WORDS } from './sign-words.ts';
import { StateFigure } from './state-figure.tsx';

type Props = {
  view: PotsView;
  pots: readonly PlacedPot[];
  filter: PotFilter;
  change(edit: (next: URLSearchParams) => void): void;
};

const STATE_WORDS: Readonly<Record<State, { title: string; none: string }>> = {
  thirsty: { title: 'Thirsty', none: 'none by tomorrow' },
  salting: { title: 'Salting up', none: 'none twice running' },
  drifting: { title: 'Drifting', none: 'none past pH 7' },
  due: { title: 'Due today', none: 'none' },
  bloom: { title: 'In bloom', none: 'none' },
};

/** What the collection can be narrowed to; every choice with how many pots it has. All of it stands in the address. */
export function Filters({ view, pots, filter, change }: Props) {
  const toggle = (key: string, value: string, on: boolean) =>
    change((next) => {
      const others = next.getAll(key).filter((v) => v !== value);
      next.delete(key);
      for (const v of on ? [...others, value] : others) next.append(key, v);
    });
  const group = (
    title: string,
    key: string,
    chosen: readonly string[],
    choices: readonly [string, string][],
    counts: Map<string, number>,
  ) => (
    <fieldset>
      <legend>{title}</legend>
      {choices
        .filter(([value]) => counts.get(value) || chosen.includes(value))
        .map(([value, words]) => (
          <label key={value} className="filter">
            <input
              type="checkbox"
              className="form-check-input"
              checked={chosen.includes(value)}
              onChange={(e) => toggle(key, value, e.target.checked)}
            />
            <span>{words}</span>
            <b className="push num">{counts.get(value) ?? 0}</b>
          </label>
        ))}
    </fieldset>
  );
  const stages = countBy(pots, (p) => p.drawing.stage);
  const clays = countBy(pots, (p) => p.clay ?? NO_CLAY);
  const media = countBy(pots, (p) => p.drawing.form);
  return (
    <aside className="sheet filters" aria-label="Filters">
      <div className="states">
        {STATES.map((state) => {
          const here = pots.filter(IN_STATE[state]);
          const on = filter.states.includes(state);
          return (
            <button
              key={state}
              type="button"
              className={`state ${on ? 'on' : ''}`}
              aria-pressed={on}
              onClick={() => toggle('state', state, !on)}
            >
              <StateFigure state={state} />
              <span className="min-0">
                {STATE_WORDS[state].title}{' '}
                <small>{here.length === 0 ? STATE_WORDS[state].none : noteOf(state, here)}</small>
              </span>
              <b className="num">{here.length}</b>
            </button>
          );
        })}
      </div>
      {group(
        'Place',
        'place',
        filter.places,
        view.places.map((p): [string, string] => [p.id, p.name]),
        countBy(pots, (p) => p.placeId),
      )}
      <fieldset>
        <legend>Stage</legend>
        <div className="stages">
          {STAGES.map((stage) => {
            const on = filter.stages.includes(stage);
            return (
              <button
                key={stage}
                type="button"
                className={on ? 'on' : ''}
                aria-pressed={on}
                onClick={() => toggle('stage', stage, !on)}
              >
                <svg viewBox="8 0 48 40" aria-hidden>
                  <PlantFigure stage={stage} bold />
                </svg>
                <b className="num">{stages.get(stage) ?? 0}</b>
                {stage}
              </button>
            );
          })}
        </div>
      </fieldset>
      {group(
        'Regimen',
        'regimen',
        filter.regimens,
        view.regimens.map((r): [string, string] => [r.id, r.values.name]),
        countBy(pots, (p) => p.regimenId),
      )}
      {group(
        'Clay batch',
        'clay',
        filter.clays,
        [...clays.keys()]
          .sort((a, b) => a.localeCompare(b, 'en', { numeric: true }))
          .map((c): [string, string] => [c, c]),
        clays,
      )}
      {media.size > 1 && group('Medium', 'medium', filter.media, Object.entries(MEDIUM_WORDS), media)}
    </aside>
  );
}

/** Who of them, in a few words. */
function noteOf(state: State, pots: readonly PlacedPot[]): string {
  const codes = (list: readonly PlacedPot[], most: number) =>
    list
      .slice(0, most)
      .map((p) => p.code)
      .join(', ') + (list.length > most ? ' …' : '');
  const worst = [...pots].sort((a, b) => b.stand.trouble - a.stand.trouble);
  if (state === 'thirsty') {
    const early = worst.filter((p) => p.stand.signs.includes('drySoon'));
    return early.length > 0 ? `${early[0]!.code} ${SIGN_WORDS.drySoon.words.replace('dry ', '')}` : codes(worst, 4);
  }
  if (state === 'due') {
    const [late] = [...pots].sort((a, b) => b.due.daysLate - a.due.daysLate);
    return late && late.due.daysLate > 0 ? `${late.code} ${late.due.words}` : codes(pots, 4);
  }
  if (state === 'drifting') return `${worst[0]!.code} stood at ${worst[0]!.stand.phs.at(-1)!.ph.toFixed(1)}`;
  return codes(worst, 4);
}
