// npm run demo | npm start: install what is missing, build what changed, serve.
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { installWhatIsMissing, root } from './setup.mjs';

const [mode, ...rest] = process.argv.slice(2);
installWhatIsMissing();
const { buildWhatChanged } = await import('./build.mjs');
await buildWhatChanged();
const args = [
  '--enable-source-maps',
  join(root, 'dist', 'server', 'main.js'),
  ...(mode === 'demo' ? ['--demo'] : []),
  ...rest,
];
const server = spawn(process.execPath, args, { stdio: 'inherit' });
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal));
server.on('exit', (code) => process.exit(code ?? 0));
