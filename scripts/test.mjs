// Everything, on a fresh machine: packages, browser, type check, lint, unit and browser tests.
import { spawn } from 'node:child_process';
import { mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ensurePackages, ensureTestTools } from './setup.mjs';
import { missingTools } from './tools.mjs';

await ensurePackages();
const env = { ...process.env, CHROMIUM: ensureTestTools() };
const folder = mkdtempSync(join(tmpdir(), 'papillon-test-'));
let passed = 0;
let failed = 0;

/** Runs a program beside others; what it prints comes in whole lines. */
const beside = (name, command, args) =>
  new Promise((resolve) => {
    const child = spawn(command, args, { env });
    let rest = '';
    for (const stream of [child.stdout, child.stderr])
      stream.on('data', (data) => {
        const end = (rest + data).lastIndexOf('\n') + 1;
        process.stdout.write((rest + data).slice(0, end));
        rest = (rest + data).slice(end);
      });
    child.on('close', (code) => {
      console.log(`${rest}— ${name}: ${code === 0 ? 'done' : 'failed'}`);
      resolve(code === 0);
    });
  });
const script = (name) => beside(name, 'npm', ['run', '-s', name]);

/** Runs tests of some projects, and counts them. */
async function tests(name, projects, ...options) {
  const report = join(folder, `${name}.json`);
  const ok = await beside(`${name} tests`, 'npx', [
    'vitest',
    'run',
    ...projects.flatMap((project) => ['--project', project]),
    '--reporter=default',
    '--reporter=json',
    `--outputFile.json=${report}`,
    ...options,
  ]);
  try {
    const { numPassedTests, numFailedTests } = JSON.parse(readFileSync(report, 'utf8'));
    passed += numPassedTests;
    // a run can fail outside any test, too
    failed += numFailedTests || (ok ? 0 : 1);
  } catch {
    failed++;
  }
}

function count(ok) {
  if (ok) passed++;
  else failed++;
}

// two lanes: a browser keeps one core busy, and what needs none of it runs on the other
const lint = script('lint');
const build = lint.then(() => script('build'));
const checked = Promise.all([lint, build, script('typecheck')]);
for (const ok of await checked) count(ok);
await Promise.all([
  tests('browser', ['browser']),
  tests('unit', ['unit', 'core'], '--maxWorkers=1', '--coverage').then(() => tests('server', ['server'])),
]);
for (const { name, without } of missingTools().optional)
  console.log(`\n${name} is not on this machine: ${without}.`);
console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed === 0 ? 0 : 1);
