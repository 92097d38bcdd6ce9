import type { RoundPot } from '../../contract/round.ts';
import { mL, phText, ppmText } from '../shell/format.ts';

/** What should stand in a pot that wants nothing today. */
export function StandsNow({ expected: { ppm, ph, leftMl, atLarge } }: Pick<RoundPot, 'expected'>) {
  const figures = [
    ppm === undefined ? '' : `${ppmText(ppm)} ppm`,
    ph === undefined ? '' : `pH ${phText(ph)}`,
    leftMl === undefined ? '' : `${mL(leftMl)} left`,
  ];
  const said = figures.filter(Boolean).join(', ');
  return (
    <p className="small mb-0 py-2 stands-now">
      {said === '' ? (
        'What stands in it nobody can say: it was not filled with a mix that was measured.'
      ) : (
        <>
          Now in it, {atLarge ? 'as most pots would have it' : 'by its own course'}: <b className="num ink">{said}</b>
        </>
      )}
    </p>
  );
}
