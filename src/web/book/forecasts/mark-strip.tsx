import { scaleLinear } from 'd3-scale';
import type { LookedMark } from '../../../contract/look-back.ts';
import { isOutside } from './look-back-words.ts';

const [HEIGHT, SIDE] = [26, 2.1];
/** Marks that would lie over each other stand apart by this much, row by row. */
const ROWS = [0, 1, -1, 2, -2] as const;
const ROW_PX = 4;

/** Every reading by where it landed in its own range: inside the green, or below or above it. Shape says it too. */
export function MarkStrip({ marks, width, words }: { marks: readonly LookedMark[]; width: number; words: string }) {
  const x = scaleLinear([-SIDE, SIDE], [6, width - 6]).clamp(true);
  return (
    <svg className="mark-strip" width={width} height={HEIGHT} role="img" aria-label={words}>
      <rect className="meant" x={x(-1)} width={x(1) - x(-1)} height={HEIGHT} rx={3} />
      {marks.map((mark, i) => {
        const [cx, cy] = [x(placeIn(mark)), HEIGHT / 2 + ROW_PX * ROWS[i % ROWS.length]!];
        const key = `${mark.id} ${mark.on} ${i}`;
        return isOutside(mark) ? (
          <path key={key} className="out" d={`M${cx} ${cy - 4}l4 4l-4 4l-4 -4z`} />
        ) : (
          <circle key={key} cx={cx} cy={cy} r={2.2} />
        );
      })}
    </svg>
  );
}

/** 0 at the middle of its range, −1 and 1 at its ends; each half by its own width. */
function placeIn({ read, low, middle, high }: LookedMark): number {
  const half = read < middle ? middle - low : high - middle;
  const at = half > 0 ? (read - middle) / half : 0;
  return Math.max(-SIDE, Math.min(SIDE, at));
}
