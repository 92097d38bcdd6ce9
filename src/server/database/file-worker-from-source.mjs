import { bundled } from './worker-from-source.mjs';

export const { bringSheet, bringWhole, checkWhole, closeJournal, copyAndCheck, lookInto, oddLines, prepareCandidate } =
  await bundled(new URL('./file-worker.ts', import.meta.url));
