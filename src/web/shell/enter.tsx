import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState, type FormEvent } from 'react';
import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';
import { useNavigate } from 'react-router';
import { ProblemError, request } from './api.ts';
import { LabelledField } from './labelled-field.tsx';
import mark from './mark.svg';

/** The way in for a device on the home network: the passphrase, or the code read from the computer's screen. */
export function Enter() {
  const client = useQueryClient();
  const navigate = useNavigate();
  const [passphrase, setPassphrase] = useState('');
  const [error, setError] = useState<string>();
  const [busy, setBusy] = useState(false);
  const tried = useRef(false);
  const enter = async (proof: { passphrase: string } | { key: string }) => {
    setBusy(true);
    setError(undefined);
    try {
      await request('POST', '/api/shell/enter', proof);
      await client.resetQueries();
      if (location.pathname === '/enter') await navigate('/round', { replace: true });
    } catch (problem) {
      setError(
        problem instanceof ProblemError
          ? problem.problem.detail
          : 'The computer does not answer. Is it on, and on this network?',
      );
    }
    setBusy(false);
  };
  useEffect(() => {
    // The code stands behind the # of the address, and is used once.
    const key = location.pathname === '/enter' ? location.hash.slice(1) : '';
    if (key === '' || tried.current) return;
    tried.current = true;
    history.replaceState(null, '', '/enter');
    void enter({ key });
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (passphrase === '') setError('Type the passphrase that was set on the computer.');
    else void enter({ passphrase });
  };
  return (
    <main className="empty enter">
      <img src={mark} alt="" width="56" height="56" />
      <h1>Let this device in</h1>
      <p className="mb-0">
        Type the passphrase set on the computer, or have the computer show its code and read that with the camera.
      </p>
      <Form noValidate onSubmit={submit} className="d-grid gap-2 w-100 text-start">
        <LabelledField label="Passphrase" error={error}>
          {(a) => (
            <Form.Control
              {...a}
              type="password"
              autoComplete="current-password"
              autoFocus
              value={passphrase}
              onChange={(e) => setPassphrase(e.target.value)}
            />
          )}
        </LabelledField>
        <Button type="submit" size="lg" disabled={busy}>
          {busy ? 'Asking …' : 'Come in'}
        </Button>
      </Form>
    </main>
  );
}
