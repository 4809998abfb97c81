// npm run fuzz -- [FILES] [SEED]     damaged files and pictures, in two processes
// npm run fuzz -- shapes [MEGABYTES] files that are made to take for ever
// npm run fuzz -- KIND [FILES] [SEED] damaged profiles (profile), or pictures of one kind (PNG, JPEG XL, PSD …)
import { KINDS } from './run.ts';
import { watched } from './watch.ts';

/** From then on a file is taken to hang. */
const LIMIT_MS = 15_000;
/** A seed for this many files: a new one brings new files to damage. */
const PORTION = 250_000;

const [first = '100000', second, third] = process.argv.slice(2);
const kind = KINDS.find((k) => k.toLowerCase() === first.toLowerCase());
if (kind) {
  const { files, opened, refused, slowestMs, slowest, slow, largestMB } = await watched(
    { kind, files: Number(second ?? 100_000), seed: Number(third ?? 1) },
    LIMIT_MS,
  );
  for (const one of slow) console.log(one);
  console.log(
    `${files} damaged files, ${kind}: ${opened} opened, ${refused} refused with a reason, ${slow.length} took over 2 s of processor time. ` +
      `Slowest ${slowestMs.toFixed(0)} ms (${slowest}), most memory of one ${largestMB} MB.`,
  );
} else if (first === 'shapes') {
  const megabytes = Number(second ?? 10);
  const { files, opened, refused, slowestMs, slowest, slow, peakMB } = await watched(
    { shapes: megabytes * 1024 * 1024 },
    LIMIT_MS,
  );
  for (const one of slow) console.log(one);
  console.log(
    `${files} tries at files of ${megabytes} MB that are made to take for ever: ${opened} opened, ${refused} refused with a reason. ` +
      `Slowest ${slowestMs.toFixed(0)} ms (${slowest}), peak memory ${peakMB} MB.`,
  );
} else {
  const files = Number(first);
  const from = Number(second ?? 1);
  const portions = Array.from({ length: Math.ceil(files / PORTION) }, (_, i) => ({
    seed: from + i,
    files: Math.min(PORTION, files - i * PORTION),
  }));
  const total = {
    files: 0,
    opened: 0,
    refused: 0,
    slowestMs: 0,
    slowest: '',
    slow: [] as string[],
    largestSwatches: 0,
    peakMB: 0,
  };
  const start = performance.now();
  const work = async () => {
    for (let task = portions.shift(); task; task = portions.shift()) {
      const done = await watched(task, LIMIT_MS);
      total.files += done.files;
      total.opened += done.opened;
      total.slow.push(...done.slow);
      total.refused += done.refused;
      if (done.slowestMs > total.slowestMs) [total.slowestMs, total.slowest] = [done.slowestMs, done.slowest];
      total.largestSwatches = Math.max(total.largestSwatches, done.largestSwatches);
      total.peakMB = Math.max(total.peakMB, done.peakMB);
      if (portions.length > 0)
        console.log(
          `${total.files} files, ${Math.round((performance.now() - start) / 1000)} s, slowest ${total.slowestMs.toFixed(0)} ms, peak ${total.peakMB} MB`,
        );
    }
  };
  await Promise.all([work(), work()]);
  console.log(
    `${total.files} damaged files, seeds from ${from}: ${total.opened} opened, ${total.refused} refused with a reason, none crashed, ${total.slow.length} took over 2 s.`,
  );
  console.log(
    `Slowest ${total.slowestMs.toFixed(1)} ms (${total.slowest}), largest result ${total.largestSwatches} swatches, peak memory ${total.peakMB} MB.`,
  );
}
