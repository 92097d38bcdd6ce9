import { useState, type ChangeEvent } from 'react';
import Form from 'react-bootstrap/Form';
import type { PlaceYearWire } from '../../contract/pots.ts';
import { daysOf, monthsOf, type ToldDay } from '../../core/reservoir/index.ts';
import { HotSpells, withDays } from './hot-spells.tsx';
import { readLogger } from './logger-csv.ts';

const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];
/** A year of a logger at one reading a minute is some 20 MB. */
const MOST_BYTES = 40_000_000;

/** The months as typed: text until they are kept. */
export type YearTexts = {
  readonly temperatureC: readonly string[];
  readonly humidityPct: readonly string[];
  readonly days: readonly ToldDay[];
};
const EMPTY = Array.from({ length: 12 }, () => '');

export function yearTexts(year: PlaceYearWire | null | undefined): YearTexts {
  const text = (figures: readonly (number | null)[] | undefined) =>
    figures?.map((f) => (f === null ? '' : String(f))) ?? EMPTY;
  return { temperatureC: text(year?.temperatureC), humidityPct: text(year?.humidityPct), days: year?.days ?? [] };
}

/** As the server takes it; null where no month is given. What is no number stays as it was typed, for the server to say so. */
export function toYear(texts: YearTexts): object | null {
  const figures = (row: readonly string[]) =>
    row.map((t) =>
      t.trim() === '' ? null : Number.isNaN(Number(t.replace(',', '.'))) ? t : Number(t.replace(',', '.')),
    );
  const all = [...texts.temperatureC, ...texts.humidityPct];
  if (all.every((t) => t.trim() === '') && texts.days.length === 0) return null;
  const days = texts.days.length === 0 ? {} : { days: texts.days };
  return { temperatureC: figures(texts.temperatureC), humidityPct: figures(texts.humidityPct), ...days };
}

/** Temperature and humidity of a place through the year, typed or brought in from a logger: how thirsty each month makes its pots. */
export function PlaceYear({
  texts,
  change,
  error,
}: {
  texts: YearTexts;
  change(texts: YearTexts): void;
  error: string | undefined;
}) {
  const [said, setSaid] = useState<{ wrong: boolean; words: string }>();
  const bring = async (event: ChangeEvent<HTMLInputElement>) => {
    const file = event.target.files?.[0];
    event.target.value = '';
    if (!file) return;
    if (file.size > MOST_BYTES)
      return setSaid({ wrong: true, words: 'That file is larger than 40 MB. Export a year, hour by hour.' });
    const read = readLogger(await file.text());
    if (!read.ok) return setSaid({ wrong: true, words: read.message });
    const months = monthsOf(read.lines);
    const over = (old: readonly string[], figures: readonly (number | null)[]) =>
      old.map((t, i) => (figures[i] === null || figures[i] === undefined ? t : String(figures[i])));
    change({
      temperatureC: over(texts.temperatureC, months.temperatureC),
      humidityPct: over(texts.humidityPct, months.humidityPct),
      days: withDays(texts.days, daysOf(read.lines)),
    });
    const covered = months.temperatureC.filter((m) => m !== null).length;
    setSaid({
      wrong: false,
      words: `${read.lines.length} lines of ${covered} month${covered === 1 ? '' : 's'} brought in${read.skipped > 0 ? `; ${read.skipped} could not be read` : ''}. Keep the place to keep them.`,
    });
  };
  const row = (key: 'temperatureC' | 'humidityPct', label: string) => (
    <tr>
      <th scope="row" className="small">
        {label}
      </th>
      {MONTHS.map((month, i) => (
        <td key={month}>
          <Form.Control
            size="sm"
            inputMode="decimal"
            autoComplete="off"
            aria-label={`${label}, ${month}`}
            value={texts[key][i]}
            onChange={(e) => change({ ...texts, [key]: texts[key].map((t, j) => (j === i ? e.target.value : t)) })}
          />
        </td>
      ))}
    </tr>
  );
  return (
    <details className="place-year" open={toYear(texts) !== null || error !== undefined}>
      <summary>Through the year</summary>
      <p className="small mb-1">
        Warm dry air and light make pots drink. Left empty, what is usual for such a place counts; each pot then learns
        how closely it follows.
      </p>
      <div className="months" tabIndex={0} role="group" aria-label="Months">
        <table>
          <thead>
            <tr>
              <td />
              {MONTHS.map((month) => (
                <th key={month} scope="col" className="small">
                  {month}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {row('temperatureC', '°C')}
            {row('humidityPct', '% RH')}
          </tbody>
        </table>
      </div>
      {error && (
        <div className="field-error" role="alert">
          {error}
        </div>
      )}
      <HotSpells days={texts.days} change={(days) => change({ ...texts, days })} />
      <Form.Group className="mt-2">
        <Form.Label htmlFor="logger-file">Bring in a logger’s file (CSV: date, temperature, humidity)</Form.Label>
        <Form.Control
          id="logger-file"
          type="file"
          size="sm"
          accept=".csv,.txt,text/csv"
          onChange={(e: ChangeEvent<HTMLInputElement>) => void bring(e)}
        />
        {said && (
          <div className={said.wrong ? 'field-error' : 'small'} role={said.wrong ? 'alert' : 'status'}>
            {said.words}
          </div>
        )}
      </Form.Group>
    </details>
  );
}
