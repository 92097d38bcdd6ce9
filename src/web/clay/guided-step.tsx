import type { ReactNode } from 'react';
import Form from 'react-bootstrap/Form';
import type { RegimenValues } from '../../contract/regimens.ts';
import { doseAt, doseWords } from '../../core/regimen/index.ts';
import { Icon } from '../drawing/icon.tsx';
import { dayMonth, ppmText } from '../shell/format.ts';

/* The pieces a guided act is made of: a numbered step, a line to tick, a caution, a feed that climbs. */

type Feed = RegimenValues['feeds'][number];

/** The three steps of a weak start with their days. */
export function Ramp({ today, feed, days }: { today: string; feed: Feed | undefined; days: number }) {
  const after = (n: number) =>
    dayMonth(new Date(Date.parse(`${today}T12:00:00Z`) + n * 86_400_000).toISOString().slice(0, 10));
  const steps = [
    { from: 'today', share: 0.5 },
    { from: after(days), share: 0.75 },
    { from: after(2 * days), share: 1 },
  ];
  return (
    <ol className="ramp" aria-label="How the feed climbs">
      {steps.map((step) => (
        <li key={step.from}>
          <b className="num">
            {feed?.dose ? doseWords(doseAt(feed.dose, step.share)) : ppmText((feed?.netPpm ?? 0) * step.share)}
          </b>
          {feed?.dose ? '' : ' over base'} <span className="small">from {step.from}</span>
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
