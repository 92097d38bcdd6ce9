export { DriftPage } from './drift-page.tsx';
export { AllPotsPage } from './all-pots-page.tsx';
export { mixAdviceQuery, potDriftQuery } from './drift-query.ts';
export { useBands } from './use-drift-worker.ts';
