import { localDateOf } from '../core/regimen/index.ts';
import type { AppContext } from './app-context.ts';

/** Now, as the log stores it: the instant and the grower's calendar day. */
export function whenNow(context: Pick<AppContext, 'clock' | 'settings'>): { at: Date; localDate: string } {
  const at = context.clock.now();
  return { at, localDate: localDateOf(at, context.settings.zone) };
}

/** When an act is done, and by which clock its day is told. */
export type When = { at: Date; localDate: string; zone: string };
