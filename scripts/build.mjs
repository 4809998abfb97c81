// Everything that is served or run: the pages, the server, and the commands.
import { rmSync, writeFileSync } from 'node:fs';
import { bundle } from './bundle.mjs';
import { BUILT, runQuietly } from './setup.mjs';

rmSync(BUILT, { force: true });
// its bundler warns of options that are not ours
await runQuietly('npx', ['react-router', 'build', '--logLevel', 'error']);
await Promise.all([
  bundle('cli/main.ts', 'build/cli', { format: 'cjs' }),
  bundle('scripts/data.ts', 'build/data'),
  bundle('server/encoder.ts', 'build/encoder'),
]);
writeFileSync(BUILT, '');
