import type { Reporter, TestModule } from 'vitest/node';

/** Prints the plain line that says how it went: "N passed, N failed, N skipped". */
export default class ClosingLineReporter implements Reporter {
  onTestRunEnd(modules: readonly TestModule[], unhandled: readonly unknown[]): void {
    const count = { passed: 0, failed: unhandled.length, skipped: 0 };
    for (const module of modules) {
      if (module.errors().length > 0) count.failed++;
      for (const test of module.children.allTests()) {
        const state = test.result().state;
        if (state === 'passed' || state === 'failed' || state === 'skipped') count[state]++;
      }
    }
    console.log(`\n${count.passed} passed, ${count.failed} failed, ${count.skipped} skipped`);
  }
}
