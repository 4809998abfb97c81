/** How often something is timed. */
export const RUNS = 5;

/** The quickest of several runs, ms: what else the machine does only ever makes one slower. */
export async function quickest(run: () => unknown, runs = RUNS): Promise<number> {
  let best = Number.POSITIVE_INFINITY;
  for (let i = 0; i < runs; i++) {
    const start = performance.now();
    await run();
    best = Math.min(best, performance.now() - start);
  }
  return best;
}
