import { bundled } from '../database/worker-from-source.mjs';

export const { advise, back, fit, learn } = await bundled(new URL('./pool-worker.ts', import.meta.url));
