import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import type { LanAct, LanView } from '../../contract/shell.ts';
import { Qr } from '../drawing/qr.tsx';
import { useActs } from '../shell/acts.tsx';
import { get, ProblemError, request } from '../shell/api.ts';
import { dayMonth } from '../shell/format.ts';
import { LabelledField } from '../shell/labelled-field.tsx';
import { Failed, Loading } from '../shell/states.tsx';
import { BookTabs } from './book-tabs.tsx';

/** Phone: letting other devices on the home network in, with a passphrase or a code to read from the screen. */
export function PhonePage() {
  const lan = useQuery({ queryKey: ['lan'], queryFn: () => get<LanView>('/api/shell/lan') });
  return (
    <div className="page phone-page">
      <header>
        <div>
          <h1>Book</h1>
          <div className="small">A phone at the bench, over the home network</div>
        </div>
        <BookTabs />
      </header>
      {lan.isPending ? (
        <Loading what="the network" />
      ) : lan.data ? (
        <Doors view={lan.data} />
      ) : (
        <Failed error={lan.error} retry={() => void lan.refetch()} />
      )}
    </div>
  );
}

function Doors({ view }: { view: LanView }) {
  const client = useQueryClient();
  const { say } = useActs();
  const [passphrase, setPassphrase] = useState('');
  const [error, setError] = useState<string>();
  const [changing, setChanging] = useState(false);
  const act = useMutation({
    mutationFn: (body: LanAct) => request<LanView>('PUT', '/api/shell/lan', body),
    onSuccess: (next) => {
      client.setQueryData(['lan'], next);
      setPassphrase('');
      setError(undefined);
      setChanging(false);
    },
    onError: (problem) =>
      problem instanceof ProblemError && problem.at('passphrase')
        ? setError(problem.at('passphrase'))
        : say(problem.message),
  });
  if (!view.here)
    return (
      <p className="sheet p-3 mb-0">
        This device was let in. The doors are opened and shut on the computer that keeps the collection.
      </p>
    );
  const asks = !view.hasPassphrase || changing;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    act.mutate({ kind: 'open', passphrase: asks ? passphrase : null });
  };
  return (
    <>
      <form className="sheet settings" noValidate onSubmit={submit} aria-label="The home network">
        <Open on={view.on} />
        <Passphrase asks={asks} view={view} error={error} passphrase={passphrase} setPassphrase={setPassphrase} />
        <div className="d-flex flex-wrap gap-2">
          {(!view.on || asks) && (
            <Button type="submit" disabled={act.isPending}>
              {view.on ? 'Set it' : 'Open to the home network'}
            </Button>
          )}
          {view.on && !asks && (
            <Button variant="outline-secondary" onClick={() => setChanging(true)}>
              Change the passphrase
            </Button>
          )}
          {view.on && (
            <Button variant="outline-secondary" disabled={act.isPending} onClick={() => act.mutate({ kind: 'close' })}>
              Shut it
            </Button>
          )}
        </div>
        {view.problem && (
          <p className="field-error mb-0" role="alert">
            {view.problem}
          </p>
        )}
      </form>
      {view.on && view.addresses.length > 0 && <Pairing addresses={view.addresses} lock={view.lock} />}
      {view.on && <LockCard view={view} busy={act.isPending} set={(on) => act.mutate({ kind: 'lock', on })} />}
      {view.devices.length > 0 && (
        <section className="sheet settings" aria-label="Devices let in">
          <h2>Let in</h2>
          <ul className="plain-list">
            {view.devices.map((device) => (
              <li key={device.id}>
                <span>
                  <b>{device.device}</b>{' '}
                  <span className="small">
                    since {dayMonth(device.startedAt.slice(0, 10))}, last seen{' '}
                    {dayMonth(device.lastSeenAt.slice(0, 10))}
                    {device.lastAddress && ` at ${device.lastAddress}`}
                  </span>
                </span>
                <Button
                  size="sm"
                  variant="outline-secondary"
                  className="push"
                  disabled={act.isPending}
                  onClick={() => act.mutate({ kind: 'showOut', device: device.id })}
                >
                  Show out
                </Button>
              </li>
            ))}
          </ul>
        </section>
      )}
    </>
  );
}

function Open({ on }: { on: boolean }) {
  return (
    <>
      <h2>{on ? 'Open to the home network' : 'Only this computer'}</h2>
      <p className="small mb-0">
        {on
          ? 'Devices on your home network can come in with the passphrase. Over plain http the passphrase keeps others out, but what is sent can be read and changed by whoever is on the same network: keep to one you trust, never a public one.'
          : 'Nothing outside this computer can reach the collection. Open it to the home network to use a phone at the bench; the passphrase keeps others out.'}
      </p>
    </>
  );
}

function Passphrase({
  asks,
  view,
  error,
  passphrase,
  setPassphrase,
}: {
  asks: boolean;
  view: LanView;
  error: string | undefined;
  passphrase: string;
  setPassphrase(next: string): void;
}) {
  if (!asks) return null;
  return (
    <LabelledField
      label={view.hasPassphrase ? 'New passphrase' : 'Passphrase'}
      error={error}
      hint={`At least 10 characters: four short words do well.${view.hasPassphrase ? ' A new one shows every device out.' : ''}`}
    >
      {(a) => (
        <Form.Control
          {...a}
          type="text"
          autoComplete="off"
          value={passphrase}
          onChange={(e) => setPassphrase(e.target.value)}
        />
      )}
    </LabelledField>
  );
}

/** The line with a lock: offered beside the plain one. */
function LockCard({ view, busy, set }: { view: LanView; busy: boolean; set(on: boolean): void }) {
  const { lock } = view;
  const trust = `${view.addresses[0] ?? ''}/trust`;
  return (
    <section className="sheet settings pairing" aria-label="A lock on the line">
      <div>
        <h2>A lock on the line</h2>
        <p className="small mb-2">
          {lock
            ? 'What goes through this door nobody on the network can read or change. Each phone trusts this computer’s own certificate once, by hand; it vouches for addresses of home networks only. With the lock the page also stays on the phone: it opens with no connection, shows the last known round, keeps acts and photos until the computer is back, and keeps the screen on.'
            : 'Beside the plain door a second one (https) can be opened: nobody on the network can read or change what goes over it, and the page stays on the phone for when there is no connection. Each phone is taken once through a few steps to trust it.'}
        </p>
        {lock && (
          <p className="small mb-2">
            Read this code with the phone, or open {trust.replace('http://', '')} there, and follow the steps. The phone
            must show this fingerprint:
            <code className="fingerprint">{lock.fingerprint}</code>
          </p>
        )}
        <Button variant={lock ? 'outline-secondary' : 'primary'} disabled={busy} onClick={() => set(!lock)}>
          {lock ? 'Shut this door' : 'Open a door with a lock'}
        </Button>
      </div>
      {lock && (
        <div className="code" data-url={trust}>
          <Qr text={trust} name="to trust this computer" />
        </div>
      )}
    </section>
  );
}

function Pairing({ addresses, lock }: { addresses: readonly string[]; lock: LanView['lock'] }) {
  const code = useMutation({
    mutationFn: (locked: boolean) =>
      request<{ url: string; until: string }>('POST', '/api/shell/lan/pairing', { lock: locked }),
  });
  return (
    <section className="sheet settings pairing" aria-label="Bring the phone in">
      <div>
        <h2>Bring the phone in</h2>
        <p className="small mb-2">
          Read the code with the phone’s camera: it works once, for ten minutes, and a new one ends it. Or open{' '}
          {addresses.map((a) => a.replace('http://', '')).join(' or ')} there and type the passphrase.
        </p>
        <div className="d-flex flex-wrap gap-2">
          <Button onClick={() => code.mutate(false)} disabled={code.isPending}>
            {code.data ? 'A new code' : 'Show a code'}
          </Button>
          {lock && (
            <Button variant="outline-secondary" onClick={() => code.mutate(true)} disabled={code.isPending}>
              A code for the door with the lock
            </Button>
          )}
        </div>
        {code.error && (
          <p className="field-error mb-0" role="alert">
            {code.error.message}
          </p>
        )}
      </div>
      {code.data && (
        <div className="code" data-url={code.data.url}>
          <Qr text={code.data.url} name="to bring the phone in" />
          <span className="small">
            {code.data.url.startsWith('https:') ? 'the door with the lock' : 'the plain door'}
          </span>
        </div>
      )}
    </section>
  );
}
