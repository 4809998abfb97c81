// Everything, on a fresh machine: packages, browser, type check, lint, unit and browser tests.
import { spawn, spawnSync } from 'node:child_process';
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

function step(name, command, args) {
  console.log(`\n— ${name}`);
  return spawnSync(command, args, { stdio: 'inherit', env }).status === 0;
}

/** Runs a script beside others, and shows what it said when it is done. */
const beside = (name, script) =>
  new Promise((resolve) => {
    const child = spawn('npm', ['run', '-s', script], { env });
    let said = '';
    for (const stream of [child.stdout, child.stderr])
      stream.on('data', (data) => {
        said += data;
      });
    child.on('close', (code) => {
      console.log(`\n— ${name}${code === 0 ? '' : ': failed'}\n${said}`);
      resolve(code === 0);
    });
  });

for (const ok of await Promise.all([
  beside('type check', 'typecheck'),
  beside('lint', 'lint').then(async (ok) => (await beside('build', 'build')) && ok),
])) {
  if (ok) passed++;
  else failed++;
}
for (const [name, ...projects] of [
  ['unit', 'unit', 'core'],
  ['browser', 'browser'],
]) {
  const report = join(folder, `${name}.json`);
  const ok = step(`${name} tests`, 'npx', [
    'vitest',
    'run',
    ...projects.flatMap((project) => ['--project', project]),
    '--reporter=default',
    '--reporter=json',
    `--outputFile.json=${report}`,
    ...(name === 'unit' ? ['--coverage'] : []),
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
for (const { name, without } of missingTools().optional)
  console.log(`\n${name} is not on this machine: ${without}.`);
console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed === 0 ? 0 : 1);
