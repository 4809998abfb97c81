// What a fresh machine needs before anything else runs. Only Node's own modules may be used here.
import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';

/** Runs a command in sight and stops when it fails. */
export function run(command, args, env = {}) {
  const { status } = spawnSync(command, args, { stdio: 'inherit', env: { ...process.env, ...env } });
  if (status !== 0) process.exit(status ?? 1);
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
export function ensurePackages() {
  if (hasPackages()) return;
  console.log('Installing packages…');
  // a server in production builds, too
  run('npm', ['ci', '--include=dev', '--no-fund', '--no-audit']);
}

/** What the build is made from. */
const SOURCES = [
  // the server computes the sample books
  ...['app', 'core', 'server', 'demo', 'profiles', 'public', 'scripts'],
  ...['package-lock.json', 'vite.config.ts', 'react-router.config.ts'],
];

function newest(path) {
  const about = statSync(path);
  if (!about.isDirectory()) return /\.test\.tsx?$/.test(path) ? 0 : about.mtimeMs;
  return Math.max(0, ...readdirSync(path).map((name) => newest(join(path, name))));
}

/** Builds when the build is missing, or a source has changed since, as after an update. */
export function ensureBuild() {
  // written last
  const built = 'build/server/index.js';
  if (existsSync(built) && statSync(built).mtimeMs >= Math.max(...SOURCES.map(newest))) return;
  console.log('Building…');
  run('npx', ['react-router', 'build', '--logLevel', 'warn']);
}

const places = ['/usr/bin/chromium', '/usr/bin/chromium-browser', '/usr/bin/google-chrome'];

/** Installs Debian packages, or says which to install where we may not. */
function installPackages(packages, why) {
  if (process.getuid?.() !== 0) {
    console.error(`${why} Install ${packages.join(' and ')} (apt-get install ${packages.join(' ')}).`);
    process.exit(1);
  }
  console.log(`Installing ${packages.join(', ')}…`);
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  execFileSync('apt-get', ['update', '-qq'], { stdio: 'inherit', env });
  execFileSync('apt-get', ['install', '-y', '-qq', '--no-install-recommends', ...packages], {
    stdio: 'inherit',
    env,
  });
}

/**
 * What the tests use besides npm's packages: a browser (`CHROMIUM`, or Debian's), two programs that give a second opinion on
 * PDF, one that does on colour, the measurements of two kinds of print, and the CIE's tables. Returns the browser's path.
 */
export function ensureTestTools() {
  const browser = [process.env.CHROMIUM, ...places].find((p) => p && existsSync(p));
  const missing = [
    ...(browser ? [] : ['chromium']),
    ...(existsSync('/usr/bin/gs') ? [] : ['ghostscript']),
    ...(existsSync('/usr/bin/mutool') ? [] : ['mupdf-tools']),
    ...(existsSync('/usr/bin/transicc') ? [] : ['liblcms2-utils']),
    ...(existsSync('/usr/share/color/icc/FOGRA39L.ti3') ? [] : ['icc-profiles-free']),
    ...(existsSync('/usr/share/colord/ref/CIE-TCS.sp') ? [] : ['colord-data']),
  ];
  if (missing.length > 0) installPackages(missing, 'The tests need more than npm’s packages.');
  return browser ?? places[0];
}
