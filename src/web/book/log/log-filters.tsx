import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import { useHotkeys } from 'react-hotkeys-hook';
import { LOG_GROUPS, type LogChoices, type LogOnly } from '../../../contract/log.ts';
import { get } from '../../shell/api.ts';
import { DateInput } from '../../shell/date-input.tsx';
import { dayMonthYear } from '../../shell/format.ts';
import { useNarrow } from '../../shell/use-narrow.ts';
import type { Filter } from './use-log.ts';

const ONLY: Readonly<Record<LogOnly, string>> = {
  tainted: 'read by a pen found off',
  photo: 'with a photo',
  corrected: 'put right',
  own: 'my own lines',
};
/** Between a letter and the search for it. */
const TYPING_MS = 180;

type Props = { filter: Filter; narrowed: boolean; change(some: Filter): void; clear(): void };

/** What is looked for: words, and what a line is about. Everything given must hold. */
export function LogFilters({ filter, narrowed, change, clear }: Props) {
  const narrow = useNarrow();
  const [shown, setShown] = useState(false);
  const many = ['kind', 'place', 'pot', 'batch', 'only', 'from', 'to'].filter((f) => filter[f as keyof Filter]).length;
  return (
    <div className="log-filters" role="search" aria-label="The log">
      <Words filter={filter} change={change} />
      {narrow && (
        <Button variant="outline-secondary" aria-expanded={shown} onClick={() => setShown(!shown)}>
          Filters{many > 0 ? ` · ${many}` : ''}
        </Button>
      )}
      {(!narrow || shown) && <Choices filter={filter} change={change} />}
      {(narrowed || filter.to) && (
        <Button variant="link" className="p-0 clear" onClick={clear}>
          Show all
        </Button>
      )}
    </div>
  );
}

function Words({ filter, change }: Pick<Props, 'filter' | 'change'>) {
  const [text, setText] = useState(filter.words ?? '');
  const asked = useRef(filter.words ?? '');
  // What was asked for and has not come back in the address: it comes a moment later, when more may have been typed.
  const underway = useRef<string[]>([]);
  const field = useRef<HTMLInputElement>(null);
  useHotkeys('/', () => field.current?.focus(), { preventDefault: true, useKey: true, enableOnFormTags: ['slider'] });
  // Another address, such as the way back, is another search.
  useEffect(() => {
    const words = filter.words ?? '';
    const own = underway.current.indexOf(words);
    underway.current = own < 0 ? [] : underway.current.slice(own + 1);
    if (own >= 0 || words === asked.current) return;
    asked.current = words;
    setText(words);
  }, [filter.words]);
  useEffect(() => {
    const words = text.trim();
    if (words === asked.current) return;
    const later = setTimeout(() => {
      asked.current = words;
      underway.current.push(words);
      change({ words });
    }, TYPING_MS);
    return () => clearTimeout(later);
  }, [text, change]);
  return (
    <Form.Control
      ref={field}
      type="search"
      className="words"
      maxLength={200}
      aria-label="Find lines by their words"
      placeholder="crust, R-02, house feed  ( / )"
      value={text}
      onChange={(e) => setText(e.target.value)}
    />
  );
}

function Choices({ filter, change }: Pick<Props, 'filter' | 'change'>) {
  const choices = useQuery({ queryKey: ['book', 'choices'], queryFn: () => get<LogChoices>('/api/book/choices') });
  const { pots = [], places = [], batches = [] } = choices.data ?? {};
  // A mix of long ago is not among the newest: it is named all the same.
  const mixes =
    filter.batch && !batches.some(({ id }) => id === filter.batch)
      ? [{ id: filter.batch, name: 'the chosen mix', on: null }, ...batches]
      : batches;
  const select = (
    field: 'kind' | 'place' | 'pot' | 'batch' | 'only',
    label: string,
    options: readonly (readonly [string, string])[],
  ) => (
    <Form.Select
      size="sm"
      aria-label={label}
      className={filter[field] ? 'chosen' : ''}
      value={filter[field] ?? ''}
      onChange={(e) => change({ [field]: e.target.value })}
    >
      <option value="">{label}: all</option>
      {options.map(([value, words]) => (
        <option key={value} value={value}>
          {words}
        </option>
      ))}
    </Form.Select>
  );
  return (
    <>
      {select(
        'kind',
        'Kind',
        LOG_GROUPS.map((group) => [group, group]),
      )}
      {select(
        'place',
        'Place',
        places.map(({ id, name }) => [id, name]),
      )}
      {select(
        'pot',
        'Pot',
        pots.map(({ id, code, name, retired }) => [id, `${code} ${name}${retired ? ', retired' : ''}`]),
      )}
      {select(
        'batch',
        'Mix',
        mixes.map(({ id, name, on }) => [id, on ? `${name}, ${dayMonthYear(on)}` : name]),
      )}
      {select('only', 'Only', Object.entries(ONLY))}
      <Form.Label className="day">
        from{' '}
        <DateInput
          size="sm"
          value={filter.from ?? ''}
          max={filter.to}
          onChange={(e) => change({ from: e.target.value })}
        />
      </Form.Label>
      <Form.Label className="day">
        to{' '}
        <DateInput
          size="sm"
          value={filter.to ?? ''}
          min={filter.from}
          onChange={(e) => change({ to: e.target.value })}
        />
      </Form.Label>
    </>
  );
}
