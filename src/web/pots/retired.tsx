import { Link } from 'react-router';
import type { PotsView } from '../../contract/pots.ts';
import { dayMonthYear } from '../shell/format.ts';

/** Pots that are no more, with what became of them; their pages stay. */
export function Retired({ view }: { view: PotsView }) {
  if (view.retired.length === 0) return null;
  return (
    <details className="sheet retired-pots">
      <summary>
        {view.retired.length} retired pot{view.retired.length === 1 ? '' : 's'}
      </summary>
      <ul>
        {view.retired.map((pot) => (
          <li key={pot.id}>
            <Link to={`/pots/${pot.id}`}>
              {pot.code} {pot.name}
            </Link>{' '}
            <span className="small">
              {pot.became}, {dayMonthYear(pot.on)}
            </span>
          </li>
        ))}
      </ul>
    </details>
  );
}
