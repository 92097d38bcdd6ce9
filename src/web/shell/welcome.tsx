import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import { Link } from 'react-router';
import { PotSection } from '../drawing/index.ts';
import { ProblemError, request } from './api.ts';

/** The first page of an empty collection: what this is, and the ways in. */
export default function Welcome({ begun }: { begun: boolean }) {
  const client = useQueryClient();
  const [busy, setBusy] = useState<'demo' | 'copy'>();
  const [failed, setFailed] = useState<string>();
  const openDemo = async () => {
    setBusy('demo');
    try {
      const { url } = await request<{ url: string }>('POST', '/api/shell/demo');
      location.assign(url);
    } catch (error) {
      setFailed(
        error instanceof ProblemError
          ? error.problem.detail
          : 'The demo did not open. Stop this with Ctrl+C and run npm run demo instead.',
      );
      setBusy(undefined);
    }
  };
  const copyDemo = async () => {
    setBusy('copy');
    try {
      await request('POST', '/api/shell/copy-demo');
      await client.resetQueries();
    } catch (error) {
      setFailed(
        error instanceof ProblemError
          ? error.problem.detail
          : 'The copy could not be made. Nothing was changed; try it again.',
      );
      setBusy(undefined);
    }
  };
  return (
    <div className="empty welcome">
      <div className="d-flex" aria-hidden>
        <PotSection
          size={96}
          decorative
          drawing={{
            level: 0.8,
            levelIsGuess: false,
            ratio: 1,
            ph: 5.9,
            phLow: 5.5,
            phHigh: 6.5,
            salts: 0,
            stage: 'growth',
            form: 'clay',
          }}
          seed="welcome"
        />
      </div>
      <h1>Welcome to Frugal Sip</h1>
      <p className="mb-0">
        It works out what each pot over a reservoir is due, coaches a mix to strength drop by drop, and keeps what you
        did. Have a pen, a dropper and your feed at hand; it asks for one thing at a time, and anything can be left for
        later.
      </p>
      <Link className="btn btn-primary btn-lg" to="/start">
        {begun ? 'Go on setting up' : 'Set up my collection'}
      </Link>
      <div className="d-flex flex-wrap justify-content-center gap-2">
        <Button variant="outline-secondary" disabled={busy !== undefined} onClick={() => void openDemo()}>
          {busy === 'demo' ? 'Opening the demo …' : 'Look round the demo'}
        </Button>
        {!begun && (
          <Button variant="outline-secondary" disabled={busy !== undefined} onClick={() => void copyDemo()}>
            {busy === 'copy' ? 'Copying …' : 'Start from a copy of the demo'}
          </Button>
        )}
      </div>
      {failed && (
        <p role="alert" className="field-error mb-0">
          {failed}
        </p>
      )}
      <p className="small mb-0">
        The demo is an invented plant library with 42 pots and a year of rounds, in a file of its own; its pens are
        simulated. A copy of it goes into your own collection, to be changed into yours.
      </p>
    </div>
  );
}
