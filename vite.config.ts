import { readFile, writeFile } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import { brotliCompress, constants } from 'node:zlib';
import { reactRouter } from '@react-router/dev/vite';
import { defineConfig, type Plugin } from 'vite';
import { chunks } from './scripts/chunks.ts';
import { compileChecks } from './scripts/compile-checks.ts';
import { loadModule } from './scripts/load.mjs';

const here = (path: string) => fileURLToPath(new URL(path, import.meta.url));

export const alias = {
  '#core': here('./core'),
  '#server': here('./server'),
  '~': here('./app'),
  // its list of entries has none that a bundler for Node takes; this one needs neither Node nor DOM
  pdfkit: here('./node_modules/pdfkit/js/pdfkit.browser.mjs'),
};

/** What is made of a module once, for pages, workers and server alike. */
const made = new Map<string, Promise<string>>();
function makeOnce(id: string, make: () => Promise<string>): Promise<string> {
  const code = made.get(id) ?? make();
  made.set(id, code);
  return code;
}

/** Puts compiled checks in the place of those that would need a compiler where they run; see core/checker.ts. */
const compiledChecks = (): Plugin => ({
  name: 'compiled-checks',
  async load(id) {
    if (!id.endsWith('/checks.ts')) return null;
    return makeOnce(id, async () => compileChecks(await loadModule(id), id, here('./core/shape.ts')));
  },
});

/** Puts the facts of the formats in the place of the module that gathers them, which would load every reader and writer. */
const factsAsData = (): Plugin => ({
  name: 'facts-as-data',
  async load(id) {
    if (!id.endsWith('/core/formats/facts.ts')) return null;
    return makeOnce(id, async () => {
      const { formatFacts } = await loadModule(id);
      return `export const formatFacts = ${JSON.stringify(formatFacts)};`;
    });
  },
});

/** What is worth packing; fonts and pictures are packed already. */
const PACKED = /\.(js|css|svg|wasm|icc|json)$/;

/** The tightest but one: 2 % more bytes in half the time. */
const TIGHTLY = { params: { [constants.BROTLI_PARAM_QUALITY]: 10 } };

/** Lays a packed copy beside each file for the browser: once and tightly, instead of loosely at each request. */
const packed = (): Plugin => ({
  name: 'packed',
  async writeBundle({ dir }, bundle) {
    const files = Object.keys(bundle).filter((file) => PACKED.test(file));
    await Promise.all(
      files.map(async (file) => {
        const path = join(dir!, file);
        await writeFile(`${path}.br`, await promisify(brotliCompress)(await readFile(path), TIGHTLY));
      }),
    );
  },
});

/** The file and the class, so that a name on the screen leads to the place where it stands. */
const moduleOf = new Map<string, string>();
function scopedName(name: string, file: string): string {
  const base = basename(file).replace(/\.module\.css.*$/, '');
  if ((moduleOf.get(base) ?? file) !== file) throw new Error(`Two style sheets are called ${base}: ${file}`);
  moduleOf.set(base, file);
  return `${base}-${name}`;
}

/** The one part of core that does something when it is loaded: it tells the colour library which spaces there are. */
const REGISTERS = /core\/color\/culori\.ts$/;

export default defineConfig(({ isSsrBuild }) => ({
  plugins: [compiledChecks(), factsAsData(), reactRouter(), isSsrBuild ? null : packed()],
  resolve: { alias },
  css: { modules: { localsConvention: 'camelCaseOnly', generateScopedName: scopedName } },
  build: {
    // the pages' policy lets nothing in that is written into a style sheet
    assetsInlineLimit: 0,
    // one style sheet for all pages is smaller than the many requests for theirs
    cssCodeSplit: false,
    rolldownOptions: {
      ...(isSsrBuild
        ? { input: here('./server/main.ts') }
        : {
            // core is functions and data; what registers something as it loads is named
            treeshake: { moduleSideEffects: (id) => !id.startsWith(here('./core/')) || REGISTERS.test(id) },
            output: {
              // chunks that are joined may import each other
              strictExecutionOrder: true,
              codeSplitting: { groups: chunks },
            },
          }),
    },
  },
  // MUI's and emotion's ES modules have to be bundled to resolve the same way on the server as in the browser
  ssr: { noExternal: [/^@mui\//, /^@emotion\//] },
  worker: { format: 'es', plugins: () => [compiledChecks(), factsAsData()] },
  server: { host: process.env.HOST || '127.0.0.1', port: Number(process.env.PORT) || 3000 },
}));
