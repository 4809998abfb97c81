import type { Swatch } from '../swatch/model.ts';
import { oneLine } from '../text/text.ts';

/** Inks of every press, whose names mean themselves (ISO 32000-1, 8.6.6.5). */
export const PROCESS: readonly string[] = ['Cyan', 'Magenta', 'Yellow', 'Black'];

/**
 * Names that mean something else to every device: all plates, no plate (ISO 32000-1, 8.6.6.4), and the process inks
 * (8.6.6.5), whose plates a spot ink of that name would be painted on.
 */
const RESERVED = new Set(['All', 'None', ...PROCESS]);
/** The longest name of a PDF, in bytes (ISO 32000-1, Annex C). */
const MAX_NAME_BYTES = 127;

const bytesOf = (text: string) => new TextEncoder().encode(text).length;

/** A text cut to a number of bytes of UTF-8, without half a character at its end. */
function cutBytes(text: string, most: number): string {
  if (bytesOf(text) <= most) return text;
  const letters = [...text];
  while (bytesOf(letters.join('')) > most) letters.pop();
  return letters.join('');
}

/** What an ink's plate would be called if it were the only one. */
function plainName(name: string): string {
  const plain = cutBytes(oneLine(name.toWellFormed()), MAX_NAME_BYTES);
  if (plain.trim() === '') return 'Spot';
  return RESERVED.has(plain) ? `${plain} ink` : plain;
}

/**
 * Gives each ink a plate of its own: under its exact name, unless that is none, is kept for something else, is too long, or
 * is another ink's. Inks of one name and one color share a plate; a tint is on the plate of its ink.
 */
export class Plates {
  private readonly byInk = new Map<string, string>();
  private readonly taken = new Map<string, string>();
  private readonly first = new Map<string, Swatch>();

  constructor(swatches: readonly Swatch[]) {
    for (const swatch of swatches) {
      if (swatch.kind === 'process' || swatch.tint) continue;
      if (!this.first.has(swatch.name)) this.first.set(swatch.name, swatch);
      this.claim(swatch.name, swatch);
    }
  }

  private static key = (name: string, { color }: Pick<Swatch, 'color'>) =>
    `${name}\n${color.space} ${color.components.join(' ')}`;

  private claim(name: string, swatch: Pick<Swatch, 'color'>): string {
    const key = Plates.key(name, swatch);
    const known = this.byInk.get(key);
    if (known !== undefined) return known;
    const base = plainName(name);
    let free = base;
    for (let n = 2; this.taken.has(free); n++)
      free = `${cutBytes(base, MAX_NAME_BYTES - 1 - String(n).length)} ${n}`;
    this.taken.set(free, key);
    this.byInk.set(key, free);
    return free;
  }

  /** The ink that a name means: the first of that name. */
  inkNamed(name: string): Swatch | undefined {
    return this.first.get(name);
  }

  /** The plate of an ink. */
  of(swatch: Pick<Swatch, 'name' | 'color'>): string {
    return this.claim(swatch.name, swatch);
  }

  /** The plate that tints of a name are on. @param swatch stands for the ink where the library does not have it */
  named(name: string, swatch: Pick<Swatch, 'color'>): string {
    return this.claim(
      name,
      this.first.get(name) ?? { color: this.missing.get(name) ?? this.remember(name, swatch) },
    );
  }
  /** Inks that only their tints speak of have one plate for all. */
  private readonly missing = new Map<string, Swatch['color']>();
  private remember(name: string, { color }: Pick<Swatch, 'color'>) {
    this.missing.set(name, color);
    return color;
  }
}
