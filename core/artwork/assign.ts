import {
  type Color,
  type Condition,
  deltaE00,
  NotationError,
  parseColor,
  toHex,
  toLab,
} from '../color/index.ts';
import { allSwatches, type Library, type Swatch } from '../swatch/model.ts';
import { FormatError } from '../text/error.ts';
import { identifier } from '../text/identifier.ts';
import { uniquely } from '../text/text.ts';
import type { PaintedColor } from './parts.ts';

/** What becomes of one colour of a drawing. */
export interface Assignment<From extends PaintedColor = PaintedColor> {
  from: From;
  /** `#rrggbb`, as a screen shows the new colour; the same as before where nothing becomes of it. */
  to: string;
  color: Color;
  /** The swatch it is now, where it is one. */
  swatch?: Swatch;
  deltaE00: number;
}

/** What new colours are taken from, and which. */
export interface Assigning {
  /** Old colours, and what each becomes: a name, a code, a number or a colour, as they are typed. */
  map: readonly (readonly [from: string, to: string])[];
  /** Whether all others become the nearest of the library. */
  nearest: boolean;
  /** ΔE00; what is further from its nearest stays. */
  within: number;
}

const plain = (text: string) => text.normalize('NFC').trim().toLocaleLowerCase('en');

/**
 * The swatch that a text means: by code, by name, then by the number in a code, `612` for `KW 612 C`; null when it means none.
 * @throws FormatError when it means several of different colours
 */
export function swatchMeant(swatches: readonly Swatch[], text: string): Swatch | null {
  const wanted = plain(text);
  const ways: ((s: Swatch) => boolean)[] = [
    (s) => s.code === text || s.name === text,
    (s) => plain(s.code ?? '') === wanted || plain(s.name) === wanted,
    // a number alone, as the trade says it
    (s) =>
      /^\d+$/.test(wanted) &&
      new RegExp(`(?:^|\\D)0*${wanted.replace(/^0+(?=\d)/, '')}(?:$|\\D)`).test(s.code ?? s.name),
  ];
  for (const way of ways) {
    const found = wanted === '' ? [] : swatches.filter(way);
    const [first] = found;
    if (!first) continue;
    const same = found.every((s) => JSON.stringify(s.color) === JSON.stringify(first.color));
    if (same) return first;
    const all = found.map((s) => `“${s.code && s.code !== text ? `${s.code} ` : ''}${s.name}”`);
    throw new FormatError(
      `“${text}” means several swatches: ${all.slice(0, 6).join(', ')}${all.length > 6 ? ' …' : ''}. Say which by its whole name or code.`,
    );
  }
  return null;
}

/** @throws FormatError naming the text */
function colorMeant(text: string): Color | null {
  try {
    return parseColor(text);
  } catch (error) {
    if (error instanceof NotationError) return null;
    throw error;
  }
}

/**
 * Decides what every colour of a drawing becomes.
 *
 * @param library what names, numbers and nearest colours are looked up in
 * @param drawnUnder says which colour of the work is meant where old ones are given in inks
 * @throws FormatError for an old colour that is not in the drawing, or a new one that is nothing
 */
export function assignColors<From extends PaintedColor>(
  colors: readonly From[],
  library: Library,
  { map, nearest, within }: Assigning,
  condition: Condition,
  drawnUnder: Condition = condition,
): Assignment<From>[] {
  const swatches = allSwatches(library);
  const given = new Map<From, { color: Color; swatch?: Swatch }>();
  for (const [from, to] of map) {
    const color = colorMeant(from);
    const hex = color && toHex(color, drawnUnder);
    const called = colors.filter((c) => c.names.includes(from));
    if (!hex && called.length > 1)
      throw new FormatError(
        `several colours of the work are of “${from}”: ${called.map((c) => c.hex).join(', ')}. Say which by its code.`,
      );
    const old = colors.find((c) => c.hex === hex) ?? called[0];
    if (!old) {
      const list = colors.map((c) => c.hex);
      throw new FormatError(
        `“${from}” is neither a colour of the work nor the name of a part or ink. It has ${list.slice(0, 12).join(', ')}${list.length > 12 ? ` and ${list.length - 12} more` : ''}.`,
      );
    }
    const swatch = swatchMeant(swatches, to);
    const own = swatch?.color ?? colorMeant(to);
    if (!own)
      throw new FormatError(
        `“${to}” is neither a swatch of “${library.name}” by name, code or number, nor a colour. Colours are typed as #8a1c24 or “Lab 40 57 33”.`,
      );
    given.set(old, { color: own, ...(swatch ? { swatch } : {}) });
  }
  const labs = swatches.map((s) => toLab(s.color, condition));
  return colors.map((from) => {
    const lab = toLab(from.color, condition);
    let own = given.get(from);
    if (!own && nearest && swatches.length > 0) {
      let best = 0;
      let least = Number.POSITIVE_INFINITY;
      labs.forEach((other, i) => {
        const difference = deltaE00(lab, other);
        if (difference < least) [best, least] = [i, difference];
      });
      const swatch = swatches[best]!;
      if (least <= within) own = { color: swatch.color, swatch };
    }
    if (!own) return { from, to: from.hex, color: from.color, deltaE00: 0 };
    return {
      from,
      to: toHex(own.color, condition),
      color: own.color,
      ...(own.swatch ? { swatch: own.swatch } : {}),
      deltaE00: deltaE00(lab, toLab(own.color, condition)),
    };
  });
}

/** Which swatch parts have, for `recolored`, under names that are identifiers. */
export function linksOf(assignments: readonly Assignment[]): Map<number, { name: string; hex: string }> {
  const unique = uniquely();
  const names = new Map<Swatch, string>();
  const links = new Map<number, { name: string; hex: string }>();
  for (const { from, to, swatch } of assignments) {
    if (!swatch) continue;
    const name = names.get(swatch) ?? unique(identifier(swatch.name || swatch.code || ''));
    names.set(swatch, name);
    for (const part of from.parts) links.set(part.id, { name, hex: to });
  }
  return links;
}

/** The new colours of parts, for `recolored`; parts whose colour stays are not in it. */
export function changesOf(assignments: readonly Assignment[]): Map<number, string> {
  const changes = new Map<number, string>();
  for (const { from, to } of assignments)
    if (to !== from.hex) for (const part of from.parts) changes.set(part.id, to);
  return changes;
}
