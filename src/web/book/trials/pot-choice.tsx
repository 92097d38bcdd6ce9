import type { PotsView } from '../../../contract/pots.ts';

/** Pots by place: a place at one tap, or each by itself. */
export function PotChoice({
  view,
  chosen,
  choose,
  error,
}: {
  view: PotsView;
  chosen: readonly string[];
  choose(ids: readonly string[]): void;
  error: string | undefined;
}) {
  const has = new Set(chosen);
  const toggle = (ids: readonly string[], on: boolean) =>
    choose(on ? [...new Set([...chosen, ...ids])] : chosen.filter((id) => !ids.includes(id)));
  return (
    <fieldset className="wide pot-choice">
      <legend>
        Pots <span className="small">{chosen.length} chosen</span>
      </legend>
      {view.places.map((place) => {
        const ids = place.pots.map(({ id }) => id);
        const all = ids.every((id) => has.has(id));
        return (
          <div key={place.id} className="place">
            <button type="button" className="btn btn-link btn-sm p-0" onClick={() => toggle(ids, !all)}>
              {all ? `None of ${place.name}` : `All of ${place.name}`}
            </button>
            <div className="codes">
              {place.pots.map(({ id, code, name }) => (
                <button
                  key={id}
                  type="button"
                  className="pot-toggle"
                  aria-pressed={has.has(id)}
                  title={name}
                  onClick={() => toggle([id], !has.has(id))}
                >
                  {code}
                </button>
              ))}
            </div>
          </div>
        );
      })}
      {error && (
        <div className="field-error" role="alert">
          {error}
        </div>
      )}
    </fieldset>
  );
}
