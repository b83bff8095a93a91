// Bundles the benchmark and its worker, then runs it. Arguments go through.
import { build } from 'esbuild';
import { spawnSync } from 'node:child_process';
await build({ entryPoints: ['bench/run.ts', 'bench/job.ts'], bundle: true, platform: 'node', outdir: 'bench/out', outExtension: { '.js': '.cjs' }, logLevel: 'error' });
process.exit(spawnSync(process.execPath, ['bench/out/run.cjs', ...process.argv.slice(2)], { stdio: 'inherit' }).status ?? 1);
