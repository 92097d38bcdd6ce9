import { useQuery } from '@tanstack/react-query';
import { mixAdviceQuery } from '../drift/index.ts';
import { phText } from '../shell/format.ts';

type Props = { mixKey: string; today: string; low: number; high: number; take(ph: number): void };

/** Where the pots of this mix would best have it poured, and who would like it otherwise: taken with a press, or left. */
export function PourHint({ mixKey, today, low, high, take }: Props) {
  const advice = useQuery(mixAdviceQuery(mixKey, today)).data;
  if (advice?.pourPh == null) return null;
  const { pourPh, pots, inside, insideAtUsual, days, suffer } = advice;
  const taken = low <= pourPh && pourPh <= high && high - low < 0.35;
  return (
    <p className="small wide mb-0 pour-hint" role="status">
      {pots === 1 ? 'Its pot' : `The ${pots} pots together`} would have it poured at {phText(pourPh)}: inside for{' '}
      {inside.toFixed(1)} of {Math.round(days)} days
      {Math.abs(inside - insideAtUsual) > 0.1 && `, at 5.8 for ${insideAtUsual.toFixed(1)}`}.
      {suffer.length > 0 &&
        ` ${suffer
          .slice(0, 3)
          .map((s) => `${s.code} would rather ${phText(s.bestPh)}`)
          .join(', ')}.`}{' '}
      {!taken && (
        <button type="button" className="btn btn-link btn-sm p-0" onClick={() => take(pourPh)}>
          Aim at {phText(pourPh)}
        </button>
      )}
    </p>
  );
}
