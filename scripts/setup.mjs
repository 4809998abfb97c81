// What a fresh machine needs before anything else runs: npm run setup. Only Node's own modules may be used here.
import { spawn, spawnSync } from 'node:child_process';
import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs';
import { createServer } from 'node:net';
import { fileURLToPath } from 'node:url';
import { how, installTools, missingTools } from './tools.mjs';

const [major, minor] = process.versions.node.split('.').map(Number);
if (major < 20 || (major === 20 && minor < 19))
  stop(
    `Papillon needs Node 20.19 or newer; this is ${process.versions.node}. .nvmrc names a version that fits.`,
  );

/** Prints one line and exits with 1. */
export function stop(why) {
  console.error(why);
  process.exit(1);
}

/** Runs a command with its output, and exits if it fails. */
export function run(command, args, env = {}) {
  const { status } = spawnSync(command, args, { stdio: 'inherit', env: { ...process.env, ...env } });
  if (status !== 0) process.exit(status ?? 1);
}

/** Shows a name, awaits the work, and prints how long it took. */
export async function step(name, work) {
  const start = performance.now();
  process.stderr.write(`${name}… `);
  await work();
  console.error(`${((performance.now() - start) / 1000).toFixed(0)} s`);
}

/** Runs a command without its output; if it fails, prints the output and exits. */
export function runQuietly(command, args) {
  return new Promise((done) => {
    let said = '';
    const child = spawn(command, args);
    for (const stream of [child.stdout, child.stderr])
      stream.on('data', (data) => {
        said += data;
      });
    child.on('close', (status) => {
      if (status === 0) return done();
      console.error(`\n${said}`);
      process.exit(status ?? 1);
    });
  });
}

const packagesIn = (path) => JSON.parse(readFileSync(path, 'utf8')).packages;

/** Whether the packages are those that the lock file names, whoever installed them. */
function hasPackages() {
  // npm's own record of what it has installed
  const record = 'node_modules/.package-lock.json';
  if (!existsSync(record)) return false;
  const installed = packagesIn(record);
  return Object.entries(packagesIn('package-lock.json')).every(
    ([path, { integrity, optional, devOptional }]) => {
      if (path === '') return true;
      // of optional ones those for this machine alone are there
      return installed[path] ? installed[path].integrity === integrity : optional || devOptional;
    },
  );
}

/** Installs the npm packages when they are missing, or others than the lock file names. */
export async function ensurePackages() {
  if (hasPackages()) return;
  // a server in production builds, too
  await step('Installing packages', () =>
    runQuietly('npm', ['ci', '--include=dev', '--no-fund', '--no-audit', '--prefer-offline']),
  );
}

/** What the build is made from. */
const SOURCES = [
  // the server computes the sample books
  ...['app', 'cli', 'core', 'server', 'demo', 'profiles', 'public', 'scripts'],
  ...['package-lock.json', 'vite.config.ts', 'react-router.config.ts'],
];

function newest(path) {
  const about = statSync(path);
  if (!about.isDirectory()) return /\.test\.tsx?$/.test(path) ? 0 : about.mtimeMs;
  return Math.max(0, ...readdirSync(path).map((name) => newest(`${path}/${name}`)));
}

/** Written at the end of a complete build. */
export const BUILT = 'build/built';

/** Builds when the build is missing, or a source has changed since, as after an update. */
export async function ensureBuild() {
  if (existsSync(BUILT) && statSync(BUILT).mtimeMs >= Math.max(...SOURCES.map(newest))) return;
  await step('Building', () => runQuietly('node', ['scripts/build.mjs']));
}

/** Exits if another program uses the port, before anything is built. */
export async function ensurePort(port, host) {
  // anything else that is wrong with them is for the server to report
  if (!/^\d{1,5}$/.test(port) || Number(port) > 65_535) return;
  await new Promise((free) => {
    const server = createServer()
      .once('error', ({ code }) =>
        code === 'EADDRINUSE'
          ? stop(`Papillon does not start: another program listens on port ${port}. Set PORT to another one.`)
          : free(),
      )
      .listen(Number(port), host.replace(/^\[|\]$/g, ''), () => server.close(free));
  });
}

/** Makes sure that the tests' tools are installed. @returns the path of the browser */
export function ensureTestTools() {
  const { required } = missingTools();
  if (required.length > 0 && !installTools({ asked: false }))
    stop(`The tests need ${required.map(({ name }) => name).join(', ')}. ${how(required)}`);
  const { browser } = missingTools();
  return browser ?? stop(`No Chromium was found. ${how()}`);
}

if (process.argv[1] === fileURLToPath(import.meta.url)) {
  await ensurePackages();
  installTools({ asked: true });
  const { required, optional } = missingTools();
  if (required.length > 0)
    stop(`Still missing: ${required.map(({ name }) => name).join(', ')}. ${how(required)}`);
  for (const { name, without } of optional) console.log(`${name} is not on this machine: ${without}.`);
  console.log('Everything is there: npm run demo, npm test.');
}
