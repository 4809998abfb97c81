import type { Chosen, Finding, Found } from '#core/check/index';
import type { Library } from '#core/swatch/index';

/** What the page asks the check worker, and what comes back for each. */
export type CheckQueries = {
  /** Keeps what is checked, so that it travels once. */
  hold: { ask: { library: Library; against: Library | null }; answer: null };
  release: { ask: { library: null }; answer: null };
  /** Runs checks by their ids on what is kept. */
  run: { ask: { checks: string[]; chosen: Chosen }; answer: [id: string, found: Found][] };
  /** A finding with its mends. */
  complete: { ask: { check: string; chosen: Chosen; finding: Finding }; answer: Finding };
};
