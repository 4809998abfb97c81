import type { ConditionSetting, Lab, MetricId } from '#core/color/index';
import type { Entry, Limits } from '#core/match/index';
import type { MeasuredInk } from '#core/reading/model';
import type { Recipe } from '#core/reading/recipe';
import type { Spectrum } from '#core/swatch/index';

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
  /** Recipes for a colour from base inks that were measured over white and black. */
  recipes: { ask: { target: Spectrum; bases: MeasuredInk[] }; answer: Recipe[] };
  /** The same, and one chosen for each, none of them twice, so that all differences together are least. */
  translate: {
    ask: Where & { wanted: Wanted[]; n: number };
    answer: { nearest: FoundColor[][]; chosen: (FoundColor | null)[] };
  };
};
