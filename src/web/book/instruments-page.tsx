import { useQuery } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import { Link } from 'react-router';
import type { InstrumentsView } from '../../contract/instruments.ts';
import { get, newId } from '../shell/api.ts';
import { dayMonth, dayMonthYear } from '../shell/format.ts';
import { potsNow } from './pots-now.ts';
import { LabelledField } from '../shell/labelled-field.tsx';
import { Failed, Loading } from '../shell/states.tsx';
import { otherProblems, problemAt, useAct } from '../shell/use-act.ts';
import { BookTabs } from './book-tabs.tsx';

const ACTS = '/api/instruments/acts';
const EVERY_MS = 5_000;

/** Pens that send what they read: their keys, and readings that wait for a place. */
export function InstrumentsPage() {
  const view = useQuery({
    queryKey: ['instruments'],
    queryFn: () => get<InstrumentsView>('/api/instruments'),
    refetchInterval: EVERY_MS,
  });
  if (view.isPending) return <Loading what="the instruments" />;
  if (!view.data) return <Failed error={view.error} retry={() => void view.refetch()} />;
  return (
    <div className="page instruments-page">
      <header>
        <div>
          <h1>Book</h1>
          <div className="small">Pens and loggers that send what they read</div>
        </div>
        <BookTabs />
      </header>
      <Tray view={view.data} />
      <div className="instrument-columns">
        <Keys view={view.data} />
        <HowTo />
      </div>
    </div>
  );
}

/** A key of 43 letters and figures, from the browser's own source of chance. */
function newKey(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(32));
  return btoa(String.fromCharCode(...bytes))
    .replace(/\+/g, '-')
    .replace(/\//g, '_')
    .replace(/=+$/, '');
}

function Keys({ view }: { view: InstrumentsView }) {
  const { send, problems, busy } = useAct(ACTS);
  const [name, setName] = useState('');
  const [meterId, setMeterId] = useState('');
  const [made, setMade] = useState<{ name: string; key: string }>();
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const key = newKey();
    const chosen = meterId || view.meters[0]?.id || '';
    if (
      !(await send(
        { kind: 'make', instrumentId: newId(), name: name.trim(), meterId: chosen, key },
        `${name.trim()} may send`,
      ))
    )
      return;
    setMade({ name: name.trim(), key });
    setName('');
  };
  return (
    <section className="sheet instrument-keys" aria-label="Keys">
      <h2>Keys</h2>
      {made && (
        <div className="new-key" role="status">
          <p className="mb-1">
            The key of <b>{made.name}</b>. It is shown this once: copy it into the pen.
          </p>
          <code>{made.key}</code>
        </div>
      )}
      {view.instruments.length === 0 && <p className="small">No pen may send yet.</p>}
      <ul>
        {view.instruments.map(({ id, name: own, meter, unit, madeOn, withdrawnOn, lastAt }) => (
          <li key={id}>
            <span>
              <b>{own}</b>, {meter} ({unit})
              <span className="small">
                {' '}
                since {dayMonthYear(madeOn)}
                {withdrawnOn
                  ? `, withdrawn ${dayMonth(withdrawnOn)}`
                  : lastAt
                    ? `, last sent ${timeOf(lastAt)}`
                    : ', nothing sent yet'}
              </span>
            </span>
            {!withdrawnOn && (
              <Button
                size="sm"
                variant="outline-secondary"
                disabled={busy}
                aria-label={`Withdraw the key of ${own}`}
                onClick={() => void send({ kind: 'withdraw', instrumentId: id }, `The key of ${own} is withdrawn`)}
              >
                Withdraw
              </Button>
            )}
          </li>
        ))}
      </ul>
      {view.meters.length === 0 ? (
        <p className="small mb-0">
          <Link to="/shelf">Add the pen on the Shelf</Link> first, as one that shows ppm or pH and whose figures are
          typed.
        </p>
      ) : (
        <form className="thing-form" noValidate onSubmit={(e) => void submit(e)}>
          <LabelledField label="Name" error={problemAt(problems, 'name')}>
            {(a) => (
              <Form.Control
                {...a}
                autoComplete="off"
                maxLength={60}
                placeholder="bench logger"
                value={name}
                onChange={(e) => setName(e.target.value)}
              />
            )}
          </LabelledField>
          <LabelledField
            label="It is"
            error={problemAt(problems, 'meterId')}
            hint="Its scale and its checks are those of this meter."
          >
            {(a) => (
              <Form.Select {...a} value={meterId || view.meters[0]!.id} onChange={(e) => setMeterId(e.target.value)}>
                {view.meters.map(({ id, name: own, unit }) => (
                  <option key={id} value={id}>
                    {own} ({unit})
                  </option>
                ))}
              </Form.Select>
            )}
          </LabelledField>
          {otherProblems(problems, ['name', 'meterId']) && (
            <p className="field-error mb-0" role="alert">
              {otherProblems(problems, ['name', 'meterId'])}
            </p>
          )}
          <Button type="submit" disabled={busy}>
            Make a key
          </Button>
        </form>
      )}
    </section>
  );
}

const timeOf = (at: string) =>
  new Date(at).toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' });

/** Readings nobody waited for. */
function Tray({ view }: { view: InstrumentsView }) {
  const pots = useQuery(potsNow);
  const { send, problems, busy } = useAct(ACTS);
  const [codes, setCodes] = useState<Readonly<Record<string, string>>>({});
  const [unknown, setUnknown] = useState<string>();
  const all = pots.data?.places.flatMap((place) => place.pots) ?? [];
  const place = async (readingId: string) => {
    const code = (codes[readingId] ?? '').trim().toLowerCase();
    const pot = all.find((p) => p.code.toLowerCase() === code);
    setUnknown(pot ? undefined : readingId);
    if (pot) await send({ kind: 'place', readingId, potId: pot.id }, `${pot.code} read where it stands`);
  };
  return (
    <section className="sheet tray" aria-label="Tray">
      <h2>Tray</h2>
      {view.tray.length === 0 ? (
        <p className="small mb-0">
          Nothing waits for a place. A reading goes by itself to the field at the bench or in the Round where the pen is
          dipped; what nobody waited for lies here.
        </p>
      ) : (
        <ul>
          {view.tray.map(({ id, instrument, shown, quantity, unit, temperatureC, at }) => (
            <li key={id}>
              <b className="num">
                {shown} {unit}
              </b>
              <span className="small">
                {instrument}, {timeOf(at)}
                {temperatureC !== null && `, ${temperatureC} °C`}
              </span>
              <Form.Control
                size="sm"
                list="tray-pots"
                autoComplete="off"
                aria-label={`Pot of ${shown} ${quantity}`}
                placeholder="pot, such as R-02"
                value={codes[id] ?? ''}
                isInvalid={unknown === id}
                onChange={(e) => setCodes({ ...codes, [id]: e.target.value })}
                onKeyDown={(e) => {
                  if (e.key === 'Enter') void place(id);
                }}
              />
              <Button size="sm" disabled={busy} onClick={() => void place(id)}>
                Place it
              </Button>
              <Button
                size="sm"
                variant="outline-secondary"
                disabled={busy}
                onClick={() => void send({ kind: 'drop', readingId: id }, 'Dropped')}
              >
                Drop it
              </Button>
              {unknown === id && (
                <span className="field-error" role="alert">
                  There is no pot of that code. Write it as on its label.
                </span>
              )}
            </li>
          ))}
        </ul>
      )}
      {problems[''] && (
        <p className="field-error mb-0" role="alert">
          {problems['']}
        </p>
      )}
      {problemAt(problems, 'readingId') && (
        <p className="field-error mb-0" role="alert">
          {problemAt(problems, 'readingId')}
        </p>
      )}
      <datalist id="tray-pots">
        {all.map(({ id, code, name }) => (
          <option key={id} value={code}>
            {name}
          </option>
        ))}
      </datalist>
    </section>
  );
}

function HowTo() {
  const address = `${location.origin}/api/instruments/readings`;
  return (
    <section className="sheet instrument-how" aria-label="How a pen sends">
      <h2>How a pen sends</h2>
      <p className="small mb-2">
        One request with its key and the figure on its display, in its own unit. Where the Round or the bench waits for
        that pen, the figure runs into the field; Enter keeps it, as when it is typed. The same <code>id</code> twice is
        one reading.
      </p>
      <pre tabIndex={0}>{`POST ${address}
Authorization: Bearer <key>
Content-Type: application/json

{"shown": 131, "temperatureC": 21.5}`}</pre>
      <p className="small mb-0">
        To try it without a pen: <code>npm run instrument -- --key &lt;key&gt; --shown 131</code>
      </p>
    </section>
  );
}
