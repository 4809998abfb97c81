#!/usr/bin/env node
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { dirname } from 'node:path';
import { fileURLToPath } from 'node:url';
import vm from 'node:vm';

const BUILT = fileURLToPath(new URL('../build/cli/main.cjs', import.meta.url));
if (!existsSync(BUILT)) {
  console.error('The command line is not built yet. Run “npm run build” first.');
  process.exit(2);
}

/** Runs the built command with what V8 made of it the last time, which spares it half of its start. */
function load(path) {
  const kept = `${path}.cache`;
  const cachedData = existsSync(kept) ? readFileSync(kept) : undefined;
  const script = new vm.Script(
    `(function (exports, require, module, __dirname) {${readFileSync(path, 'utf8')}\n})`,
    {
      filename: path,
      cachedData,
    },
  );
  const module = { exports: {} };
  script.runInThisContext()(module.exports, createRequire(path), module, dirname(path));
  return { ...module.exports, keep: () => keep(script, kept, cachedData) };
}

/** Once it has run, so that what it needed is compiled. */
function keep(script, path, cachedData) {
  if (cachedData && !script.cachedDataRejected) return;
  try {
    writeFileSync(path, script.createCachedData());
  } catch {
    // a folder that nobody may write to
  }
}

const { main, keep: remember } = load(BUILT);
/** Everything that comes in. */
async function input() {
  const chunks = [];
  for await (const chunk of process.stdin) chunks.push(chunk);
  return new Uint8Array(Buffer.concat(chunks));
}
const stop = new AbortController();
// only what goes on for ever has something to end; everything else ends at once, as the system has it
if (process.argv[2] === 'watch')
  for (const signal of ['SIGINT', 'SIGTERM']) process.once(signal, () => stop.abort());
process.stdout.on('error', ({ code }) => {
  // a reader that has enough is not a reason to complain
  if (code === 'EPIPE') process.exit(0);
  process.stderr.write(
    `standard output cannot be written (${code}). Free some room, or write to another place.\n`,
  );
  process.exit(1);
});
process.exitCode = await main(process.argv.slice(2), {
  out: (text) => process.stdout.write(text),
  err: (text) => process.stderr.write(text),
  bytes: (data) => process.stdout.write(data),
  input,
  stop: stop.signal,
});
remember();
