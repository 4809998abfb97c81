import { type Color, type Condition, contrast, notations, toHex, toLab } from '../color/index.ts';
import { keptLab } from '../reading/swatches.ts';
import type { LibraryPicture } from '../services.ts';
import {
  type Board,
  type BoardObject,
  LABELS,
  type LabelId,
  labelIds,
  MAX_OBJECTS,
} from '../swatch/board.ts';
import { artworksOf, isColorway } from '../swatch/colorway.ts';
import { type Gradient, gradientsOf } from '../swatch/gradient.ts';
import { isLoose, type Library, type Swatch, swatchIndex, swatchLabel } from '../swatch/model.ts';
import { readingsOf } from '../swatch/reading.ts';

export type BoardPicture = LibraryPicture;

/** What a board is laid out from. */
export interface BoardSources {
  library: Library;
  condition: Condition;
  pictures: readonly BoardPicture[];
  /** What stands for swatches elsewhere, in words, by their ids. */
  nearest?: ReadonlyMap<string, string>;
}

type Shown = Pick<Swatch, 'name' | 'kind' | 'color' | 'tint'> & { id?: string };

/** A value that stands with a colour. */
export interface LabelText {
  id: LabelId;
  text: string;
}

interface Common {
  /** Of the board's object. */
  of: string;
  name: string;
  labels: LabelText[];
  weight: number;
  share?: number;
}

/** Something that is laid out. An object of the board is one, or one for each swatch of a group. */
export type Thing = Common &
  (
    | { is: 'color'; swatch: Shown; heading?: string }
    | { is: 'stripes'; swatches: Shown[] }
    | { is: 'pair'; swatches: [Shown, Shown]; each: [LabelText[], LabelText[]] }
    | { is: 'gradient'; gradient: Gradient }
    | { is: 'picture'; picture: BoardPicture; colors: (Common & { is: 'color'; swatch: Shown })[] }
    | { is: 'work'; work: string; colorway: string | null; aspect: number }
    | { is: 'text'; text: string }
  );
export type ColorThing = Extract<Thing, { is: 'color' }>;

/** The notations of colors under a condition, which a board asks for at every step of a drag. */
const known = new WeakMap<Condition, WeakMap<Color, ReadonlyMap<string, string>>>();

function notationsOf(color: Color, condition: Condition): ReadonlyMap<string, string> {
  const own = known.get(condition) ?? new WeakMap<Color, ReadonlyMap<string, string>>();
  known.set(condition, own);
  let texts = own.get(color);
  if (!texts) {
    texts = new Map(notations(color, condition).map((n) => [n.id, n.text]));
    own.set(color, texts);
  }
  return texts;
}

const percent = (v: number) => `${v < 0.0995 ? (100 * v).toFixed(1) : Math.round(100 * v)} %`;

/** What stands with a swatch. @param ground what it lies on, for its contrast */
export function labelsOf(
  swatch: Swatch | Shown,
  wanted: readonly LabelId[],
  { condition, nearest }: Pick<BoardSources, 'condition' | 'nearest'>,
  ground: Color,
  coverage?: number,
): LabelText[] {
  const all = swatch as Partial<Swatch> & Shown;
  const written = notationsOf(swatch.color, condition);
  const texts: Record<LabelId, string> = {
    name: swatchLabel(swatch, condition),
    code: all.code ?? '',
    hex: written.get('hex') ?? '',
    rgb: written.get('rgb') ?? '',
    cmyk: written.get('cmyk') ?? '',
    lab: written.get('lab') ?? '',
    lch: written.get('lch') ?? '',
    role: all.role ?? '',
    coverage: coverage === undefined ? '' : percent(coverage),
    nearest: (all.id && nearest?.get(all.id)) || '',
    contrast: `${contrast(swatch.color, ground, condition).toFixed(1)} : 1`,
  };
  const own = labelIds.filter((id) => wanted.includes(id) && texts[id] !== '');
  // a swatch without a name is called by its code, which is not written twice
  const isNamed = swatch.name !== '';
  return own
    .filter((id) => id !== 'hex' || isNamed || !wanted.includes('name'))
    .map((id) => ({ id, text: texts[id] }));
}

const named = (id: LabelId, text: string): LabelText[] => (text ? [{ id, text }] : []);

/**
 * The objects of a board as what is laid out, and the names of those that the library does not have any more.
 * @param ground the color of the page
 */
export function thingsOf(
  { data }: Pick<Board, 'data'>,
  sources: BoardSources,
  ground: Color,
): {
  things: Thing[];
  missing: BoardObject[] /** Swatches of groups beyond what a board shows. */;
  omitted: number;
} {
  const { library, condition, pictures } = sources;
  const swatches = swatchIndex(library);
  const groups = new Map(library.groups.map((g) => [g.id, g]));
  const gradients = new Map(gradientsOf(library).map((g) => [g.id, g]));
  const works = new Map(artworksOf(library).map((w) => [w.id, w]));
  const readings = new Map(readingsOf(library).map((r) => [r.id, r]));
  const colorways = new Map((library.items ?? []).filter(isColorway).map((c) => [c.id, c]));
  const coverage = coverageOf(sources);
  const missing: BoardObject[] = [];
  let omitted = 0;

  const laid = (object: BoardObject): Thing[] | null => {
    const { id: of, refs, weight, share, labels: own } = object;
    const wanted = own ?? data.labels;
    const [first = '', second = ''] = refs;
    const common = (name: string): Common => ({
      ...{ of, name, weight, labels: wanted.includes('name') ? named('name', name) : [] },
      ...(share === undefined ? {} : { share }),
    });
    const labels = (s: Swatch) =>
      labelsOf(s, wanted, sources, ground, coverage.get(toHex(s.color, condition)));
    const color = (s: Swatch): ColorThing => ({
      ...{ ...common(swatchLabel(s, condition)), is: 'color', swatch: s },
      labels: labels(s),
    });
    const here = refs.flatMap((id) => swatches.get(id)?.swatch ?? []);
    switch (object.of) {
      case 'swatch':
        return here.length === 1 ? here.map(color) : null;
      case 'group': {
        const group = groups.get(first);
        if (!group) return null;
        // the members of a group with a share of its own have that together
        const part = share === undefined ? {} : { share: share / Math.max(1, group.swatches.length) };
        const heading = isLoose(library, group) ? {} : { heading: group.name };
        const shown = group.swatches.slice(0, MAX_OBJECTS);
        omitted += group.swatches.length - shown.length;
        return shown.map((s, i) => ({ ...color(s), ...part, ...(i === 0 ? heading : {}) }));
      }
      case 'ribbon':
        return here.length > 0 ? [{ ...common(object.name), is: 'stripes', swatches: here }] : null;
      case 'pair': {
        const [a, b] = here;
        if (!a || !b) return null;
        const name = `${swatchLabel(a, condition)}, ${swatchLabel(b, condition)}`;
        return [{ ...common(name), is: 'pair', swatches: [a, b], each: [labels(a), labels(b)] }];
      }
      case 'gradient': {
        const gradient = gradients.get(first);
        return gradient ? [{ ...common(gradient.name), is: 'gradient', gradient }] : null;
      }
      case 'picture': {
        const picture = pictures.find((p) => p.id === first);
        if (!picture) return null;
        const colors = [...picture.colors]
          .sort((a, b) => b.share - a.share)
          .map(({ color, name, share }) => {
            const swatch: Shown = { name, kind: 'process', color };
            return {
              ...{ of, is: 'color' as const, swatch, name: swatchLabel(swatch, condition), weight, share },
              labels: labelsOf(swatch, wanted, sources, ground, share),
            };
          });
        return [{ ...common(picture.name), is: 'picture', picture, colors }];
      }
      case 'work': {
        const work = works.get(first);
        const colorway = second ? colorways.get(second) : null;
        if (!work || colorway === undefined) return null;
        const { width, height } = work.data;
        return [
          {
            ...common(colorway ? `${work.name}, ${colorway.name}` : work.name),
            ...{ is: 'work', work: work.id, colorway: colorway?.id ?? null, aspect: width / height },
          },
        ];
      }
      case 'reading': {
        const reading = readings.get(first);
        if (!reading) return null;
        const { ink } = reading.data;
        const swatches = ink.steps
          .filter((step) => step.backing === 'white' && step.percent > 0)
          .map(
            ({ percent, spectrum }): Shown => ({
              ...{ name: ink.name, kind: 'spot' },
              color: { space: 'lab', components: keptLab(spectrum) },
              ...(percent < 100 ? { tint: { of: ink.name, percent } } : {}),
            }),
          );
        return swatches.length > 0 ? [{ ...common(reading.name), is: 'stripes', swatches }] : null;
      }
      case 'text':
        return [{ ...common(''), is: 'text', text: object.name }];
    }
  };
  const things = data.objects.flatMap((object) => {
    const found = laid(object);
    if (!found) missing.push(object);
    return found ?? [];
  });
  // a board of large groups stays as quick as one of as many swatches
  omitted += Math.max(0, things.length - MAX_OBJECTS);
  return { things: things.slice(0, MAX_OBJECTS), missing, omitted };
}

/** How much of the pictures colours cover, by what they look like. */
function coverageOf({ pictures, condition }: BoardSources): ReadonlyMap<string, number> {
  const found = new Map<string, number>();
  for (const { colors } of pictures)
    for (const { color, share } of colors) {
      const hex = toHex(color, condition);
      if (!found.has(hex)) found.set(hex, share);
    }
  return found;
}

/** What the labels are called at the head of a column. */
export const headOf = (id: LabelId): string => ({ ...LABELS, nearest: 'nearest', code: 'code' })[id];

/** Whether dark text reads on a color better than light. */
export const takesDark = (color: Color, condition: Condition): boolean => {
  const white: Color = { space: 'lab', components: [100, 0, 0] };
  const black: Color = { space: 'lab', components: [0, 0, 0] };
  return contrast(color, black, condition) >= contrast(color, white, condition);
};

/** L* of a color. */
export const lightnessOf = (color: Color, condition: Condition) => toLab(color, condition)[0];
