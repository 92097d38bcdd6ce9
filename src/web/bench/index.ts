export { BenchPage } from './bench-page.tsx';
export { StartBatchPage } from './start-batch-page.tsx';
export { BatchPage } from './batch-page.tsx';
