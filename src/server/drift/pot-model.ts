import type { PotModelWire } from '../../contract/drift.ts';
import type { Ahead, PotBelief, PotWater, TitrationCurve, Widths } from '../../core/drift/index.ts';
import type { Crowd } from '../../core/statistics/index.ts';
import type { PotState } from '../collection/index.ts';

type Modelled = {
  water: PotWater;
  belief: PotBelief;
  season: number;
  window: { low: number; high: number };
  phKnown: boolean;
  ahead: Ahead;
  widths: Widths;
};

/** A pot as the page plays it on: its water as a titration table, and what is believed of it. */
export function modelOf(s: PotState, of: Modelled, daysGone: number): PotModelWire {
  const { curve, reservoirMl, poreMl, bodies, poured } = of.water;
  const { crowd, seen, voices } = of.belief;
  return {
    potId: s.pot.id,
    code: s.pot.code,
    curve: curveWire(curve),
    reservoirMl,
    poreMl,
    belief: { crowd: crowdWire(crowd), seen, voices },
    bodies: bodies ? crowdWire(bodies) : null,
    free: of.water.gone && of.water.free ? Array.from(of.water.free, (v) => Number(v.toPrecision(4))) : null,
    poured: poured ?? null,
    season: of.season,
    window: of.window,
    widths: of.widths,
    changed: of.ahead.kinds.includes('changed'),
    phSd: of.ahead.phSd,
    daysGone,
    phKnown: of.phKnown,
  };
}

/** Nearer than anybody knows a pot, at a third of the size. */
const crowdWire = ({ members, columns, at }: Crowd): PotModelWire['belief']['crowd'] => ({
  members,
  columns,
  at: Array.from(at, (v) => Number(v.toPrecision(5))),
});

/** To six digits: as near as the reduced chemistry is, at half the size. */
function curveWire(curve: TitrationCurve): PotModelWire['curve'] {
  const short = (table: Float64Array) => Array.from(table, (v) => Number(v.toPrecision(6)));
  return {
    ...curve,
    strong: short(curve.strong),
    strongAtTwice: short(curve.strongAtTwice),
    carbonCharge: short(curve.carbonCharge),
    carbonChargeAtTwice: short(curve.carbonChargeAtTwice),
    carbonGas: short(curve.carbonGas),
    rest: short(curve.rest),
    restAtTwice: short(curve.restAtTwice),
    water: short(curve.water),
  };
}
