import type { Color } from '../color/model.ts';

export const CIRCLES = ['perceptual', 'pigment', 'screen'] as const;
export type CircleId = (typeof CIRCLES)[number];

/** A color by its place on a circle of hues: lightness and chroma of OKLCh, and the place in degrees. */
export type Placed = [L: number, C: number, place: number];

export const WAYS_ALONG = ['base', 'spread', 'curve'] as const;

/** How a quantity goes through the members: as the base has it, spread to both sides of it, or along a curve. */
export interface Along {
  by: (typeof WAYS_ALONG)[number];
  /** How far, −1 to 1: OKLCh lightness, or chroma as a part of the base's. */
  amount: number;
  /** Of the curve: under 1 it rises early, over 1 late. */
  bend: number;
}

export const EXTRAS = ['lighter', 'darker', 'neutral'] as const;
export type Extra = (typeof EXTRAS)[number];

/** What a family is asked for; JSON, so that a take and a swatch can keep it. */
export interface Asked {
  /** As they were authored. */
  bases: { color: Color; name?: string }[];
  rule: string;
  circle: CircleId;
  /** Degrees, for rules with an angle. */
  angle?: number;
  count?: number;
  lightness: Along;
  chroma: Along;
  /** ΔE00 between neighbours of a run is the same. */
  even?: boolean;
  /** Members beside those of the rule. */
  also?: Extra[];
  /** What the user has moved members by: lightness, chroma, degrees; by key. */
  moved?: Record<string, Placed>;
  /** What members were kept inside: `rgb`, `p3`, `press` or a profile's hash. */
  inside?: string;
  /** Members that stay where they are, whatever happens to the others. */
  held?: Record<string, Placed>;
}

export const MAX_BASES = 4;
