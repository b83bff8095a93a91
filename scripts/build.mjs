// Builds the app into dist/ and the server into server-dist/.
import { execFileSync } from 'node:child_process';
import { build } from 'esbuild';
const env = { ...process.env, CI: '1', EXPO_NO_TELEMETRY: '1', EXPO_OFFLINE: '1' };
execFileSync('npx', ['expo', 'export', '--platform', 'web', '--source-maps', 'external'], { stdio: 'inherit', env });
for (const step of ['licences', 'preload', 'sw', 'precompress']) execFileSync(process.execPath, [`scripts/${step}.mjs`, 'dist'], { stdio: 'inherit' });
await build({ entryPoints: ['server/index.ts'], bundle: true, platform: 'node', format: 'esm', target: 'node20', outfile: 'server-dist/index.mjs', banner: { js: "import { createRequire } from 'node:module'; const require = createRequire(import.meta.url);" }, logLevel: 'error' });
