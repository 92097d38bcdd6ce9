import { useQuery } from '@tanstack/react-query';
import type { LockFacts } from '../../contract/shell.ts';
import { get } from './api.ts';
import mark from './mark.svg';
import { Failed, Loading } from './states.tsx';

/** On the phone: trusting the collection's own authority once, so that the line to it has a lock. Shown before the phone is let in. */
export function TrustPage() {
  const lock = useQuery({ queryKey: ['lock'], queryFn: () => get<LockFacts>('/api/shell/lock') });
  return (
    <main className="empty enter trust">
      <img src={mark} alt="" width="56" height="56" />
      <h1>A lock on the line</h1>
      <p className="mb-0">
        So that nobody on the network can read or change what goes between this phone and the computer.
      </p>
      {lock.isPending ? (
        <Loading what="what to trust" />
      ) : !lock.data ? (
        <Failed error={lock.error} retry={() => void lock.refetch()} />
      ) : lock.data.url === null ? (
        <p className="mb-0">The computer has no door with a lock open just now. Open it there first: Book, Phone.</p>
      ) : (
        <Steps lock={{ ...lock.data, url: lock.data.url }} />
      )}
    </main>
  );
}

function Steps({ lock }: { lock: { fingerprint: string; url: string } }) {
  return (
    <ol className="trust-steps text-start">
      <li>
        <a className="btn btn-primary" href="/api/shell/lock/authority.crt">
          Fetch the certificate
        </a>
      </li>
      <li>
        Let the phone install it. Where it says that a profile was downloaded, open its settings, install the profile,
        and switch it on under <i>About</i>, <i>Certificate trust</i>. Where it asks what the file is for, choose{' '}
        <i>CA certificate</i> (in its settings under <i>Security</i>, <i>Install a certificate</i>
        ).
      </li>
      <li>
        If it shows a fingerprint (SHA-256), compare it with the one on the computer’s screen. They must be the same:
        <code className="fingerprint">{lock.fingerprint}</code>
      </li>
      <li>
        <a className="btn btn-clay" href={`${lock.url}/enter`}>
          Go on with the lock
        </a>
        <div className="small">
          If the phone still warns of the line, the second step is not done yet: do not go on past the warning. Once in,
          add the page to the home screen; it then opens with no connection too.
        </div>
      </li>
    </ol>
  );
}
