import type { LeachHistory } from './history.ts';
import type { shapeOf } from './shapes.ts';
import { RATES } from './spectrum.ts';
import { stretchesOf } from './stores.ts';

/** Columns: one ppm in the pores, one ppm·L of dust, one of slow source, and what the feed brings. */
const COLUMNS = 4;
const [PORE, DUST, SOURCE, FED] = [0, 1, 2, 3];

/**
 * What each amount alone makes of every reading: for a structure they are linear, so that amounts need no search.
 * The same steps as `afterHours`, for all four at once.
 * @returns a row a reading: by pore strength, dust and source, and the feed's own part
 */
export function responses(shape: ReturnType<typeof shapeOf>, history: LeachHistory): Float64Array[] {
  const { capacities, retained } = shape;
  const { clayL } = history;
  const n = RATES.length;
  const stores = new Float64Array(COLUMNS * n);
  for (let k = 0; k < n; k++) stores[PORE * n + k] = 1;
  const ppm = new Float64Array(COLUMNS);
  let [dust, source] = [1, 1];
  let waterL = history.firstL;
  if (history.fedNetPpm !== undefined) {
    const heldL = retained * history.firstL;
    waterL = heldL + history.firstL;
    ppm[FED] = (heldL * history.fedNetPpm) / waterL;
  }
  let since = 0;
  const stand = (hours: number) => {
    const perL = waterL / clayL;
    for (const { hours: h, stays, follows } of stretchesOf(hours, since)) {
      const dusty = dust * Math.exp(-h / shape.dustHours);
      const undissolved = source * Math.exp(-h / shape.sourceHours);
      let takes = perL;
      for (let k = 0; k < n; k++) takes += capacities[k]! * follows[k]!;
      for (let j = 0; j < COLUMNS; j++) {
        const c = ppm[j]!;
        let salt = perL * c + (j === DUST ? dust - dusty : 0) + (j === SOURCE ? source - undissolved : 0);
        for (let k = 0, at = j * n; k < n; k++, at++) {
          const lags = stores[at]! * stays[k]! + c * (1 - stays[k]! - follows[k]!);
          salt += capacities[k]! * (stores[at]! - lags);
          stores[at] = lags;
        }
        const next = salt / takes;
        for (let k = 0, at = j * n; k < n; k++, at++) stores[at]! += next * follows[k]!;
        ppm[j] = next;
      }
      dust = dusty;
      source = undissolved;
    }
    since += hours;
  };
  const rows: Float64Array[] = [];
  let now = 0;
  for (const act of history.acts) {
    stand(act.atHours - now);
    now = act.atHours;
    if (act.kind === 'reading') rows.push(ppm.slice());
    else if (act.kind === 'change') {
      const off =
        act.pouredOffL === undefined ? (1 - retained) * waterL : Math.min(Math.max(0, act.pouredOffL), waterL);
      const staysL = waterL - off;
      waterL = staysL + act.freshL;
      since = 0;
      for (let j = 0; j < COLUMNS; j++) ppm[j]! *= staysL / waterL;
    } else for (let j = 0; j < COLUMNS; j++) ppm[j] = j === FED ? act.netPpm : 0;
  }
  return rows;
}
