import {
  type Condition,
  inGamut,
  type Lab,
  type Metric,
  NearIndex,
  pressGamut,
  REACHED,
  type Space,
} from '../color/index.ts';
import type { Kind, Swatch } from '../swatch/index.ts';

/** A book or library to look in, as columns: what is in it, without all that is known of each. */
export interface Source {
  id: string;
  name: string;
  book: boolean;
  substrate?: string;
  entries: Entry[];
}

/** A colour that can be found. */
export interface Entry {
  id: string;
  name: string;
  code?: string;
  kind: Kind;
  lab: Lab;
  hex: string;
  special?: Swatch['special'];
}

/** What may be found. */
export interface Limits {
  /** No further away than this; null for the nearest however far. */
  within: number | null;
  /** Only books and libraries on this substrate; empty for any. */
  substrate: string;
  kinds: readonly Kind[];
  /** Neither metallic nor fluorescent ones, which no press mixes and no screen shows. */
  reproducible: boolean;
  /** Only what the print condition reaches. */
  printable: boolean;
  /** Only what one of these spaces holds as it is, as those of a format; null for any. */
  spaces: readonly Space[] | null;
}

export const NO_LIMITS: Limits = {
  within: null,
  substrate: '',
  kinds: ['process', 'spot', 'technical'],
  reproducible: false,
  printable: false,
  spaces: null,
};

export interface Found {
  source: Source;
  entry: Entry;
  difference: number;
}

/** Whether a measured colour is held by a space as it is: inks as far as the press reaches, screens as far as they show. */
function holds(space: Space, lab: Lab, condition: Condition): boolean {
  const color = { space: 'lab' as const, components: lab };
  if (space === 'lab' || space === 'lch' || space === 'oklab' || space === 'oklch') return true;
  if (space === 'cmyk') return pressGamut(color, condition).deltaE00 <= REACHED;
  if (space === 'gray') return Math.hypot(lab[1], lab[2]) < GREY;
  // what other wide spaces hold, these two say near enough
  return inGamut(color, WIDE.has(space) ? 'p3' : 'rgb', condition);
}
const WIDE = new Set<Space>(['p3', 'a98', 'prophoto', 'rec2020']);
/** Under this chroma a gray is the same colour to any eye (common practice, no source). */
const GREY = 0.5;

/** Several books and libraries as one, to find the nearest in. Made once, asked often. */
export class Matcher {
  private readonly all: { source: Source; entry: Entry }[];
  private readonly index: NearIndex;
  private readonly allowed: ((place: number) => boolean) | undefined;
  private readonly within: number;

  /** @param condition needed for {@link Limits.printable} and {@link Limits.spaces} alone */
  constructor(
    sources: readonly Source[],
    readonly metric: Metric,
    limits: Limits = NO_LIMITS,
    condition?: Condition,
  ) {
    const kinds = new Set(limits.kinds);
    this.all = sources
      .filter((s) => limits.substrate === '' || s.substrate === limits.substrate)
      .flatMap((source) =>
        source.entries
          .filter((e) => kinds.has(e.kind) && !(limits.reproducible && e.special))
          .map((entry) => ({ source, entry })),
      );
    this.index = new NearIndex(
      this.all.map((a) => a.entry.lab),
      metric,
    );
    this.within = limits.within ?? Number.POSITIVE_INFINITY;
    const { printable, spaces } = limits;
    if ((printable || spaces) && condition) {
      // reaching for the press takes long: it is only asked about what is near enough to be taken
      const known = new Map<number, boolean>();
      this.allowed = (place) => {
        const before = known.get(place);
        if (before !== undefined) return before;
        const { lab } = this.all[place]!.entry;
        const held =
          (!printable || holds('cmyk', lab, condition)) &&
          (!spaces || spaces.some((space) => holds(space, lab, condition)));
        known.set(place, held);
        return held;
      };
    }
  }

  /** How many there are to be found. */
  get size(): number {
    return this.all.length;
  }

  /** The nearest few, the nearest first. */
  nearest(lab: Lab, n: number, without?: (found: Pick<Found, 'source' | 'entry'>) => boolean): Found[] {
    const wanted =
      this.allowed || without
        ? (place: number) => !without?.(this.all[place]!) && (this.allowed?.(place) ?? true)
        : undefined;
    return this.index
      .nearest(lab, n, this.within, wanted)
      .map(({ place, difference }) => ({ ...this.all[place]!, difference }));
  }

  /** The labs of all that can be found, and what each is of, in one order. */
  get labs(): Lab[] {
    return this.all.map((a) => a.entry.lab);
  }

  at(place: number): { source: Source; entry: Entry } {
    return this.all[place]!;
  }
}
