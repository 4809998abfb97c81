/** So long the page may be busy in one go, ms: half of what is felt while typing. */
const SLICE_MS = 16;

/**
 * Does work step by step, and lets the page answer in between.
 *
 * @param work a step to each `next`
 * @returns false where it was stopped before its end
 */
export async function inSlices(work: Iterator<unknown>, stop: AbortSignal): Promise<boolean> {
  for (;;) {
    const end = performance.now() + SLICE_MS;
    // the clock is asked now and then: asking it costs as much as a step
    do {
      for (let i = 0; i < 50; i++) if (work.next().done) return !stop.aborted;
    } while (performance.now() < end);
    await new Promise((resolve) => setTimeout(resolve));
    if (stop.aborted) return false;
  }
}
