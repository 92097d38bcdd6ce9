import { extent, mean } from 'd3-array';
import { scaleLinear } from 'd3-scale';
import type { TrialView } from '../../../contract/trials.ts';
import { figure } from './trial-words.ts';

const [NAMES, ROW, HEIGHT] = [96, 36, 168];
/** So much room the words in the grey take. */
const TOO_SMALL_PX = 110;

/** The pots of both arms, a dot each, and under them the difference with its range; grey: what so many pots cannot show. */
export function TrialPicture({ trial, width }: { trial: TrialView; width: number }) {
  const read = trial.pots.flatMap((pot) => (pot.outcome === null ? [] : [{ ...pot, outcome: pot.outcome }]));
  if (read.length === 0 || !trial.difference) return null;
  const { measure, difference, smallest, arms } = trial;
  const outcomes = scaleLinear(extentWithRoom(read.map(({ outcome }) => outcome)), [NAMES + 8, width - 12]);
  const shown = smallest === null || !Number.isFinite(smallest) ? [] : [smallest, -smallest];
  const differences = scaleLinear(extentWithRoom([difference.low, difference.high, 0, ...shown]), [
    NAMES + 8,
    width - 12,
  ]);
  return (
    <svg className="trial-picture" width={width} height={HEIGHT} role="img" aria-label={pictureWords(trial)}>
      {([0, 1] as const).map((arm) => {
        const mine = read.filter((pot) => pot.arm === arm);
        const y = 26 + arm * ROW;
        const middle = mean(mine, ({ outcome }) => outcome);
        return (
          <g key={arm} className={arm === 0 ? 'with' : 'without'}>
            <text className="name" x={0} y={y}>
              {clipped(arms[arm])}
            </text>
            <text x={0} y={y + 14}>
              {mine.length} pots
            </text>
            {mine.map(({ id, outcome }) => (
              <circle key={id} cx={outcomes(outcome)} cy={y} r={4.5} />
            ))}
            {middle !== undefined && (
              <>
                <path className="middle" d={`M${outcomes(middle)} ${y - 10}V${y + 10}`} />
                <text className="figure" x={outcomes(middle)} y={y - 13} textAnchor="middle">
                  {figure(measure, middle)}
                </text>
              </>
            )}
          </g>
        );
      })}
      <g className="difference">
        <text className="name" x={0} y={120}>
          Difference
        </text>
        {smallest !== null && (
          <>
            <rect
              x={differences(-smallest)}
              width={differences(smallest) - differences(-smallest)}
              y={98}
              height={38}
            />
            {differences(smallest) - differences(-smallest) > TOO_SMALL_PX && (
              <text x={differences(-smallest) + 4} y={110}>
                too small to show
              </text>
            )}
          </>
        )}
        <path className="none" d={`M${differences(0)} 94V140`} />
        <path
          className="range"
          d={`M${differences(difference.low)} 122H${differences(difference.high)}m0 -5v10M${differences(difference.low)} 117v10`}
        />
        <circle cx={differences(difference.mean)} cy={122} r={5} />
        <text x={differences(0)} y={154} textAnchor="middle">
          none
        </text>
        <text className="figure" x={differences(difference.mean)} y={112} textAnchor="middle">
          {figure(measure, difference.mean)}
        </text>
      </g>
    </svg>
  );
}

const LETTERS = 15;
const clipped = (words: string) => {
  const name = words.charAt(0).toUpperCase() + words.slice(1);
  return name.length > LETTERS ? `${name.slice(0, LETTERS - 1)}…` : name;
};

function extentWithRoom(values: readonly number[]): [number, number] {
  const [low, high] = extent(values) as [number, number];
  const room = (high - low || 1) * 0.06;
  return [low - room, high + room];
}

function pictureWords({ measure, pots, arms, difference }: TrialView): string {
  const of = (arm: number) =>
    pots
      .flatMap((pot) =>
        pot.arm === arm && pot.outcome !== null ? [`${pot.code} ${figure(measure, pot.outcome)}`] : [],
      )
      .join(', ');
  const range = difference
    ? `; difference ${figure(measure, difference.low)} to ${figure(measure, difference.high)}`
    : '';
  return `${arms[0]}: ${of(0)}; ${arms[1]}: ${of(1)}${range}`;
}
