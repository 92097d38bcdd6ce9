import { extent } from 'd3-array';
import { scaleLinear } from 'd3-scale';
import type { ArmCompared } from '../../../contract/regimens-compared.ts';

const [WIDTH, HEIGHT, ROOM] = [104, 20, 5];

/** The pots of a regimen on one measure, a dot each, and their mean: every regimen of the measure on one scale. */
export function Dots({
  arm,
  all,
  span,
  words,
}: {
  arm: ArmCompared;
  all: readonly ArmCompared[];
  span: number;
  words: string;
}) {
  const [low = 0, high = 1] = extent(all.flatMap(({ pots }) => pots.map(({ value }) => value)));
  const room = Math.max(0, span - (high - low)) / 2;
  const x = scaleLinear([low - room, high + room], [ROOM, WIDTH - ROOM]);
  return (
    <svg className="school-dots" viewBox={`0 0 ${WIDTH} ${HEIGHT}`} role="img" aria-label={words}>
      <path className="rule" d={`M0 ${HEIGHT / 2}H${WIDTH}`} />
      {arm.pots.map(({ id, value }) => (
        <circle key={id} cx={x(value)} cy={HEIGHT / 2} r={3.5} />
      ))}
      {arm.mean !== null && <path className="middle" d={`M${x(arm.mean)} 2V${HEIGHT - 2}`} />}
    </svg>
  );
}
