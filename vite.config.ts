import { basename } from 'node:path';
import { fileURLToPath } from 'node:url';
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

/** The file and the class, so that a name on the screen leads to the place where it stands. */
const moduleOf = new Map<string, string>();
function scopedName(name: string, file: string): string {
  const base = basename(file).replace(/\.module\.css.*$/, '');
  if ((moduleOf.get(base) ?? file) !== file) throw new Error(`Two style sheets are called ${base}: ${file}`);
  moduleOf.set(base, file);
  return `${base}-${name}`;
}

export default defineConfig(({ isSsrBuild }) => ({
  plugins: [compiledChecks(), reactRouter()],
  resolve: { alias },
  css: { modules: { localsConvention: 'camelCaseOnly', generateScopedName: scopedName } },
  build: {
    // the pages' policy lets nothing in that is written into a style sheet
    assetsInlineLimit: 0,
    ...(isSsrBuild ? { rollupOptions: { input: here('./server/main.ts') } } : {}),
  },
  // MUI's and emotion's ES modules have to be bundled to resolve the same way on the server as in the browser
  ssr: { noExternal: [/^@mui\//, /^@emotion\//] },
  worker: { format: 'es', plugins: () => [compiledChecks()] },
  server: { host: process.env.HOST || '127.0.0.1', port: Number(process.env.PORT) || 3000 },
}));
