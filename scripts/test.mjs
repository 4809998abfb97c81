// Everything, on a fresh machine: packages, browser, type check, lint, unit and browser tests.
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ensurePackages, ensureTestTools } from './setup.mjs';

ensurePackages();
const env = { ...process.env, CHROMIUM: ensureTestTools() };
const folder = mkdtempSync(join(tmpdir(), 'papillon-test-'));
let passed = 0;
let failed = 0;

function step(name, command, args) {
  console.log(`\n— ${name}`);
  return spawnSync(command, args, { stdio: 'inherit', env }).status === 0;
}

for (const [name, script] of [
  ['type check', 'typecheck'],
  ['lint', 'lint'],
  ['build', 'build'],
]) {
  if (step(name, 'npm', ['run', '-s', script])) passed++;
  else failed++;
}
for (const project of ['unit', 'browser']) {
  const report = join(folder, `${project}.json`);
  const ok = step(`${project} tests`, 'npx', [
    'vitest',
    'run',
    '--project',
    project,
    '--reporter=default',
    '--reporter=json',
    `--outputFile.json=${report}`,
    ...(project === 'unit' ? ['--coverage'] : []),
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
console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed === 0 ? 0 : 1);
