// Fills a new folder with the sample scenario: node scripts/seed.mjs FOLDER
import { renameSync, rmSync } from 'node:fs';
import { resolve } from 'node:path';
import { bundle } from './bundle.mjs';
import { run } from './setup.mjs';

const folder = resolve(process.argv[2] ?? 'data/demo');
const built = 'node_modules/.cache/papillon/seed';
await bundle('demo/seed.ts', built);
// whole or not at all
const part = `${folder}.part`;
rmSync(part, { recursive: true, force: true });
run('node', [`${built}/main.mjs`, part], { DATABASE_URL: `file:${part}/papillon.db` });
rmSync(folder, { recursive: true, force: true });
renameSync(part, folder);
