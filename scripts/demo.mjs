// Serves the sample scenario from a data folder of its own: npm run demo [-- --fresh]
import { existsSync, rmSync } from 'node:fs';
import { resolve } from 'node:path';
import { serve } from './serve.mjs';
import { ensureBuild, ensurePackages, ensurePort, runQuietly, step } from './setup.mjs';

const folder = resolve('data/demo');
const env = {
  NODE_ENV: 'production',
  HOST: process.env.HOST || '127.0.0.1',
  PORT: process.env.PORT || '4100',
  DATABASE_URL: `file:${folder}/papillon.db`,
  PAPILLON_SAMPLES: `${folder}/pictures`,
};
await ensurePort(env.PORT, env.HOST);
await ensurePackages();
if (process.argv.includes('--fresh')) rmSync(folder, { recursive: true, force: true });
const isNew = !existsSync(`${folder}/papillon.db`);
// painted while it is built
const seeded = isNew ? runQuietly('node', ['scripts/seed.mjs', folder]) : Promise.resolve();
await ensureBuild();
if (isNew) await step('Painting the sample pictures and filling the libraries', () => seeded);
Object.assign(process.env, env);
console.log(`\nPapillon’s demo is at ${await serve()}  (Ctrl+C ends it; --fresh starts it over)\n`);
