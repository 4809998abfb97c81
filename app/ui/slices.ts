/** How long one slice may block the page, ms; about one frame. */
const SLICE_MS = 16;

/**
 * Runs an iterator in slices, and yields to the page in between.
 *
 * @param work does one step per `next`
 * @returns false if it was stopped before the end
 */
export async function inSlices(work: Iterator<unknown>, stop: AbortSignal): Promise<boolean> {
  for (;;) {
    const end = performance.now() + SLICE_MS;
    // reading the clock costs as much as a step
    do {
      for (let i = 0; i < 50; i++) if (work.next().done) return !stop.aborted;
    } while (performance.now() < end);
    await new Promise((resolve) => setTimeout(resolve));
    if (stop.aborted) return false;
  }
}
