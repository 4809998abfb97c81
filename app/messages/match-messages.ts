import type { ConditionSetting, Lab, MetricId } from '#core/color/index';
import type { Entry, Limits } from '#core/match/index';

/** A colour of a book or library that was found, with what it is found in. */
export interface FoundColor extends Entry {
  source: string;
  sourceName: string;
  book: boolean;
  substrate: string;
  difference: number;
}

/** Where to look, how to measure, and what may be found. */
export interface Where {
  /** Ids of books and libraries. */
  sources: readonly string[];
  metric: MetricId;
  limits: Limits;
  /** The print condition, for what it reaches. */
  setting: ConditionSetting;
}

export interface Wanted {
  lab: Lab;
  /** What it is itself, which is not found: the ids of its library and of the swatch. */
  not?: [library: string, swatch: string];
}

/** What the page asks the match worker, and what comes back for each. */
export type MatchQueries = {
  /** The nearest few of each, the nearest first. */
  nearest: { ask: Where & { wanted: Wanted[]; n: number }; answer: FoundColor[][] };
  /** The same, and one chosen for each, none of them twice, so that all differences together are least. */
  translate: {
    ask: Where & { wanted: Wanted[]; n: number };
    answer: { nearest: FoundColor[][]; chosen: (FoundColor | null)[] };
  };
};
