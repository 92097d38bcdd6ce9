import type { ReactNode } from 'react';

const PEBBLES: readonly (readonly [number, number, number])[] = [
  [16, 35, 3.2],
  [24, 37, 2.9],
  [20, 27, 3.3],
  [29, 29, 3],
  [14, 21, 2.9],
  [25, 20, 3.2],
];
const TAPE = 'M31 25l8.500 1.200-.9 7-8.500-1.200z';

function Pot({ level, taped, children }: { level: number; taped: boolean; children?: ReactNode }) {
  const top = 44 - level * 28;
  return (
    <svg viewBox="0 0 44 46" aria-hidden>
      {level > 0 && <path d={`M9 ${top}L35 ${top}L33 42H11Z`} fill="#8fc1bf" />}
      <path d="M7 12h30l-3 30H10z" fill="none" stroke="#1e2b2c" strokeWidth={1.7} strokeLinejoin="round" />
      <g fill="#d3a083" opacity={0.9}>
        {PEBBLES.map(([cx, cy, r]) => (
          <circle key={`${cx}-${cy}`} cx={cx} cy={cy} r={r} />
        ))}
      </g>
      {taped && <path d={TAPE} fill="#f5e8c8" stroke="#8a6512" strokeWidth={1.3} />}
      {children}
    </svg>
  );
}

/** How a hold goes, in four small drawings. */
export function HoldSequence() {
  return (
    <ol className="seq">
      <li>
        <Pot level={0} taped />
        tape
      </li>
      <li>
        <Pot level={0.92} taped>
          <path
            d="M22 1v7M19 5.500l3 3.500 3-3.500"
            stroke="#0e5a63"
            strokeWidth={1.8}
            fill="none"
            strokeLinecap="round"
            strokeLinejoin="round"
          />
        </Pot>
        fill
      </li>
      <li>
        <Pot level={0.92} taped>
          <circle cx={22} cy={26} r={9} fill="#fffdf8" stroke="#1e2b2c" strokeWidth={1.5} />
          <path d="M22 20.500V26h4" stroke="#1e2b2c" strokeWidth={1.6} fill="none" strokeLinecap="round" />
        </Pot>
        1 h
      </li>
      <li>
        <Pot level={0.3} taped={false}>
          <circle cx={35.5} cy={29} r={1.7} fill="#fffdf8" stroke="#1e2b2c" />
          <path d="M37 30q5 3 4.500 13" stroke="#3f8d93" strokeWidth={2} fill="none" strokeLinecap="round" />
        </Pot>
        drain
      </li>
    </ol>
  );
}
