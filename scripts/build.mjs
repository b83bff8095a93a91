// Builds the app into dist/ and the server into server-dist/.
import { execFileSync } from 'node:child_process';
import { build } from 'esbuild';
const env = { ...process.env, CI: '1', EXPO_NO_TELEMETRY: '1', EXPO_OFFLINE: '1' };
execFileSync('npx', ['expo', 'export', '--platform', 'web'], { stdio: 'inherit', env });
execFileSync(process.execPath, ['scripts/sw.mjs', 'dist'], { stdio: 'inherit' });
execFileSync(process.execPath, ['scripts/precompress.mjs', 'dist'], { stdio: 'inherit' });
await build({ entryPoints: ['server/index.ts'], bundle: true, platform: 'node', format: 'esm', target: 'node20', outfile: 'server-dist/index.mjs', banner: { js: "import { createRequire } from 'node:module'; const require = createRequire(import.meta.url);" }, logLevel: 'error' });
