// The command line as JavaScript, built once and again after a change: compiling it at each call takes longer than its work.
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, renameSync, rmSync, statSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';

const root = fileURLToPath(new URL('..', import.meta.url));
const OUT = join(root, 'build', 'cli');
const SOURCES = ['cli', 'core', 'demo', 'profiles', 'scripts', 'package-lock.json'];

/** What the sources are: each with its time and size, in one number. */
function stateOf() {
  const hash = createHash('sha256');
  const visit = (path) => {
    const about = statSync(path);
    if (about.isDirectory()) for (const name of readdirSync(path).sort()) visit(join(path, name));
    else if (!/\.test\.tsx?$/.test(path)) hash.update(`${path} ${about.mtimeMs} ${about.size}\n`);
  };
  for (const source of SOURCES) visit(join(root, source));
  return hash.digest('hex').slice(0, 16);
}

/**
 * A source and all it imports as one script, `main.cjs` in a folder of its own.
 * @param {string} source
 * @param {string} folder
 * @param {string[]} left packages that are loaded where they lie
 */
export async function bundle(source, folder, left = []) {
  const [{ build }, { tsImport }] = await Promise.all([import('esbuild'), import('tsx/esm/api')]);
  const { compileChecks } = await tsImport('./compile-checks.ts', import.meta.url);
  mkdirSync(folder, { recursive: true });
  await build({
    entryPoints: { main: source },
    outdir: folder,
    outExtension: { '.js': '.cjs' },
    bundle: true,
    format: 'cjs',
    platform: 'node',
    target: 'node20',
    minify: left.length === 0,
    mainFields: ['module', 'main'],
    // a script that is kept compiled may not import; what it loads when it needs it has a form for that
    supported: { 'dynamic-import': false },
    logLevel: 'warning',
    // with binaries and files of their own beside them
    external: ['sharp', 'lcms-wasm', 'pdfkit', 'fontkit', 'geotiff', ...left],
    plugins: [
      {
        name: 'places',
        setup({ onLoad }) {
          // a check needs no compiler where it runs, as in the pages; see core/checker.ts
          onLoad({ filter: /[\\/]core[\\/].*[\\/]checks\.ts$/ }, async ({ path }) => ({
            contents: compileChecks(
              await tsImport(path, import.meta.url),
              path,
              join(root, 'core', 'shape.ts'),
            ),
            loader: 'js',
          }));
          // what lies beside a source is found beside the source, wherever it runs
          onLoad({ filter: /[\\/](cli|core|demo|profiles)[\\/].*\.ts$/ }, async ({ path }) => ({
            contents: (await readFile(path, 'utf8')).replaceAll(
              'import.meta.url',
              JSON.stringify(pathToFileURL(path).href),
            ),
            loader: 'ts',
          }));
        },
      },
    ],
  });
}

/** Builds where the build is missing or out of date. @returns the path of its first module */
export async function ensureCli() {
  const folder = join(OUT, stateOf());
  const main = join(folder, 'main.cjs');
  if (existsSync(main)) return main;
  // two calls at once build each for themselves, and the first that is ready counts
  const under = `${folder}.${process.pid}`;
  await bundle(join(root, 'cli', 'main.ts'), under);
  for (const name of existsSync(OUT) ? readdirSync(OUT) : [])
    if (!under.endsWith(name) && !name.includes('.'))
      rmSync(join(OUT, name), { recursive: true, force: true });
  try {
    renameSync(under, folder);
  } catch {
    // someone else was quicker
    rmSync(under, { recursive: true, force: true });
  }
  return main;
}
