// Installs what is missing: npm packages, and Debian's Chromium and ngspice when that is allowed. Imported by the other scripts.
import { execSync, spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';

const has = (command) => spawnSync('which', [command]).status === 0;
const run = (command) => execSync(command, { stdio: 'inherit' });

export function installPackages() {
  if (!existsSync('node_modules/expo/package.json')) run('npm ci --no-audit --no-fund');
  if (!existsSync('expo-env.d.ts')) spawnSync('npx', ['expo', 'customize', 'tsconfig.json'], { stdio: 'ignore', env: { ...process.env, CI: '1', EXPO_NO_TELEMETRY: '1', EXPO_OFFLINE: '1' } });
}

export function installTools() {
  const missing = [has('chromium') ? '' : 'chromium', has('ngspice') ? '' : 'ngspice'].filter(Boolean);
  if (!missing.length) return;
  if (process.getuid?.() !== 0 || !has('apt-get')) throw new Error(`Install these first: ${missing.join(', ')}`);
  run('apt-get update -qq');
  run(`DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends ${missing.join(' ')}`);
}
