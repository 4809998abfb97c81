import { parentPort } from 'node:worker_threads';
import { type EncodeAnswer, type EncodeJob, encodeFile } from './encode-file.ts';

// A thread of its own, so that a file of 100,000 swatches keeps nobody waiting. Started by `encode.ts`.

parentPort?.on('message', async ({ id, job }: { id: number; job: EncodeJob }) => {
  const answer: EncodeAnswer = { id, made: await encodeFile(job) };
  parentPort?.postMessage(answer, 'bytes' in answer.made ? [answer.made.bytes.buffer] : []);
});
