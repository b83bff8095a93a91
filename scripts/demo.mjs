// On a fresh clone: installs, builds, and serves the app with the demo world at one address.
import { spawn, spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { installPackages } from './setup.mjs';

installPackages();
if (!existsSync('dist/sw.js') || process.argv.includes('--build')) {
  const built = spawnSync(process.execPath, ['scripts/build.mjs'], { stdio: 'inherit' });
  if (built.status) process.exit(built.status);
}
const server = spawn(process.execPath, ['server-dist/index.mjs'], { stdio: 'inherit', env: { ...process.env, DEMO: '1', PORT: process.env.PORT ?? '8080' } });
server.on('exit', (code) => process.exit(code ?? 0));
