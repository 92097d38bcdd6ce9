export { BenchPage } from './bench-page.tsx';
export { StartBatchPage } from './start-batch-page.tsx';
export { BatchPage } from './batch-page.tsx';
export { RecipesPage } from './recipes-page.tsx';
export { RecipePage } from './recipe-page.tsx';
export { CardPage } from './card-page.tsx';
