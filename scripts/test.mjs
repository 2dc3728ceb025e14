// All checks, from a fresh clone with one command: format, lint, types, units, journeys. The last line
// counts everything that passed or failed.
import { spawn, spawnSync } from 'node:child_process';
import { mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { ensureBuilt } from './steps/build.mjs';
import { ensureInstalled } from './steps/install.mjs';
import { bin, root } from './steps/places.mjs';
import { ensureSystem } from './steps/system.mjs';

ensureInstalled();
ensureSystem();
ensureBuilt();
mkdirSync(join(root, '.cache'), { recursive: true });

let passed = 0;
let failed = 0;

function step(name, command, args, cwd = root, env = {}) {
  console.log(`\n— ${name}`);
  const began = Date.now();
  const { status } = spawnSync(command, args, { cwd, stdio: 'inherit', env: { ...process.env, CI: '1', ...env } });
  console.log(`  ${status === 0 ? 'passed' : 'failed'} in ${Math.round((Date.now() - began) / 1000)} s`);
  return status === 0;
}

/** Checks that read the same files and do not touch one another, beside each other; each says what it found once it is done. */
async function together(checks) {
  const run = ([name, command, args]) =>
    new Promise((done) => {
      const began = Date.now();
      const said = [];
      const child = spawn(command, args, { cwd: root, env: { ...process.env, CI: '1' } });
      child.stdout.on('data', (bytes) => said.push(bytes));
      child.stderr.on('data', (bytes) => said.push(bytes));
      child.on('error', (error) => said.push(Buffer.from(`${error.message}\n`)));
      child.on('close', (status) => {
        console.log(`\n— ${name}`);
        process.stdout.write(Buffer.concat(said));
        console.log(`  ${status === 0 ? 'passed' : 'failed'} in ${Math.round((Date.now() - began) / 1000)} s`);
        if (status === 0) passed++;
        else failed++;
        done();
      });
    });
  await Promise.all(checks.map(run));
}

/** Runs a test runner and adds what it counted; a runner that counted nothing has failed. */
function runner(name, command, args, cwd, resultFile, count, env = {}) {
  rmSync(resultFile, { force: true });
  const ok = step(name, command, args, cwd, env);
  let counted = { passed: 0, failed: 0 };
  try {
    counted = count(JSON.parse(readFileSync(resultFile, 'utf8')));
  } catch {
    counted.failed = 1;
  }
  passed += counted.passed;
  failed += ok || counted.failed ? counted.failed : 1;
}

await together([
  ['format', bin('prettier'), ['--check', '--log-level', 'warn', '.']],
  ['lint', bin('eslint'), ['.', '--max-warnings', '0']],
  [
    'circles',
    bin('depcruise'),
    ['--config', '.dependency-cruiser.cjs', ...['core', 'contract', 'rtmp', 'server', 'networks', 'web'].map((name) => `${name}/src`)],
  ],
  ['types', bin('tsc'), ['-b']],
]);
const units = join(root, '.cache', 'units.json');
runner('units', bin('jest'), ['--json', `--outputFile=${units}`, '--silent'], root, units, (result) => ({
  passed: result.numPassedTests,
  failed: result.numFailedTests + result.numRuntimeErrorTestSuites,
}));
/** Those at the desk wait for pages more than they work: two at once. Those that draw and encode pictures have both cores for themselves. */
const JOURNEYS = { desk: 2, stage: 1 };
for (const [project, workers] of Object.entries(JOURNEYS)) {
  const journeys = join(root, '.cache', `journeys-${project}.json`);
  const args = ['test', `--project=${project}`, `--workers=${workers}`];
  const count = ({ stats }) => ({ passed: stats.expected + stats.flaky, failed: stats.unexpected });
  runner(`journeys: ${project}`, bin('playwright'), args, join(root, 'e2e'), journeys, count, { JOURNEYS_JSON: journeys });
}

console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed ? 1 : 0);
