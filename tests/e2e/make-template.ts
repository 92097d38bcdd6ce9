import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { TestProject } from 'vitest/node';
import { startServer } from './server.ts';

declare module 'vitest' {
  interface ProvidedContext {
    demoFolder: string;
  }
}

/** Makes the demo collection once; every test file works on a copy of it. */
export default async function setup(project: TestProject): Promise<() => void> {
  const folder = mkdtempSync(join(tmpdir(), 'frugal-sip-template-'));
  const server = await startServer({ folder, demo: true });
  await server.stop();
  project.provide('demoFolder', folder);
  return () => rmSync(folder, { recursive: true, force: true });
}
