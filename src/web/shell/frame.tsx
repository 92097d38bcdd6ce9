import { lazy, Suspense, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { NavLink, Outlet, useNavigate } from 'react-router';
import { useActs } from './acts.tsx';
import mark from './mark.svg';
import { Failed, Loading } from './states.tsx';
import { Toasts } from './toasts.tsx';
import { useShell } from './use-shell.ts';
import { Welcome } from './welcome.tsx';
import { Icon } from '../drawing/icon.tsx';

const Shortcuts = lazy(() => import('./shortcuts.tsx'));

/** Rooms that work, in the order of the work, each with the key that opens it. */
const ROOMS = [
  { to: '/round', label: 'Round', icon: 'listCheck', key: '1' },
  { to: '/bench', label: 'Bench', icon: 'eyedropper', key: '2' },
  { to: '/pots', label: 'Pots', icon: 'flower', key: '3' },
  { to: '/book', label: 'Book', icon: 'book', key: '4' },
] as const;

/** Rail, notices and the room. */
export function Frame() {
  const shell = useShell();
  const { outbox, dismissRefused } = useActs();
  const [help, setHelp] = useState(false);
  const navigate = useNavigate();
  useHotkeys(
    ROOMS.map((r) => `alt+${r.key}`),
    (_event, hotkey) => {
      const room = ROOMS.find((r) => hotkey.keys?.includes(r.key));
      if (room) void navigate(room.to);
    },
    { preventDefault: true, enableOnFormTags: true },
  );
  useHotkeys(['?', 'shift+?'], () => setHelp(true), { useKey: true });
  const empty = shell.data?.mode === 'own' && shell.data.pots === 0;
  return (
    <div className="app">
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
        {shell.data?.mode === 'demo' && <div className="demo">The demo: invented plants, simulated pens</div>}
        <button type="button" className={`help ${shell.data?.mode === 'demo' ? '' : 'mt-auto'}`} onClick={() => setHelp(true)}>
          <kbd>?</kbd> keys
        </button>
      </nav>
      <main className="room">
        {outbox.waiting.length > 0 && (
          <div className="notice" role="status">
            <Icon name="hourglass" />
            {outbox.waiting.length === 1
              ? `One act waits for the server: ${outbox.waiting[0]?.words}.`
              : `${outbox.waiting.length} acts wait for the server.`}{' '}
            They are kept on this device and sent again by themselves.
          </div>
        )}
        {outbox.refused.map(({ act, reason }) => (
          <div key={act.id} className="notice refused" role="alert">
            {act.words}: {reason}
            <button type="button" className="btn btn-sm btn-outline-secondary push" onClick={() => dismissRefused(act.id)}>
              I have seen it
            </button>
          </div>
        ))}
        {shell.isPending ? (
          <Loading what="your collection" />
        ) : shell.isError && !shell.data ? (
          <Failed error={shell.error} retry={() => void shell.refetch()} />
        ) : empty ? (
          <Welcome />
        ) : (
          <Outlet />
        )}
      </main>
      <Toasts />
      {help && (
        <Suspense>
          <Shortcuts onClose={() => setHelp(false)} />
        </Suspense>
      )}
    </div>
  );
}
