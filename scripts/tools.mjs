// The programs and tables that the tests use besides npm's packages: found wherever this machine keeps them.
import { spawnSync } from 'node:child_process';
import { accessSync, constants, existsSync } from 'node:fs';
import { delimiter, join } from 'node:path';

function onPath(name) {
  for (const folder of (process.env.PATH ?? '').split(delimiter)) {
    const path = join(folder, name);
    try {
      accessSync(path, constants.X_OK);
      return path;
    } catch {
      // not in this one
    }
  }
  return null;
}

const BROWSERS = ['chromium', 'chromium-browser', 'google-chrome-stable', 'google-chrome', 'chrome'];
const MAC_BROWSERS = [
  'Chromium.app/Contents/MacOS/Chromium',
  'Google Chrome.app/Contents/MacOS/Google Chrome',
];

/** The browser: `CHROMIUM`, or the first there is. @returns its path, or null */
export function findBrowser() {
  const named = process.env.CHROMIUM;
  if (named) return existsSync(named) ? named : onPath(named);
  return (
    BROWSERS.map(onPath).find(Boolean) ??
    MAC_BROWSERS.map((path) => join('/Applications', path)).find((path) => existsSync(path)) ??
    null
  );
}

const SHARES = [
  ...(process.env.XDG_DATA_DIRS ?? '').split(delimiter).filter(Boolean),
  ...['/usr/local/share', '/usr/share', '/opt/homebrew/share'],
];

/**
 * A file or folder among the shared data of this machine.
 *
 * @param {string} path below a folder such as /usr/share
 * @returns {string | null}
 */
export const findShared = (path) =>
  SHARES.map((share) => join(share, path)).find((p) => existsSync(p)) ?? null;

const program = (name, packages) => ({ name, packages, found: () => onPath(name) });
const REQUIRED = [
  {
    name: 'Chromium',
    found: findBrowser,
    packages: { 'apt-get': 'chromium', dnf: 'chromium', brew: '--cask chromium' },
  },
  program('gs', { 'apt-get': 'ghostscript', dnf: 'ghostscript', brew: 'ghostscript' }),
  program('mutool', { 'apt-get': 'mupdf-tools', dnf: 'mupdf', brew: 'mupdf-tools' }),
  program('transicc', { 'apt-get': 'liblcms2-utils', dnf: 'lcms2-utils', brew: 'little-cms2' }),
];
/** Not every system has a package for these; checks against them are skipped without. */
const OPTIONAL = [
  {
    name: 'Measurements of print (FOGRA39L.ti3)',
    found: () => findShared('color/icc/FOGRA39L.ti3'),
    without: 'the profiles are not checked against what they were made of',
    packages: { 'apt-get': 'icc-profiles-free' },
  },
  {
    name: 'The CIE’s tables (colord)',
    found: () => findShared('colord/ref/CIE-TCS.sp'),
    without: 'colours of spectra are not checked against them',
    packages: { 'apt-get': 'colord-data', dnf: 'colord' },
  },
  {
    name: 'qpdf',
    found: () => onPath('qpdf'),
    without: 'changed PDFs are opened by two other readers, not by three',
    packages: { 'apt-get': 'qpdf', dnf: 'qpdf', brew: 'qpdf' },
  },
  {
    name: 'ReportLab',
    found: () => ['', '/usr'].some((root) => existsSync(`${root}/lib/python3/dist-packages/reportlab`)),
    without: 'PDFs that it made are not changed in tests',
    packages: { 'apt-get': 'python3-reportlab' },
  },
  {
    name: 'cairo for Python',
    found: () => ['', '/usr'].some((root) => existsSync(`${root}/lib/python3/dist-packages/cairo`)),
    without: 'PDFs that it made are not changed in tests',
    packages: { 'apt-get': 'python3-cairo', dnf: 'python3-cairo' },
  },
  {
    name: 'groff',
    found: () => onPath('groff') && existsSync('/usr/share/groff/current/font/devpdf'),
    without: 'PDFs that it made are not changed in tests',
    packages: { 'apt-get': 'groff', dnf: 'groff-perl' },
  },
];

const MANAGERS = {
  'apt-get': {
    before: ['update', '-qq'],
    install: ['install', '-y', '-qq', '--no-install-recommends'],
    root: true,
  },
  dnf: { install: ['install', '-y', '-q'], root: true },
  brew: { install: ['install', '--quiet'], root: false },
};

const manager = Object.keys(MANAGERS).find(onPath) ?? null;
const isRoot = process.getuid?.() === 0;

/** The missing tools. @returns also the path of the browser, or null */
export function missingTools() {
  const required = REQUIRED.filter(({ found }) => !found());
  return { browser: findBrowser(), required, optional: OPTIONAL.filter(({ found }) => !found()) };
}

const packagesOf = (tools) => tools.flatMap(({ packages }) => packages[manager] ?? []);

/** Says how to install tools. */
export function how(tools = REQUIRED) {
  if (!manager) return 'Install them, so that they are on PATH; CHROMIUM may name the browser.';
  const command = [manager, ...MANAGERS[manager].install.slice(0, 1), ...packagesOf(tools)].join(' ');
  return `Install with: ${MANAGERS[manager].root && !isRoot ? 'sudo ' : ''}${command}`;
}

/**
 * Installs missing tools: as root with apt-get, and with any package manager if asked.
 *
 * @param {{ asked: boolean }} options
 * @returns whether all required tools are installed
 */
export function installTools({ asked }) {
  const { required, optional } = missingTools();
  const packages = packagesOf([...required, ...optional]);
  const may = manager && (MANAGERS[manager].root ? isRoot : true) && (asked || manager === 'apt-get');
  if (packages.length > 0 && may) {
    const { before, install } = MANAGERS[manager];
    const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
    console.log(`Installing ${packages.join(', ')}…`);
    if (before) spawnSync(manager, before, { stdio: 'inherit', env });
    for (const name of packages)
      spawnSync(manager, [...install, ...name.split(' ')], { stdio: 'inherit', env });
  }
  return missingTools().required.length === 0;
}
