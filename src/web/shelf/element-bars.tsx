import { scaleLinear } from 'd3-scale';
import { ELEMENT_WORDS, ELEMENTS, ratioOf, type Elements } from '../../core/solution/index.ts';
import { mgText } from './label-fields.tsx';

const FULL = 100;

/**
 * Elements drawn as bars with their figures, nitrogen parted into nitrate and ammonium.
 * @param columns figures beside the bars; the first is drawn
 */
export function ElementBars({
  columns,
  caption,
}: {
  columns: readonly { head: string; elements: Elements }[];
  caption: string;
}) {
  const drawn = columns[0]!.elements;
  const there = ELEMENTS.filter((e) => columns.some((c) => c.elements[e] > 0.0005));
  const x = scaleLinear([0, Math.max(1e-6, ...there.map((e) => drawn[e]))], [0, FULL]);
  return (
    <table className="element-bars">
      <caption className="visually-hidden">{caption}</caption>
      <thead>
        <tr>
          <th scope="col" colSpan={2}>
            mg/L
          </th>
          <td />
          {columns.map((c) => (
            <th scope="col" key={c.head} className="num">
              {c.head}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {there.map((e) => (
          <tr key={e}>
            <th scope="row">{e}</th>
            <td>{ELEMENT_WORDS[e]}</td>
            <td className="bar">
              <svg width={FULL + 2} height={14} viewBox={`0 0 ${FULL + 2} 14`} aria-hidden="true">
                {e === 'N' ? (
                  <>
                    <rect x={0} y={1} height={12} rx={2} width={Math.max(0.8, x(drawn.nitrateN))} fill="#2a7f83" />
                    {drawn.ammoniumN > 0 && (
                      <rect
                        x={x(drawn.nitrateN) + 1}
                        y={1}
                        height={12}
                        rx={2}
                        width={x(drawn.ammoniumN)}
                        fill="#a9d0d0"
                        stroke="#2a7f83"
                        strokeWidth={0.8}
                      />
                    )}
                    {drawn.ureaN > 0 && (
                      <rect
                        x={x(drawn.nitrateN + drawn.ammoniumN) + 2}
                        y={1}
                        height={12}
                        rx={2}
                        width={x(drawn.ureaN)}
                        fill="#f5e8c8"
                        stroke="#7a590e"
                        strokeWidth={0.8}
                      />
                    )}
                  </>
                ) : (
                  <rect
                    x={0}
                    y={1}
                    height={12}
                    rx={2}
                    width={Math.max(0.8, x(drawn[e]))}
                    fill={['P', 'K'].includes(e) ? '#2a7f83' : '#7fb3b4'}
                  />
                )}
              </svg>
            </td>
            {columns.map((c, i) => (
              <td key={c.head} className={i === 0 ? 'num main' : 'num'}>
                {mgText(c.elements[e])}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** "nitrate 18.6, ammonium 3.7; N : P : K : Ca : Mg as 10 : 2.2 : 12.5 : 3.6 : 1.1" */
export function ElementWords({ elements }: { elements: Elements }) {
  const ratio = ratioOf(elements);
  const forms = [
    [elements.nitrateN, 'nitrate'],
    [elements.ammoniumN, 'ammonium'],
    [elements.ureaN, 'urea'],
  ] as const;
  const said = forms.filter(([mg]) => mg > 0.005).map(([mg, words]) => `${words} ${mgText(mg)}`);
  const parts = RATIO.map(([e]) => Number(ratio[e].toFixed(1)));
  return (
    <>
      <RatioBar ratio={ratio} />
      <p className="small mb-0">
        {said.length > 0 && `Nitrogen: ${said.join(', ')}. `}
        {parts.some((p) => p > 0) && (
          <>
            N : P : K : Ca : Mg as <b className="num nowrap">{parts.join(' : ')}</b>
          </>
        )}
      </p>
    </>
  );
}

const RATIO = [
  ['N', '#2a7f83', '#fff'],
  ['P', '#0e5a63', '#fff'],
  ['K', '#a24e2c', '#fff'],
  ['Ca', '#c9b84a', '#1e2b2c'],
  ['Mg', '#86a86f', '#1e2b2c'],
] as const;

/** The five beside each other by weight; each names itself where there is room. */
function RatioBar({ ratio }: { ratio: ReturnType<typeof ratioOf> }) {
  const whole = RATIO.reduce((sum, [e]) => sum + ratio[e], 0);
  if (!(whole > 0)) return null;
  const x = scaleLinear([0, whole], [0, 380]);
  let from = 0;
  return (
    <svg className="ratio-bar" viewBox="0 0 380 18" aria-hidden="true">
      {RATIO.map(([e, fill, ink]) => {
        const [left, width] = [x(from), x(ratio[e])];
        from += ratio[e];
        if (width <= 0) return null;
        return (
          <g key={e}>
            <rect x={left} width={Math.max(0, width - 1)} height={18} rx={2} fill={fill} />
            {width > 20 && (
              <text x={left + width / 2} y={13} textAnchor="middle" fontSize={12} fontWeight={650} fill={ink}>
                {e}
              </text>
            )}
          </g>
        );
      })}
    </svg>
  );
}
