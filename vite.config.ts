import { readFile, writeFile } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import { brotliCompress } from 'node:zlib';
import { reactRouter } from '@react-router/dev/vite';
import { tsImport } from 'tsx/esm/api';
import { defineConfig, type Plugin } from 'vite';
import { compileChecks } from './scripts/compile-checks.ts';

const here = (path: string) => fileURLToPath(new URL(path, import.meta.url));

export const alias = {
  '#core': here('./core'),
  '#server': here('./server'),
  '~': here('./app'),
  // its list of entries has none that a bundler for Node takes; this one needs neither Node nor DOM
  pdfkit: here('./node_modules/pdfkit/js/pdfkit.browser.mjs'),
};

/** Puts compiled checks in the place of those that would need a compiler where they run; see core/checker.ts. */
const compiledChecks = (): Plugin => ({
  name: 'compiled-checks',
  async load(id) {
    if (!id.endsWith('/checks.ts')) return null;
    return compileChecks(await tsImport(id, import.meta.url), id, here('./core/shape.ts'));
  },
});

/** Puts the facts of the formats in the place of the module that gathers them, which would load every reader and writer. */
const factsAsData = (): Plugin => ({
  name: 'facts-as-data',
  async load(id) {
    if (!id.endsWith('/core/formats/facts.ts')) return null;
    const { formatFacts } = await tsImport(id, import.meta.url);
    return `export const formatFacts = ${JSON.stringify(formatFacts)};`;
  },
});

/** What is worth packing; fonts and pictures are packed already. */
const PACKED = /\.(js|css|svg|wasm|icc|json)$/;

/** Lays a packed copy beside each file for the browser: once as tightly as it goes, instead of loosely at each request. */
const packed = (): Plugin => ({
  name: 'packed',
  async writeBundle({ dir }, bundle) {
    const files = Object.keys(bundle).filter((file) => PACKED.test(file));
    await Promise.all(
      files.map(async (file) => {
        const path = join(dir!, file);
        await writeFile(`${path}.br`, await promisify(brotliCompress)(await readFile(path)));
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

/** Before they are minified and packed; smaller ones are joined, as each costs a request. */
const MIN_CHUNK_BYTES = 40_000;

export default defineConfig(({ isSsrBuild }) => ({
  plugins: [compiledChecks(), factsAsData(), reactRouter(), isSsrBuild ? null : packed()],
  resolve: { alias },
  css: { modules: { localsConvention: 'camelCaseOnly', generateScopedName: scopedName } },
  build: {
    // the pages' policy lets nothing in that is written into a style sheet
    assetsInlineLimit: 0,
    // one style sheet for all pages is smaller than the many requests for theirs
    cssCodeSplit: false,
    rollupOptions: {
      ...(isSsrBuild
        ? { input: here('./server/main.ts') }
        : {
            // core is functions and data; what registers something as it loads is named
            treeshake: { moduleSideEffects: (id) => !id.startsWith(here('./core/')) || REGISTERS.test(id) },
            output: { experimentalMinChunkSize: MIN_CHUNK_BYTES },
          }),
    },
  },
  // MUI's and emotion's ES modules have to be bundled to resolve the same way on the server as in the browser
  ssr: { noExternal: [/^@mui\//, /^@emotion\//] },
  worker: { format: 'es', plugins: () => [compiledChecks(), factsAsData()] },
  server: { host: process.env.HOST || '127.0.0.1', port: Number(process.env.PORT) || 3000 },
}));
