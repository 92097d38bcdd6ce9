import type { PotModelWire } from '../../contract/drift.ts';
import type { PotBelief, PotWater, TitrationCurve } from '../../core/drift/index.ts';
import type { PotState } from '../collection/index.ts';

type Modelled = {
  water: PotWater;
  belief: PotBelief;
  season: number;
  window: { low: number; high: number };
  freshShare: number;
  phKnown: boolean;
};

/** A pot as the page plays it on: its water as a titration table, and what is believed of it. */
export function modelOf(s: PotState, of: Modelled, daysGone: number): PotModelWire {
  const { curve, reservoirMl, poreMl } = of.water;
  return {
    potId: s.pot.id,
    code: s.pot.code,
    curve: curveWire(curve),
    reservoirMl,
    poreMl,
    belief: of.belief as PotModelWire['belief'],
    season: of.season,
    window: of.window,
    freshShare: of.freshShare,
    daysGone,
    phKnown: of.phKnown,
  };
}

/** To six digits: as near as the reduced chemistry is, at half the size. */
function curveWire(curve: TitrationCurve): PotModelWire['curve'] {
  const short = (table: Float64Array) => Array.from(table, (v) => Number(v.toPrecision(6)));
  return {
    strong: short(curve.strong),
    strongAtTwice: short(curve.strongAtTwice),
    carbonCharge: short(curve.carbonCharge),
    carbonChargeAtTwice: short(curve.carbonChargeAtTwice),
    carbonGas: short(curve.carbonGas),
    rest: short(curve.rest),
    restAtTwice: short(curve.restAtTwice),
    water: short(curve.water),
    restCo2MmolL: curve.restCo2MmolL,
    carbonMmolL: curve.carbonMmolL,
    ecUsCm: curve.ecUsCm,
  };
}
