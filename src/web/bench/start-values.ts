import type { FieldErrors } from 'react-hook-form';
import type { RoundView } from '../../contract/round.ts';
import type { ShelfView } from '../../contract/shelf.ts';
import { inLargeUnit, ppmText } from '../shell/format.ts';

/** The form that starts a batch, all as typed. */
export type Fields = {
  name: string;
  waterId: string;
  vesselId: string;
  bottleId: string;
  ppmMeterId: string;
  phMeterId: string;
  toolIds: string[];
  litres: string;
  netPpm: string;
  phLow: string;
  phHigh: string;
};

/** What stands in the form at first: from the round's mix where it came from one. */
export function firstValues(shelf: ShelfView, mix: RoundView['mixes'][number] | undefined): Fields {
  const litresWanted = mix?.litresToMix ?? 2;
  const fitting = [...shelf.vessels].sort((a, b) => a.capacityL - b.capacityL).find((v) => v.capacityL >= litresWanted * 1.25) ?? shelf.vessels[0];
  return {
    name: mix ? mix.name : 'Feed',
    waterId: shelf.waters[0]?.id ?? '',
    vesselId: fitting?.id ?? '',
    bottleId: shelf.bottles.find((b) => b.kind === 'feed')?.id ?? '',
    ppmMeterId: shelf.meters.find((m) => m.quantity === 'ppm')?.id ?? '',
    phMeterId: shelf.meters.find((m) => m.quantity === 'pH')?.id ?? '',
    toolIds: shelf.tools.filter((t) => t.kind === 'syringe' || t.dropsPerMl !== null).map((t) => t.id),
    litres: inLargeUnit(litresWanted * 1000),
    netPpm: mix ? ppmText(mix.netPpm) : '90',
    phLow: String(mix?.phLow ?? 5.5),
    phHigh: String(mix?.phHigh ?? 6.5),
  };
}

/** What was typed before leaving the page. */
export function keptDraft(key: string): Partial<Fields> {
  const kept = sessionStorage.getItem(key);
  return kept ? (JSON.parse(kept) as Partial<Fields>) : {};
}

/** True, or why the vessel will not do. */
export function tooSmall(shelf: ShelfView, vesselId: string, volumeL: number): true | string {
  const vessel = shelf.vessels.find((v) => v.id === vesselId);
  if (!vessel) return 'Choose what to mix in.';
  return (
    !(volumeL > vessel.capacityL) ||
    `The ${vessel.name.toLowerCase()} holds ${vessel.capacityL} L, and this is ${volumeL} L. Take a larger vessel or make two batches.`
  );
}

/** True, or what is wrong with the stretch of pH. */
export function phWindow(low: number, high: number): true | string {
  if (![low, high].every((ph) => ph >= 3 && ph <= 9)) return 'Give a pH between 3 and 9, such as 5.5 to 6.5.';
  return low <= high || 'The lower pH is above the upper. Swap them.';
}

/** The message of either end of the stretch. */
export function phError(errors: FieldErrors<Fields>): string | undefined {
  return errors.phLow?.message ?? errors.phHigh?.message;
}
