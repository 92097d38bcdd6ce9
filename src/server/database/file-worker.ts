import { codeOf } from './raw.ts';
import * as work from './file-work.ts';
import { bringSheet as bringLines, type SheetTask } from './sheet/bring-sheet.ts';
import { bringWhole as bringIn, type BringTask } from './whole/bring-work.ts';

/* The thread for work on whole files. An error keeps its name only as plain data, so it is handed over as such. */

type Handed<T> = { readonly value: T } | { readonly code: string; readonly message: string };

async function hand<T>(make: () => T | Promise<T>): Promise<Handed<T>> {
  try {
    return { value: await make() };
  } catch (error) {
    return { code: codeOf(error), message: String((error as Error).message) };
  }
}

export const copyAndCheck = (task: { from: string; to: string }) => hand(() => work.copyAndCheck(task));
export const prepareCandidate = (task: { from: string; to: string }) => hand(() => work.prepareCandidate(task));
export const checkWhole = (task: { file: string }) => hand(() => work.checkWhole(task));
export const lookInto = (task: { file: string }) => hand(() => work.lookInto(task));
export const oddLines = (task: { file: string }) => hand(() => work.oddLines(task));
export const bringWhole = (task: BringTask) => hand(() => bringIn(task));
export const bringSheet = (task: SheetTask) => hand(() => bringLines(task));
export const closeJournal = (task: { file: string }) => hand(() => work.closeJournal(task));
