// Loads a TypeScript module with all it imports in one go, which takes a tenth of the time of one by one.
import { createHash } from 'node:crypto';
import { join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import { build } from 'esbuild';

const CACHE = fileURLToPath(new URL('../node_modules/.cache/papillon', import.meta.url));

/**
 * @param {string} path of a module that is read as it is now
 * @returns {Promise<any>} what it exports
 */
export async function loadModule(path) {
  const outfile = join(CACHE, `${createHash('sha256').update(path).digest('hex').slice(0, 12)}.mjs`);
  await build({
    entryPoints: [path],
    outfile,
    bundle: true,
    packages: 'external',
    format: 'esm',
    platform: 'node',
    target: 'node20',
    logLevel: 'warning',
  });
  return import(`${pathToFileURL(outfile)}?${Date.now()}`);
}
