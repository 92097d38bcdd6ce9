import react from '@vitejs/plugin-react';
import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    reporters: ['default', './tests/closing-line-reporter.ts'],
    projects: [
      {
        test: {
          name: 'unit',
          environment: 'node',
          include: ['src/{core,contract,server,demo}/**/*.test.ts', 'src/web/**/*.test.ts', 'tests/reference/**/*.test.ts'],
          testTimeout: 60_000,
          hookTimeout: 120_000,
        },
      },
      {
        plugins: [react()],
        test: {
          name: 'component',
          environment: 'jsdom',
          include: ['src/web/**/*.test.tsx'],
          setupFiles: ['tests/component-setup.ts'],
          testTimeout: 60_000,
          hookTimeout: 60_000,
        },
      },
      {
        test: {
          name: 'e2e',
          environment: 'node',
          include: ['tests/e2e/**/*.e2e.ts'],
          globalSetup: ['tests/e2e/make-template.ts'],
          fileParallelism: false,
          // After everything else: a browser that shares two cores with the unit tests says nothing of the app.
          sequence: { groupOrder: 1 },
          testTimeout: 120_000,
          hookTimeout: 120_000,
        },
      },
    ],
  },
});
