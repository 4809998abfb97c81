import { fileURLToPath } from 'node:url';
import { reactRouter } from '@react-router/dev/vite';
import { defineConfig } from 'vite';

const here = (path: string) => fileURLToPath(new URL(path, import.meta.url));

export const alias = {
  '#core': here('./core'),
  '#server': here('./server'),
  '~': here('./app'),
  // its list of entries has none that a bundler for Node takes; this one needs neither Node nor DOM
  pdfkit: here('./node_modules/pdfkit/js/pdfkit.browser.mjs'),
};

export default defineConfig({
  plugins: [reactRouter()],
  resolve: { alias },
  // MUI's and emotion's ES modules have to be bundled to resolve the same way on the server as in the browser
  ssr: { noExternal: [/^@mui\//, /^@emotion\//] },
  worker: { format: 'es' },
  server: { host: process.env.HOST || '127.0.0.1', port: Number(process.env.PORT) || 3000 },
});
