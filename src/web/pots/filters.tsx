import { MEDIUM_WORDS, STAGES } from '../../contract/kinds.ts';
import type { PotsView } from '../../contract/pots.ts';
import { countBy, type PlacedPot, type PotFilter } from './pot-filters.ts';

type Props = { view: PotsView; pots: readonly PlacedPot[]; filter: PotFilter; change(edit: (next: URLSearchParams) => void): void };

/** What the collection can be narrowed to; every choice with how many pots it has. All of it stands in the address. */
export function Filters({ view, pots, filter, change }: Props) {
  const toggle = (key: string, value: string, on: boolean) =>
    change((next) => {
      const others = next.getAll(key).filter((v) => v !== value);
      next.delete(key);
      for (const v of on ? [...others, value] : others) next.append(key, v);
    });
  const group = (title: string, key: string, chosen: readonly string[], choices: readonly [string, string][], counts: Map<string, number>) => (
    <fieldset>
      <legend>{title}</legend>
      {choices
        .filter(([value]) => counts.get(value) || chosen.includes(value))
        .map(([value, words]) => (
          <label key={value} className="filter">
            <input type="checkbox" className="form-check-input" checked={chosen.includes(value)} onChange={(e) => toggle(key, value, e.target.checked)} />
            <span>{words}</span>
            <b className="push num">{counts.get(value) ?? 0}</b>
          </label>
        ))}
    </fieldset>
  );
  const due = pots.filter((p) => p.due.daysLate >= 0).length;
  return (
    <aside className="sheet filters" aria-label="Filters">
      <label className="filter strong">
        <input
          type="checkbox"
          className="form-check-input"
          checked={filter.due}
          onChange={(e) => change((next) => (e.target.checked ? next.set('due', 'now') : next.delete('due')))}
        />
        <span>Due today</span>
        <b className="push num">{due}</b>
      </label>
      {group(
        'Place',
        'place',
        filter.places,
        view.places.map((p): [string, string] => [p.id, p.name]),
        countBy(pots, (p) => p.placeId),
      )}
      {group(
        'Stage',
        'stage',
        filter.stages,
        STAGES.map((s): [string, string] => [s, s]),
        countBy(pots, (p) => p.drawing.stage),
      )}
      {group(
        'Regimen',
        'regimen',
        filter.regimens,
        view.regimens.map((r): [string, string] => [r.id, r.values.name]),
        countBy(pots, (p) => p.regimenId),
      )}
      {group(
        'Medium',
        'medium',
        filter.media,
        Object.entries(MEDIUM_WORDS),
        countBy(pots, (p) => p.drawing.form),
      )}
    </aside>
  );
}
