// Only where the server runs from source (tests, benchmarks): lets this thread read TypeScript, then is the worker.
import { register } from 'tsx/esm/api';

register();
export const { advise, back, learn } = await import('./pool-worker.ts');
