import react from '@vitejs/plugin-react';
import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    // Every core: left to itself it keeps one back, which on two is half.
    maxWorkers: '100%',
    reporters: ['default', './tests/closing-line-reporter.ts'],
    projects: [
      {
        test: {
          name: 'unit',
          environment: 'node',
          // The tests of core and server replace no module, so that one worker's modules serve all its files.
          isolate: false,
          include: [
            'src/{core,contract,server,demo}/**/*.test.ts',
            'src/web/**/*.test.ts',
            'tests/reference/**/*.test.ts',
          ],
          // Against what never ends, not against slow machines.
          testTimeout: 180_000,
          hookTimeout: 180_000,
        },
      },
      {
        plugins: [react()],
        test: {
          name: 'component',
          environment: 'jsdom',
          isolate: false,
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
          // After everything else: a browser that shares two cores with the unit tests says nothing of the app.
          sequence: { groupOrder: 1 },
          testTimeout: 120_000,
          hookTimeout: 120_000,
        },
      },
      {
        test: {
          name: 'faults',
          environment: 'node',
          include: ['tests/load/**/*.e2e.ts'],
          globalSetup: ['tests/e2e/make-template.ts'],
          // By itself: it keeps both cores busy, and a browser beside it presses where a button was.
          sequence: { groupOrder: 2 },
          testTimeout: 120_000,
          hookTimeout: 120_000,
        },
      },
    ],
  },
});
