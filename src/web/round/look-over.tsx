import { useState } from 'react';
import { CUE_NAMES, CUES, FIRST_CUES, gradesOf, toneOf, type Cue } from '../../contract/seen.ts';
import { GROWTH } from '../../contract/growth.ts';
import { LOOK_KEYS, type LookDraft, type LookKey } from './read-draft.ts';

type Props = {
  draft: LookDraft;
  change(part: Partial<LookDraft>): void;
  errors?: Partial<Record<'growths' | 'leafMm' | LookKey, string | undefined>>;
};

/** What was seen, by tap: each cue goes through its grades. "All fine" is a look that found nothing, which is not the same as no look. */
export function LookOver({ draft, change, errors = {} }: Props) {
  const [more, setMore] = useState(
    () => draft.note !== '' || CUE_NAMES.some((cue) => draft.cues[cue] && !FIRST_CUES.includes(cue)),
  );
  const wrong = errors.growths ?? errors.leafMm ?? LOOK_KEYS.map((key) => errors[key]).find(Boolean);
  const noted = Object.keys(draft.cues).length > 0;
  const tap = (cue: Cue) => {
    const grades = gradesOf(cue);
    const next = grades[(grades.indexOf(draft.cues[cue] ?? grades[0]!) + 1) % grades.length]!;
    const { [cue]: _old, ...rest } = draft.cues;
    change({ cues: next === grades[0] ? rest : { ...rest, [cue]: next }, looked: true });
  };
  const chip = (cue: Cue) => {
    const grade = draft.cues[cue];
    return (
      <button
        key={cue}
        type="button"
        aria-pressed={grade !== undefined}
        className={grade ? toneOf(cue, grade) : ''}
        onClick={() => tap(cue)}
      >
        {grade ? `${CUES[cue].label} ${grade}` : CUES[cue].label}
      </button>
    );
  };
  return (
    <div className="look" role="group" aria-label="What was seen">
      <button
        type="button"
        aria-pressed={draft.looked && !noted}
        onClick={() => change({ looked: !(draft.looked && !noted), cues: {} })}
      >
        all fine
      </button>
      {FIRST_CUES.map(chip)}
      {more && CUE_NAMES.filter((cue) => !FIRST_CUES.includes(cue)).map(chip)}
      <button type="button" aria-expanded={more} onClick={() => setMore(!more)}>
        {more ? 'fewer' : 'more'}
      </button>
      {more && (
        <div className="look-more">
          <input
            aria-label="Note on how it looks"
            placeholder="a note"
            maxLength={300}
            value={draft.note}
            onChange={(e) => change({ note: e.target.value, looked: true })}
          />
          {(['growths', 'leafMm'] as const).map((name) => (
            <label key={name} className="mini">
              <input
                name={name}
                inputMode="decimal"
                autoComplete="off"
                aria-label={name === 'growths' ? 'New growths, counted' : 'Leaf thickness, mm'}
                aria-invalid={Boolean(errors[name])}
                value={draft[name]}
                onChange={(e) => change({ [name]: e.target.value, looked: true })}
              />
              <span>{name === 'growths' ? 'growths' : 'mm leaf'}</span>
            </label>
          ))}
          {LOOK_KEYS.map((key) => (
            <label key={key} className="mini">
              <input
                name={key}
                inputMode="decimal"
                autoComplete="off"
                aria-label={`${GROWTH[key].label}${GROWTH[key].unit ? `, ${GROWTH[key].unit}` : ', counted'}`}
                aria-invalid={Boolean(errors[key])}
                value={draft.measured?.[key] ?? ''}
                onChange={(e) => change({ measured: { ...draft.measured, [key]: e.target.value }, looked: true })}
              />
              <span>{key === 'leafCm' ? 'cm leaf' : GROWTH[key].label.replace('open ', '')}</span>
            </label>
          ))}
          {wrong && (
            <div className="field-error" role="alert">
              {wrong}
            </div>
          )}
        </div>
      )}
    </div>
  );
}
