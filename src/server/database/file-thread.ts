import { Piscina } from 'piscina';
import type { OddLine } from './ahead.ts';
import type { FileVerdict } from './file-work.ts';
import type { SheetResult, SheetTask } from './sheet/bring-sheet.ts';
import type { BringResult, BringTask } from './whole/bring-work.ts';

type Tasks = {
  copyAndCheck: { task: { from: string; to: string }; result: FileVerdict };
  prepareCandidate: { task: { from: string; to: string }; result: FileVerdict };
  checkWhole: { task: { file: string }; result: FileVerdict };
  lookInto: { task: { file: string }; result: FileVerdict };
  oddLines: { task: { file: string }; result: OddLine[] };
  bringWhole: { task: BringTask; result: BringResult };
  bringSheet: { task: SheetTask; result: SheetResult };
  closeJournal: { task: { file: string }; result: undefined };
};

// Shipped, the worker stands bundled beside this file.
const fromSource = import.meta.url.endsWith('.ts');
let pool: Piscina | undefined;

/**
 * One piece of work on a whole file, in a thread of its own, one after another.
 * @throws Error with SQLite's or the system's `code`, as if it had been done here
 */
export async function inFileThread<K extends keyof Tasks>(
  name: K,
  task: Tasks[K]['task'],
): Promise<Tasks[K]['result']> {
  pool ??= new Piscina({
    filename: new URL(fromSource ? './file-worker-from-source.mjs' : './file-worker.js', import.meta.url).href,
    minThreads: 0,
    maxThreads: 1,
    idleTimeout: 30_000,
  });
  const handed = (await pool.run(task, { name })) as { value: Tasks[K]['result'] } | { code: string; message: string };
  if ('value' in handed) return handed.value;
  throw Object.assign(new Error(handed.message), { code: handed.code });
}
