// What a fresh machine needs before anything else runs. Only Node's own modules may be used here.
import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync, statSync } from 'node:fs';

/** Runs a command in sight and stops when it fails. */
export function run(command, args, env = {}) {
  const { status } = spawnSync(command, args, { stdio: 'inherit', env: { ...process.env, ...env } });
  if (status !== 0) process.exit(status ?? 1);
}

/** Installs the npm packages when they are missing or older than the lock file. */
export function ensurePackages() {
  const installed = 'node_modules/.package-lock.json';
  if (existsSync(installed) && statSync(installed).mtimeMs >= statSync('package-lock.json').mtimeMs) return;
  console.log('Installing packages…');
  // not `npm ci`: it refuses a lock file that leaves out other systems' optional binaries, as some registries make it do
  run('npm', ['install', '--no-save', '--no-fund', '--no-audit']);
}

const places = ['/usr/bin/chromium', '/usr/bin/chromium-browser', '/usr/bin/google-chrome'];

/** The browser for the browser tests: `CHROMIUM`, or Debian's, installed when it is missing and we may. */
export function ensureChromium() {
  const found = [process.env.CHROMIUM, ...places].find((p) => p && existsSync(p));
  if (found) return found;
  if (process.getuid?.() !== 0) {
    console.error(
      'The browser tests need Chromium. Install it (apt-get install chromium) or set CHROMIUM to its path.',
    );
    process.exit(1);
  }
  console.log('Installing Chromium…');
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  execFileSync('apt-get', ['update', '-qq'], { stdio: 'inherit', env });
  execFileSync('apt-get', ['install', '-y', '-qq', '--no-install-recommends', 'chromium'], {
    stdio: 'inherit',
    env,
  });
  return places[0];
}
