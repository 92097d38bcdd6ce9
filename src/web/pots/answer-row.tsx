import type { ReactNode } from 'react';
import Button from 'react-bootstrap/Button';

type Props = {
  /** What went wrong with the answer, in words. */
  problem: string | undefined;
  busy: boolean;
  /** What taking it up is called. */
  take: string;
  answer(kind: 'accept' | 'decline'): void;
  /** How sure it is, and where to go from it. */
  children: ReactNode;
};

/** The foot of an advice: taken up or not now. */
export function AnswerRow({ problem, busy, take, answer, children }: Props) {
  return (
    <>
      {problem && (
        <p className="field-error mb-0" role="alert">
          {problem}
        </p>
      )}
      <div className="d-flex flex-wrap gap-2 align-items-center">
        <Button size="sm" disabled={busy} onClick={() => answer('accept')}>
          {take}
        </Button>
        <Button size="sm" variant="outline-secondary" disabled={busy} onClick={() => answer('decline')}>
          Not now
        </Button>
        {children}
      </div>
    </>
  );
}
