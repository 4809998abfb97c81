// npm run fuzz -- [FILES] [SEED]
import { fuzz } from './run.ts';

const [files = '100000', seed = '1'] = process.argv.slice(2);
const report = await fuzz(Number(files), Number(seed));
const memory = Math.round(process.memoryUsage().rss / 1e6);
console.log(
  `${report.files} damaged files, seed ${seed}: ${report.opened} opened, ${report.refused} refused with a reason, none crashed.`,
);
console.log(
  `Slowest ${report.slowestMs.toFixed(1)} ms, largest result ${report.largestSwatches} swatches, ${memory} MB resident.`,
);
