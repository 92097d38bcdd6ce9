import type { EntityManager } from 'typeorm';
import { volumeWords, type VolumeUnits } from '../../core/quantity/index.ts';
import { fitsInPot, mostInPotMl } from '../../core/reservoir/index.ts';
import { AppError, fieldError } from '../app-error.ts';
import type { Pot } from '../database/entities.ts';
import { rowsFor } from './holder.ts';
import { foldSettings } from './settings.ts';

/* What cannot be in a pot is a slip of the finger, and is said where it was typed. */

type Vessel = Pick<Pot, 'code' | 'brimMl' | 'reservoirMl'>;
/** A flush of more than so many reservoirs, and more than a can, is asked about once. */
const LONG_FLUSH_RESERVOIRS = 20;
const CAN_ML = 10_000;

/** @throws AppError `invalid-request` at the field when a pot cannot hold so much */
export function requireFits(pot: Vessel, ml: number, path: string, units: VolumeUnits): void {
  if (fitsInPot(pot, ml)) return;
  const most = mostInPotMl(pot);
  throw fieldError(
    path,
    `${pot.code} holds ${volumeWords(most, units)}${pot.brimMl === null ? ' at the very most' : ' to its brim'}. Check the figure, or put the pot’s sizes right on its page.`,
  );
}

/** @throws AppError `reading-odd` at the field: kept once more it stands */
export function askAboutFlush(pot: Vessel, ml: number, path: string, units: VolumeUnits): void {
  if (ml <= Math.max(CAN_ML, LONG_FLUSH_RESERVOIRS * pot.reservoirMl)) return;
  const message = `${volumeWords(ml, units)} through a reservoir of ${volumeWords(pot.reservoirMl, units)}? Check the figure; kept once more it stands.`;
  throw new AppError('reading-odd', message, { errors: [{ path, message }] });
}

/** Nothing is read of what was not begun: the computer's clock was put back since. @param since instant it began */
export function requireBegun(since: string, at: Date): void {
  if (at.getTime() >= Date.parse(since)) return;
  throw new AppError(
    'invalid-request',
    'By this computer’s clock that was not begun yet. Set the clock right, then keep it; what is typed stays.',
  );
}

/** The volumes an act on a pot names, against the pot. */
export function requireVolumesFit(
  manager: EntityManager,
  pot: Vessel,
  act: {
    pouredMl?: number;
    ml?: number;
    flushMl?: number;
    oldReservoir?: { leftMl: number | null };
    leftMl?: number | null;
    confirmedOdd?: boolean;
  },
): void {
  const { units } = foldSettings(rowsFor(manager));
  if (act.pouredMl !== undefined) requireFits(pot, act.pouredMl, 'pouredMl', units);
  if (act.ml !== undefined) requireFits(pot, act.ml, 'ml', units);
  if (act.oldReservoir?.leftMl) requireFits(pot, act.oldReservoir.leftMl, 'oldReservoir.leftMl', units);
  if (act.leftMl) requireFits(pot, act.leftMl, 'leftMl', units);
  if (act.flushMl !== undefined && !act.confirmedOdd) askAboutFlush(pot, act.flushMl, 'flushMl', units);
}
