// Only where the server runs from source (tests, benchmarks): lets this thread read TypeScript, then is the worker.
import { register } from 'tsx/esm/api';

register();
export const { checkWhole, closeJournal, copyAndCheck, lookInto, oddLines, prepareCandidate } =
  await import('./file-worker.ts');
