import { useState } from 'react';
import { daysBetween, plusDays } from '../../core/regimen/index.ts';
import { HOT_DAY_TIMES, type ToldDay } from '../../core/reservoir/index.ts';
import { dayMonth } from '../shell/format.ts';
import { DateInput } from '../shell/date-input.tsx';

/** A spell is longer than this only by a slip of the finger. */
const MOST_DAYS = 60;

/** No more days are kept than this, the newest: four years of them. */
const MOST_KEPT = 1500;

/** Days told before, with others in their place or beside them; in their order. */
export function withDays(days: readonly ToldDay[], told: readonly ToldDay[]): ToldDay[] {
  const all = new Map(days.map((day) => [day.on, day]));
  for (const day of told) all.set(day.on, day);
  return [...all.values()].sort((a, b) => (a.on < b.on ? -1 : 1)).slice(-MOST_KEPT);
}

/** Days that stand together, and how many times thirstier they were at the most. */
function spellsOf(days: readonly ToldDay[]): { from: string; to: string; times: number }[] {
  const spells: { from: string; to: string; times: number }[] = [];
  for (const { on, times } of days.filter((day) => day.times > 1)) {
    const last = spells.at(-1);
    if (last && daysBetween(last.to, on) === 1) [last.to, last.times] = [on, Math.max(last.times, times)];
    else spells.push({ from: on, to: on, times });
  }
  return spells;
}

const NEWEST = 6;

/** Hot spells of a place, so that what its pots drank then is no surprise and teaches nothing wrong. */
export function HotSpells({ days, change }: { days: readonly ToldDay[]; change(days: readonly ToldDay[]): void }) {
  const [from, setFrom] = useState('');
  const [to, setTo] = useState('');
  const [wrong, setWrong] = useState<string>();
  const add = () => {
    const last = to === '' ? from : to;
    if (from === '') return setWrong('Give the first hot day.');
    if (last < from) return setWrong('The last day is before the first: put them the other way round.');
    const count = daysBetween(from, last) + 1;
    if (count > MOST_DAYS) return setWrong(`${count} days? Give a spell of ${MOST_DAYS} days at the most.`);
    setWrong(undefined);
    change(
      withDays(
        days,
        Array.from({ length: count }, (_, i) => ({ on: plusDays(from, i), times: HOT_DAY_TIMES })),
      ),
    );
    setFrom('');
    setTo('');
  };
  const spells = spellsOf(days);
  const less = days.filter((day) => day.times < 1).length;
  return (
    <fieldset
      className="hot-spells mt-2"
      // A spell that was typed and not added is added by going on: nothing typed is lost.
      onBlur={(e) => {
        if (from !== '' && !e.currentTarget.contains(e.relatedTarget)) add();
      }}
    >
      <legend className="form-label">Hot spells</legend>
      {spells.length > 0 && (
        <ul className="small mb-1">
          {spells.slice(-NEWEST).map((spell) => (
            <li key={spell.from}>
              {spell.from === spell.to ? dayMonth(spell.from) : `${dayMonth(spell.from)} to ${dayMonth(spell.to)}`}{' '}
              <button
                type="button"
                className="btn btn-link btn-sm p-0"
                aria-label={`Take out the hot spell of ${dayMonth(spell.from)}`}
                onClick={() => change(days.filter((day) => day.times <= 1 || day.on < spell.from || day.on > spell.to))}
              >
                take it out
              </button>
            </li>
          ))}
        </ul>
      )}
      <div className="d-flex gap-2 align-items-end flex-wrap">
        <label className="small">
          from
          <DateInput size="sm" aria-label="from" value={from} onChange={(e) => setFrom(e.target.value)} />
        </label>
        <label className="small">
          to
          <DateInput size="sm" aria-label="to" value={to} onChange={(e) => setTo(e.target.value)} />
        </label>
        <button type="button" className="btn btn-outline-secondary btn-sm" onClick={add}>
          Add the spell
        </button>
      </div>
      {wrong && (
        <div className="field-error" role="alert">
          {wrong}
        </div>
      )}
      <p className="small mb-0">
        What pots drank in the heat is then no surprise.
        {spells.length > NEWEST && ` ${spells.length - NEWEST} earlier spells count too.`}
        {less > 0 && ` ${less} cool or damp days of the logger count as well.`}
      </p>
    </fieldset>
  );
}
