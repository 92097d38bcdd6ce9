import { Fragment, lazy, Suspense, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { Link, NavLink, Outlet, useLocation, useNavigate } from 'react-router';
import { useActs } from './acts.tsx';
import { NotLetInError, request } from './api.ts';
import { ClockStrip } from './clock-strip.tsx';
import { Enter } from './enter.tsx';
import { setCurrency, setUnits } from './format.ts';
import mark from './mark.svg';
import { Notices } from './notices.tsx';
import { Failed, Loading } from './states.tsx';
import { Toasts } from './toasts.tsx';
import { useAwake } from './use-awake.ts';
import { useChanges } from './use-changes.ts';
import { useDevice } from './use-device.ts';
import { useShell } from './use-shell.ts';
import { Icon } from '../drawing/icon.tsx';

const Shortcuts = lazy(() => import('./shortcuts.tsx'));
const StartClock = lazy(() => import('./start-clock.tsx'));
const Welcome = lazy(() => import('./welcome.tsx'));

/** Rooms that work, in the order of the work, each with the key that opens it. */
const ROOMS = [
  { to: '/round', label: 'Round', icon: 'listCheck', key: '1' },
  { to: '/bench', label: 'Bench', icon: 'eyedropper', key: '2' },
  { to: '/pots', label: 'Pots', icon: 'flower', key: '3' },
  { to: '/clay', label: 'Clay', icon: 'pebbles', key: '4' },
  { to: '/drift', label: 'Drift', icon: 'graphUp', key: '5' },
  { to: '/season', label: 'Season', icon: 'calendarCheck', key: '6' },
  { to: '/shelf', label: 'Shelf', icon: 'archive', key: '7' },
  { to: '/book', label: 'Book', icon: 'book', key: '8' },
] as const;
/** Rooms that make sense in an empty collection; the others welcome instead. */
const OPEN_WHEN_EMPTY = /^\/(start|book|shelf|clay|pots\/(new|list)|drawings)/;

/** Rail, notices, the room, and the clocks under it. */
export function Frame() {
  const shell = useShell();
  const { hand } = useDevice();
  const [help, setHelp] = useState(false);
  const [clock, setClock] = useState(false);
  const navigate = useNavigate();
  const { pathname } = useLocation();
  useChanges();
  useAwake();
  useHotkeys(
    ROOMS.map((r) => `alt+${r.key}`),
    (_event, hotkey) => {
      const room = ROOMS.find((r) => hotkey.keys?.includes(r.key));
      if (room) void navigate(room.to);
    },
    { preventDefault: true, enableOnFormTags: true },
  );
  useHotkeys(['?', 'shift+?'], () => setHelp(true), { useKey: true });
  useHotkeys('c', () => setClock(true), { preventDefault: true });
  if (shell.error instanceof NotLetInError) return <Enter />;
  if (shell.data) {
    setUnits(shell.data.units);
    setCurrency(shell.data.currency);
  }
  const demo = shell.data?.mode === 'demo';
  const empty = shell.data?.mode === 'own' && shell.data.pots === 0 && !shell.data.shut;
  return (
    <div className="app" data-hand={hand}>
      <Rail demo={demo} shell={shell} setClock={setClock} setHelp={setHelp} />
      <div className="room-and-clocks">
        <Room shell={shell} pathname={pathname} empty={empty} />
        <ClockStrip clocks={shell.data?.clocks ?? []} />
      </div>
      <Toasts />
      <Suspense>
        {help && <Shortcuts onClose={() => setHelp(false)} />}
        {clock && <StartClock onClose={() => setClock(false)} />}
      </Suspense>
    </div>
  );
}

function Room({ shell, pathname, empty }: { shell: ReturnType<typeof useShell>; pathname: string; empty: boolean }) {
  const known = shell.data;
  return (
    <main className="room">
      {known && <Notices trouble={known.trouble} ahead={known.ahead} zone={known.zone} />}
      {shell.isPending ? (
        <Loading what="your collection" />
      ) : !known ? (
        <Failed error={shell.error} retry={() => void shell.refetch()} />
      ) : known.shut && !pathname.startsWith('/book/backups') ? (
        <Shut />
      ) : empty && !OPEN_WHEN_EMPTY.test(pathname) ? (
        <Suspense fallback={<Loading what="the welcome" />}>
          <Welcome begun={known.shelf > 0} />
        </Suspense>
      ) : (
        // Units are told to what formats, not to every word of a room: where they change, the room is drawn anew.
        <Fragment key={`${known.units} ${known.currency}`}>
          <Outlet />
        </Fragment>
      )}
    </main>
  );
}

function Rail({
  demo,
  shell,
  setClock,
  setHelp,
}: {
  demo: boolean;
  shell: ReturnType<typeof useShell>;
  setClock(next: boolean): void;
  setHelp(next: boolean): void;
}) {
  return (
    <nav className="rail" aria-label="Rooms">
      <div className="brand">
        <img src={mark} alt="Frugal Sip" />
      </div>
      {ROOMS.map((room) => (
        <NavLink key={room.to} to={room.to} aria-keyshortcuts={`Alt+${room.key}`}>
          <Icon name={room.icon} />
          {room.label}
        </NavLink>
      ))}
      <div className="foot">
        {demo && <NextDay today={shell.data?.today ?? ''} />}
        <button type="button" className="help" onClick={() => setClock(true)}>
          <Icon name="stopwatch" /> Clock <kbd>C</kbd>
        </button>
        <button type="button" className="help" onClick={() => setHelp(true)}>
          Keys <kbd>?</kbd>
        </button>
      </div>
    </nav>
  );
}

/** The file cannot be read: only the way to its backups is open. */
function Shut() {
  return (
    <div className="empty" role="alert">
      <h1>The collection cannot be opened</h1>
      <p className="mb-0">Nothing is written until it can be. What you do meanwhile on other devices is kept there.</p>
      <Link className="btn btn-primary" to="/book/backups">
        To the backups
      </Link>
    </div>
  );
}

/** In the demo a day can be hurried on, to see what falls due. */
function NextDay({ today }: { today: string }) {
  const { say } = useActs();
  const [busy, setBusy] = useState(false);
  const shell = useShell();
  const next = async () => {
    setBusy(true);
    try {
      await request('POST', '/api/shell/next-day');
      say('A day later: nine in the morning');
    } catch {
      say('The server does not answer, so the day stays.');
    }
    await shell.refetch();
    setBusy(false);
  };
  return (
    <div className="demo">
      The demo: invented plants, simulated pens
      <button
        type="button"
        className="btn btn-sm"
        disabled={busy}
        onClick={() => void next()}
        title={`It is ${today} here`}
      >
        Next day
      </button>
    </div>
  );
}
