import type { ReactNode } from 'react';
import Form from 'react-bootstrap/Form';
import { Icon } from '../drawing/icon.tsx';
import { dayMonth, ppmText } from '../shell/format.ts';

/* The pieces a guided act is made of: a numbered step, a line to tick, a caution, a feed that climbs. */

/** The three steps of a weak start with their days. */
export function Ramp({ today, netPpm, days }: { today: string; netPpm: number; days: number }) {
  const after = (n: number) =>
    dayMonth(new Date(Date.parse(`${today}T12:00:00Z`) + n * 86_400_000).toISOString().slice(0, 10));
  const steps = [
    { from: 'today', ppm: netPpm * 0.5 },
    { from: after(days), ppm: netPpm * 0.75 },
    { from: after(2 * days), ppm: netPpm },
  ];
  return (
    <ol className="ramp" aria-label="How the feed climbs">
      {steps.map((step) => (
        <li key={step.from}>
          <b className="num">{ppmText(step.ppm)}</b> over base <span className="small">from {step.from}</span>
        </li>
      ))}
    </ol>
  );
}

export function GuidedStep({ n, title, children }: { n: number; title: string; children: ReactNode }) {
  return (
    <li className="sheet">
      <h2>
        <i aria-hidden>{n}</i>
        {title}
      </h2>
      <div className="fields">{children}</div>
    </li>
  );
}

export function Tick({ label, on, toggle }: { label: string; on: boolean | undefined; toggle(): void }) {
  return (
    <Form.Check
      id={`tick-${label.slice(0, 12).replaceAll(' ', '-')}`}
      className="wide"
      label={label}
      checked={on ?? false}
      onChange={toggle}
    />
  );
}

export function Caution({ children }: { children: ReactNode }) {
  return (
    <div className="caution wide">
      <Icon name="exclamationTriangle" />
      <span>{children}</span>
    </div>
  );
}
