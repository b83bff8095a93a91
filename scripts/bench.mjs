// Bundles the benchmark and its worker, then runs it. Arguments go through.
import { build } from 'esbuild';
import { spawnSync } from 'node:child_process';
const BROWSER = ['kills', 'tabs', 'browser'];
const inBrowser = process.argv.slice(2).some((a) => BROWSER.includes(a));
if (inBrowser) await build({ entryPoints: ['bench/browser/run.ts'], bundle: true, packages: 'external', platform: 'node', outfile: 'bench/out/browser.cjs', logLevel: 'error' });
else await build({ entryPoints: ['bench/run.ts', 'bench/job.ts'], bundle: true, platform: 'node', outdir: 'bench/out', outExtension: { '.js': '.cjs' }, logLevel: 'error' });
process.exit(spawnSync(process.execPath, [inBrowser ? 'bench/out/browser.cjs' : 'bench/out/run.cjs', ...process.argv.slice(2)], { stdio: 'inherit' }).status ?? 1);
