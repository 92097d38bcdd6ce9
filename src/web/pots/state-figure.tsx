import type { State } from './pot-filters.ts';

/** A small sign for each state a collection is gone through by; the words stand beside it. */
export function StateFigure({ state }: { state: State }) {
  return (
    <svg className="state-figure" viewBox="0 0 26 26" aria-hidden>
      {FIGURES[state]}
    </svg>
  );
}

const FIGURES: Readonly<Record<State, React.ReactNode>> = {
  thirsty: (
    <g>
      <path d="M13 3q8 9.500 8 14a8 8 0 0 1-16 0q0-4.500 8-14z" fill="#fff" stroke="#0e5a63" strokeWidth="1.800" />
      <path d="M6 19.500a7.200 7.200 0 0 0 14 0z" fill="#3f8d93" />
    </g>
  ),
  salting: (
    <g fill="#fff" stroke="#8c2f39" strokeWidth="1.500">
      <path d="M13 2.500l4.200 4.200-4.200 4.200-4.200-4.200zM6.500 9.500l4 4-4 4-4-4zM19.500 9.500l4 4-4 4-4-4zM13 15.500l4 4-4 4-4-4z" />
    </g>
  ),
  drifting: (
    <g fill="none" strokeLinecap="round" strokeLinejoin="round">
      <path d="M3 20h20" stroke="#6da080" strokeWidth="4.500" />
      <path d="M4 17q7 0 9-5t8-7M16 4l5 1-1.500 5" stroke="#a24e2c" strokeWidth="2" />
    </g>
  ),
  due: (
    <g fill="none" stroke="#1e2b2c" strokeLinejoin="round">
      <path d="M7 5h12l-1.600 13h-8.800z" fill="#f6e9df" strokeWidth="1.900" />
      <path d="M5 22h16" strokeWidth="2.600" />
    </g>
  ),
  bloom: (
    <g fill="#b0527a">
      <circle cx="13" cy="6.500" r="4" />
      <circle cx="19" cy="11" r="4" />
      <circle cx="16.800" cy="18.500" r="4" />
      <circle cx="9.200" cy="18.500" r="4" />
      <circle cx="7" cy="11" r="4" />
      <circle cx="13" cy="13" r="3.200" fill="#f4dfa2" />
    </g>
  ),
};
