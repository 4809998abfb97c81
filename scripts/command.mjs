// Runs a built command, built first where need be: node scripts/command.mjs cli|data ARGUMENTS
import { ensureBuild, ensurePackages, run } from './setup.mjs';

const [what, ...args] = process.argv.slice(2);
await ensurePackages();
await ensureBuild();
run('node', [what === 'cli' ? 'cli/papillon.mjs' : `build/${what}/main.mjs`, ...args]);
