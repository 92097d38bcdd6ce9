import { localDateOf, startOfLocalDay } from '../core/regimen/index.ts';
import type { AppContext } from './app-context.ts';

/** Now, as the log stores it: the instant and the grower's calendar day. */
export function whenNow(context: Pick<AppContext, 'clock' | 'settings'>): { at: Date; localDate: string } {
  const at = context.clock.now();
  return { at, localDate: localDateOf(at, context.settings.zone) };
}

/** When an act is done, and by which clock its day is told. */
export type When = { at: Date; localDate: string; zone: string };

const NOON_MS = 12 * 3_600_000;
/** What is done today is done now; of a day that is past only the day is known, and its noon stands for it. */
export const onDay = (on: string, { at, localDate: today, zone }: When): { at: Date; localDate: string } => ({
  at: on === today ? at : new Date(startOfLocalDay(on, zone).getTime() + NOON_MS),
  localDate: on,
});
