/**
 * Where a test pulls the plug: `FRUGAL_SIP_CRASH=restore-moved:2` kills the process, as a power cut does, the second time it comes by. Without that variable,
 * as always outside the tests, nothing happens.
 */
export function crashPoint(name: CrashPoint): void {
  const [wanted, nth = '1'] = (process.env['FRUGAL_SIP_CRASH'] ?? '').split(':');
  if (wanted !== name) return;
  const times = (passed.get(name) ?? 0) + 1;
  passed.set(name, times);
  if (times === Number(nth)) process.kill(process.pid, 'SIGKILL');
}

export const CRASH_POINTS = [
  'write-begun',
  'write-done',
  'write-committed',
  'backup-copied',
  'backup-named',
  'restore-prepared',
  'restore-kept',
  'restore-log-gone',
  'restore-moved',
  'restore-opened',
  'update-copied',
  'update-done',
] as const;
export type CrashPoint = (typeof CRASH_POINTS)[number];
const passed = new Map<CrashPoint, number>();
