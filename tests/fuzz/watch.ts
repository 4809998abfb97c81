import { fork } from 'node:child_process';
import { fileURLToPath } from 'node:url';
import { type FuzzReport, fuzz, fuzzKind, fuzzShapes, type Kind } from './run.ts';

export type Task = { files: number; seed: number; kind?: Kind } | { shapes: number };

/** What a child tells: what it begins with, from time to time; or what came of all. */
type Said = { at: string; rssMB: number } | { report: FuzzReport; peakMB: number } | { failed: string };

export interface Watched extends FuzzReport {
  /** The most memory the child had at any time. */
  peakMB: number;
}

/** Told at least so often, so that what hangs is known by its name. */
const TELL_MS = 100;

/**
 * Does a task in a process of its own and watches over it: what hangs inside one file can be stopped from outside alone.
 *
 * @param limitMs the longest that one file may take
 * @throws Error that names the file that hung, crashed, or filled the memory
 */
export function watched(task: Task, limitMs: number): Promise<Watched> {
  const child = fork(fileURLToPath(import.meta.url), [JSON.stringify(task)], {
    execArgv: ['--import', 'tsx', '--max-old-space-size=450', '--expose-gc'],
    stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
    // what one thread has let go of is used again by the others
    env: { ...process.env, MALLOC_ARENA_MAX: '1' },
  });
  return new Promise((resolve, reject) => {
    let at = 'the beginning';
    let timer = setTimeout(() => undefined, 0);
    const fail = (why: string) => {
      clearTimeout(timer);
      child.kill('SIGKILL');
      reject(new Error(why));
    };
    const wait = (ms: number) => {
      clearTimeout(timer);
      timer = setTimeout(() => fail(`${at} takes more than ${ms / 1000} s.`), ms);
    };
    // the formats have to be loaded first
    wait(120_000);
    child.on('message', (said: Said) => {
      if ('at' in said) {
        at = said.at;
        wait(limitMs + TELL_MS);
      } else if ('failed' in said) fail(said.failed);
      else {
        clearTimeout(timer);
        resolve({ ...said.report, peakMB: said.peakMB });
      }
    });
    child.on('exit', (code, signal) =>
      fail(`The process ended (${signal ?? code}) at ${at}, or soon after.`),
    );
  });
}

if (process.send && process.argv[1] === fileURLToPath(import.meta.url)) {
  const task: Task = JSON.parse(process.argv[2]);
  const say = (said: Said) => new Promise<void>((resolve) => process.send!(said, () => resolve()));
  let last = 0;
  const begin = (what: string) => {
    const now = performance.now();
    // every shape is reported; of very many small files only some, which their number finds again
    if (!('shapes' in task) && now - last < TELL_MS) return;
    last = now;
    void say({ at: what, rssMB: process.memoryUsage.rss() / 1e6 });
  };
  try {
    const report =
      'shapes' in task
        ? await fuzzShapes(task.shapes, begin)
        : task.kind
          ? await fuzzKind(task.kind, task.files, task.seed, begin)
          : await fuzz(task.files, task.seed, begin);
    await say({ report, peakMB: Math.round(process.resourceUsage().maxRSS / 1e3) });
  } catch (error) {
    await say({ failed: error instanceof Error ? error.message : String(error) });
  }
  process.exit(0);
}
