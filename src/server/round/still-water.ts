import type { RoundMix } from '../../contract/round.ts';
import { volumeWords, type VolumeUnits } from '../../core/quantity/index.ts';
import { whoWaits } from '../../core/regimen/index.ts';
import {
  harmTo,
  stillAtHand,
  type Collection,
  type FlushNow,
  type PotState,
  type WaterAtHand,
} from '../collection/index.ts';
import type { PotSoak } from './round-mixes.ts';

export type StillWater = { readonly litres: number; readonly needL: number; readonly waits: ReadonlySet<string> };

/**
 * Whether the tank reaches for the round: every mix that is still to be made from still water with its spare, the flushes' still finish, plain
 * still waterings. Null where there is no tank anybody looked into.
 */
export function stillWater(
  collection: Collection,
  due: readonly PotState[],
  mixes: readonly RoundMix[],
  soaks: ReadonlyMap<string, PotSoak>,
  flushes: ReadonlyMap<string, FlushNow>,
  waters: readonly WaterAtHand[],
  today: string,
): StillWater | null {
  const stock = stillAtHand(collection, today);
  if (!stock) return null;
  const scarce = new Set(waters.filter((w) => w.scarce).map((w) => w.id));
  const made = new Map<string, Set<Made>>();
  for (const m of mixes)
    if (m.batch !== null && m.litresToMix === 0)
      for (const id of m.potIds)
        made.set(
          id,
          (made.get(id) ?? new Set()).add(m.use === 'spray' ? 'spray' : m.holdMinutes === null ? 'feed' : 'soak'),
        );
  const wants = due.map((s) => {
    const soak = soaks.get(s.pot.id);
    const ofFlush =
      flushes.get(s.pot.id)?.stages.reduce((sum, stage) => sum + (scarce.has(stage.waterId) ? stage.ml : 0), 0) ?? 0;
    const fill = s.watering.fillWith === 'tap' || made.get(s.pot.id)?.has('feed') ? 0 : s.pot.fillMl;
    const ofSoak = !soak || soak.given || s.inSoak || made.get(s.pot.id)?.has(soak.way) ? 0 : soak.pouredMl;
    return {
      potId: s.pot.id,
      stillMl: ofFlush + fill + ofSoak,
      harm: harmTo(s, soak !== undefined && !soak.given, today),
    };
  });
  const needL = wants.reduce((sum, w) => sum + w.stillMl, 0) / 1000;
  return { litres: stock.litres, needL, waits: new Set(whoWaits(wants, stock.litres * 1000)) };
}

/** A mix of its that stands in a bucket already: the water is drawn. */
type Made = 'feed' | 'soak' | 'spray';

export function waitsWords({ litres, needL }: StillWater, units: VolumeUnits): string {
  return `The tank holds ${volumeWords(litres * 1000, units)} and the round wants ${volumeWords(needL * 1000, units)}: waiting until there is more harms this one least.`;
}
