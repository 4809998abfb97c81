import type { XmlNode } from '../text/xml.ts';

/** How large a drawing is. */
export interface ArtworkSize {
  width: number;
  height: number;
  /** Pixels where the drawing says no more than that. */
  unit: 'mm' | 'px';
  /** The part of its plane that is shown: left, top, width, height in its own units. */
  view: [number, number, number, number];
}

const MM: Record<string, number> = { mm: 1, cm: 10, in: 25.4, pt: 25.4 / 72, pc: 25.4 / 6, q: 0.25 };
/** What a replaced element is where nothing says (CSS 2.1, 10.3.2). */
const [WIDTH, HEIGHT] = [300, 150];

/** A length in mm or pixels; null when it is relative or none. */
function lengthOf(text: string | undefined): { value: number; unit: 'mm' | 'px' } | null {
  const found = /^\s*\+?(\d*\.?\d+(?:e[-+]?\d+)?)\s*([a-z]*)\s*$/i.exec(text ?? '');
  if (!found) return null;
  const unit = found[2]!.toLowerCase();
  const value = Number(found[1]);
  if (!(value > 0 && value < 1e9)) return null;
  if (MM[unit]) return { value: value * MM[unit]!, unit: 'mm' };
  return unit === '' || unit === 'px' ? { value, unit: 'px' } : null;
}

/** The size a drawing states (SVG 2, 8.2): by width and height, else by its view box. */
export function sizeOf(root: XmlNode): ArtworkSize {
  const box = (root.attributes.viewBox ?? '')
    .trim()
    .split(/[\s,]+/)
    .map(Number);
  const view = box.length === 4 && box.every(Number.isFinite) && box[2]! > 0 && box[3]! > 0 ? box : null;
  const [w, h] = [lengthOf(root.attributes.width), lengthOf(root.attributes.height)];
  const ratio = view ? view[3]! / view[2]! : null;
  const unit = w?.unit ?? h?.unit ?? 'px';
  // one that is missing follows from the other by the view box
  const width = w?.value ?? (h && ratio ? h.value / ratio : (view?.[2] ?? WIDTH));
  const height = h && h.unit === unit ? h.value : ratio ? width * ratio : (view?.[3] ?? HEIGHT);
  return { width, height, unit, view: (view ?? [0, 0, width, height]) as ArtworkSize['view'] };
}

/** What pixels are worth: this many to an inch, or all the width in mm. */
export type Worth = { ppi: number } | { width: number };

/** The size in mm where the drawing states it or the user has said what its pixels are worth. */
export function trueSize<S extends Pick<ArtworkSize, 'width' | 'height' | 'unit'>>(
  size: S,
  worth?: Worth,
): S {
  if (size.unit === 'mm' || !worth) return size;
  const each = 'ppi' in worth ? 25.4 / worth.ppi : worth.width / size.width;
  return { ...size, width: size.width * each, height: size.height * each, unit: 'mm' };
}

/** A pixel of CSS, mm (CSS Values 4, 6.2). */
const PIXEL = 25.4 / 96;

/** How many mm a unit of the drawing is, by the scale at which all of it is seen. */
export function unitOf({ width, height, unit, view }: ArtworkSize): number {
  const scale = Math.min(width / view[2], height / view[3]);
  return scale * (unit === 'mm' ? 1 : PIXEL);
}
