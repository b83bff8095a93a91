// Bundles the benchmark and its worker, then runs it. Arguments go through.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { build } from 'esbuild';

const BROWSER = ['kills', 'tabs', 'page'];
const common = { bundle: true, platform: 'node', logLevel: 'error' };

/** A name for the code that a visit runs on: of what it is once comments, types and names are gone. */
async function engineName() {
  const { outputFiles } = await build({ ...common, entryPoints: ['bench/visits/index.ts'], minify: true, write: false });
  return createHash('sha256').update(outputFiles[0].contents).digest('hex').slice(0, 12);
}

const args = process.argv.slice(2);
if (args.some((a) => BROWSER.includes(a))) {
  await build({ ...common, entryPoints: ['bench/browser/run.ts'], packages: 'external', outfile: 'bench/out/browser.cjs' });
  process.exit(spawnSync(process.execPath, ['bench/out/browser.cjs', ...args], { stdio: 'inherit' }).status ?? 1);
}
await build({ ...common, entryPoints: ['bench/run.ts', 'bench/job.ts'], outdir: 'bench/out', outExtension: { '.js': '.cjs' } });
process.exit(spawnSync(process.execPath, ['bench/out/run.cjs', ...args, `--engine=${await engineName()}`], { stdio: 'inherit' }).status ?? 1);
