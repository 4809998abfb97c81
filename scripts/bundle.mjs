// A script and all it imports as one file: compiling it at each call takes longer than its work.
import { readFile } from 'node:fs/promises';
import { join, relative } from 'node:path';
import { fileURLToPath } from 'node:url';
import { build } from 'esbuild';
import { loadModule } from './load.mjs';

const root = fileURLToPath(new URL('..', import.meta.url));
const { compileChecks } = await loadModule(join(root, 'scripts', 'compile-checks.ts'));

const compiled = new Map();
/** The compiled checks of a module, for all bundles. */
function checksOf(path) {
  const code =
    compiled.get(path) ??
    loadModule(path).then((module) => compileChecks(module, path, join(root, 'core', 'shape.ts')));
  compiled.set(path, code);
  return code;
}

/** With binaries and files of their own beside them. */
const EXTERNAL = ['sharp', 'lcms-wasm', 'pdfkit', 'fontkit', 'geotiff'];

const FORMATS = {
  // starts quickest, since V8 can keep what it made of it; may not import, and so loads what it needs by another form
  cjs: {
    outExtension: { '.js': '.cjs' },
    mainFields: ['module', 'main'],
    supported: { 'dynamic-import': false },
  },
  esm: { outExtension: { '.js': '.mjs' }, packages: 'external' },
};

/**
 * @param {string} source a module, from the project's root
 * @param {string} folder where its `main.cjs` or `main.mjs` goes
 * @param {{ format?: 'cjs' | 'esm', left?: string[], minify?: boolean }} options `left`: packages that are loaded where they lie
 */
export async function bundle(source, folder, { format = 'esm', left = [], minify = format === 'cjs' } = {}) {
  await build({
    entryPoints: { main: join(root, source) },
    outdir: join(root, folder),
    bundle: true,
    format,
    platform: 'node',
    target: 'node20',
    minify,
    logLevel: 'warning',
    external: [...EXTERNAL, ...left],
    ...FORMATS[format],
    plugins: [
      {
        name: 'places',
        setup({ onLoad }) {
          // a check needs no compiler where it runs, as in the pages; see core/checker.ts
          onLoad({ filter: /[\\/]core[\\/].*[\\/]checks\.ts$/ }, async ({ path }) => ({
            contents: await checksOf(path),
            loader: 'js',
          }));
          // what lies beside a source is found beside the source, wherever it runs
          onLoad({ filter: /[\\/](cli|core|demo|profiles)[\\/].*\.ts$/ }, async ({ path }) => ({
            contents: (await readFile(path, 'utf8')).replaceAll(
              'import.meta.url',
              placeOf(relative(join(root, folder), path), format),
            ),
            loader: 'ts',
          }));
        },
      },
    ],
  });
}

/** What says, from where the bundle lies, where a source lies. */
const placeOf = (path, format) =>
  format === 'esm'
    ? `new URL(${JSON.stringify(path.replaceAll('\\', '/'))}, import.meta.url).href`
    : `require('node:url').pathToFileURL(require('node:path').join(__dirname, ${JSON.stringify(path)})).href`;
