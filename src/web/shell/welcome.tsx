import { useState } from 'react';
import Button from 'react-bootstrap/Button';
import { PotSection } from '../drawing/index.ts';
import { request } from './api.ts';

/** The first page of an empty collection: what this is, and the demo. */
export function Welcome() {
  const [state, setState] = useState<'idle' | 'opening' | 'failed'>('idle');
  const open = async () => {
    setState('opening');
    try {
      const { url } = await request<{ url: string }>('POST', '/api/shell/demo');
      location.assign(url);
    } catch {
      setState('failed');
    }
  };
  return (
    <div className="empty">
      <div className="d-flex" aria-hidden>
        <PotSection
          size={96}
          decorative
          drawing={{ level: 0.8, levelIsGuess: false, ratio: 1, ph: 5.9, phLow: 5.5, phHigh: 6.5, salts: 0, stage: 'growth', form: 'clay' }}
          seed="welcome"
        />
      </div>
      <h1>Welcome to Frugal Sip</h1>
      <p className="mb-0">
        It works out what each pot over a reservoir is due, coaches a mix to strength drop by drop, and keeps what you did. Your own collection is empty:
        setting it up comes with the next version.
      </p>
      <Button size="lg" disabled={state === 'opening'} onClick={() => void open()}>
        {state === 'opening' ? 'Opening the demo …' : 'Look round the demo'}
      </Button>
      {state === 'failed' && (
        <p role="alert" className="field-error mb-0">
          The demo did not open. Stop this with Ctrl+C and run <code>npm run demo</code> instead.
        </p>
      )}
      <p className="small mb-0">An invented plant library with 42 pots and a year of rounds, in a file of its own beside yours. Its pens are simulated.</p>
    </div>
  );
}
