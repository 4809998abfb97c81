import type { Chosen, Finding, Found } from '#core/check/index';
import type { HoldQueries } from './pieces';

/** What the page asks the check worker, and what comes back for each. */
export type CheckQueries = HoldQueries & {
  /** Runs checks by their ids on what is kept. */
  run: { ask: { checks: string[]; chosen: Chosen }; answer: [id: string, found: Found][] };
  /** A finding with its fixes. */
  complete: { ask: { check: string; chosen: Chosen; finding: Finding }; answer: Finding };
};
