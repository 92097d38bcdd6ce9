import type { ReactNode } from 'react';

/** A figure read with a pen that was later found off: kept as it stood, and marked so by more than colour. */
export function Hollow({ tainted, children }: { tainted: boolean; children: ReactNode }) {
  if (!tainted) return <>{children}</>;
  return (
    <span className="hollow" title="Read with a pen later found off: it counts less">
      {children}
      <span aria-hidden="true"> ○</span>
      <span className="visually-hidden"> (hollow: read with a pen later found off)</span>
    </span>
  );
}
