// Everything: types, lint, unit tests, build, browser tests. Closes with "N passed, N failed" alone on a line.
import { spawnSync } from 'node:child_process';
import { mkdirSync, readFileSync, rmSync } from 'node:fs';
import { installPackages, installTools } from './setup.mjs';

installPackages();
installTools();
let passed = 0;
let failed = 0;
const env = { ...process.env, CI: '1', FORCE_COLOR: '0' };

/** A step that either holds or does not. */
function step(name, command, args) {
  const began = Date.now();
  console.log(`\n== ${name}`);
  const { status } = spawnSync(command, args, { stdio: 'inherit', env });
  console.log(`== ${name}: ${status === 0 ? 'ok' : 'failed'}, ${((Date.now() - began) / 1000).toFixed(0)} s`);
  if (status === 0) passed++;
  else failed++;
  return status === 0;
}

/** A runner that counts: its own counts are added instead of one for the step. */
function counted(name, command, args, report, read) {
  mkdirSync('test-results', { recursive: true });
  rmSync(report, { force: true });
  const ok = step(name, command, args);
  try {
    const counts = read(JSON.parse(readFileSync(report, 'utf8')));
    if (ok) passed--;
    else failed--;
    passed += counts.passed;
    failed += Math.max(counts.failed, ok ? 0 : 1);
  } catch {
    console.log(`${name} left no report`);
  }
}

/** A test that holds at its second try counts as passed, and is named. */
function browserCounts(report) {
  const { expected, flaky, unexpected } = report.stats;
  if (flaky) console.log(`browser tests that held only at the second try: ${flaky}`);
  return { passed: expected + flaky, failed: unexpected };
}

step('types', 'npx', ['tsc', '--noEmit', '-p', 'tsconfig.json']);
step('types of the core, without a browser', 'npx', ['tsc', '--noEmit', '-p', 'tsconfig.core.json']);
step('lint', 'npx', ['eslint', '.']);
step('quick lint', 'npx', ['oxlint', '--quiet', 'core', 'src', 'app', 'server', 'e2e', 'bench']);
const jestCounts = (r) => ({ passed: r.numPassedTests, failed: r.numFailedTests + r.numRuntimeErrorTestSuites });
const jest = (name, ...args) => counted(name, 'npx', ['jest', ...args, '--json', `--outputFile=test-results/${args[1]}.json`], `test-results/${args[1]}.json`, jestCounts);
jest('tests of the core', '--selectProjects', 'core', '--maxWorkers=2');
// Screens wait for the engine's answers: one at a time, lest a busy machine makes them late.
jest('tests of the screens', '--selectProjects', 'ui');
if (step('build', process.execPath, ['scripts/build.mjs']))
  counted('browser tests', 'npx', ['playwright', 'test'], 'test-results/browser.json', browserCounts);
console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed ? 1 : 0);
