import type { ReactNode } from 'react';

/** One numbered step of a pot's card, with its quantity or field at the side. */
export function Step({
  n,
  title,
  hint,
  side,
  now = false,
  wide = false,
  error,
  errorId,
}: {
  n: number;
  title: ReactNode;
  hint?: ReactNode;
  side?: ReactNode;
  now?: boolean;
  wide?: boolean;
  error?: string | undefined;
  errorId?: string;
}) {
  return (
    <li className={`step ${now ? 'on' : ''} ${wide ? 'wide' : ''}`}>
      <b className="n" aria-hidden>
        {n}
      </b>
      <div>
        {title}
        {hint && <div className="small">{hint}</div>}
        {error && (
          <div className="field-error" id={errorId} role="alert">
            {error}
          </div>
        )}
      </div>
      {side}
    </li>
  );
}
