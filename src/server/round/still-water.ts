import type { RoundMix } from '../../contract/round.ts';
import { volumeWords, type VolumeUnits } from '../../core/quantity/index.ts';
import { harmOfWaiting, whoWaits } from '../../core/regimen/index.ts';
import { daysUntilDry, inUse, stockOfTank, type Collection, type FlushNow, type PotState, type WaterAtHand } from '../collection/index.ts';
import type { PotSoak } from './round-mixes.ts';

export type StillWater = { readonly litres: number; readonly needL: number; readonly waits: ReadonlySet<string> };

/**
 * Whether the tank reaches for the round: every mix that is still to be made from still water with its spare, the flushes' still finish, plain
 * still waterings. Null where there is no tank anybody looked into.
 */
export function stillWater(
  { waters: shelf, tanks }: Collection,
  due: readonly PotState[],
  mixes: readonly RoundMix[],
  soaks: ReadonlyMap<string, PotSoak>,
  flushes: ReadonlyMap<string, FlushNow>,
  waters: readonly WaterAtHand[],
  today: string,
): StillWater | null {
  const water = inUse(shelf).find(({ row }) => row.kind === 'still')?.row;
  const stock = water && stockOfTank(water, tanks.get(water.id), today);
  if (!stock) return null;
  const scarce = new Set(waters.filter((w) => w.scarce).map((w) => w.id));
  const toMake = new Map(mixes.map((m) => [m.key, m]));
  const wants = due.map((s) => {
    const soak = soaks.get(s.pot.id);
    const ofFlush = flushes.get(s.pot.id)?.stages.reduce((sum, stage) => sum + (scarce.has(stage.waterId) ? stage.ml : 0), 0) ?? 0;
    const fill = s.watering.fillWith === 'tap' || isMade(toMake, s.pot.id, 'feed') ? 0 : s.pot.fillMl;
    const ofSoak = !soak || soak.given || s.inSoak || isMade(toMake, s.pot.id, soak.way) ? 0 : soak.pouredMl;
    return {
      potId: s.pot.id,
      stillMl: ofFlush + fill + ofSoak,
      harm: harmOfWaiting({
        daysLeft: daysUntilDry(s, today),
        saltTimes: s.drawing.ratio,
        daysLate: s.due.daysLate,
        soak: soak !== undefined && !soak.given,
        tender: s.pot.sensitivity === 'tender',
      }),
    };
  });
  const needL = wants.reduce((sum, w) => sum + w.stillMl, 0) / 1000;
  return { litres: stock.litres, needL, waits: new Set(whoWaits(wants, stock.litres * 1000)) };
}

/** Its mix stands in a bucket already: the water is drawn. */
function isMade(mixes: ReadonlyMap<string, RoundMix>, potId: string, use: 'feed' | 'soak' | 'spray'): boolean {
  const mix = [...mixes.values()].find((m) => m.potIds.includes(potId) && (use === 'feed' ? m.holdMinutes === null && m.use !== 'spray' : m.use === use));
  return mix !== undefined && mix.batch !== null && mix.litresToMix === 0;
}

export function waitsWords({ litres, needL }: StillWater, units: VolumeUnits): string {
  return `The tank holds ${volumeWords(litres * 1000, units)} and the round wants ${volumeWords(needL * 1000, units)}: waiting until there is more harms this one least.`;
}
