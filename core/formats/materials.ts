import { type Color, type Condition, decodeSrgb, encodeSrgb, spaces, toRgb } from '../color/index.ts';
import { allSwatches, type Library } from '../swatch/model.ts';
import { SURFACES, type Surface, surfacesOf } from '../swatch/surfaces.ts';
import { FormatError } from '../text/error.ts';
import { plural } from '../text/text.ts';
import type { Draft } from './draft.ts';

/** A material as a 3D file has it. */
export interface Material {
  name: string;
  color: Color;
  alpha?: number | undefined;
  /** How it takes the light, where the file says so. */
  surface?: { [P in keyof Surface]?: number | undefined } | undefined;
}

const part = (value: number | undefined, otherwise: number) =>
  value === undefined || !Number.isFinite(value) ? otherwise : Math.min(1, Math.max(0, value));

/** Materials while a file is read: their colours become swatches, and under their names goes how they take the light. */
export class Materials {
  private readonly surfaces = new Map<string, Surface>();
  private pictured = 0;

  /**
   * @param own whether Papillon wrote the file: its roles are in the library, not here
   * @param usual what counts where a material says the one and not the other
   */
  constructor(
    private readonly draft: Draft,
    private readonly own: boolean,
    private readonly usual: Surface,
  ) {}

  /** Its colour is a picture, or computed; what that is multiplied with may be read. */
  isPictured(): void {
    this.pictured++;
  }

  /** @throws FormatError when its colour is none */
  add({ name, color, alpha, surface }: Material): void {
    if (!color.components.every(Number.isFinite))
      throw new FormatError(`the colour of “${name.slice(0, 80)}” is not of three numbers.`);
    // what a role is made of stands under its name
    const role = surface && name !== '' && !this.own ? name : undefined;
    if (role && surface)
      this.surfaces.set(role, {
        metalness: part(surface.metalness, this.usual.metalness),
        roughness: part(surface.roughness, this.usual.roughness),
      });
    this.draft.add({
      name,
      color,
      ...(alpha !== undefined && alpha >= 0 && alpha < 1 ? { alpha } : {}),
      ...(role ? { role } : {}),
    });
  }

  done(): void {
    if (this.surfaces.size > 0)
      this.draft.items.push({
        kind: SURFACES,
        name: '',
        data: { byRole: Object.fromEntries(this.surfaces) },
      });
    if (this.pictured > 0)
      this.draft.warn(
        `${plural(this.pictured, 'material has', 'materials have')} a picture for a colour; what it is multiplied with was read. Take colours from pictures in Gather.`,
      );
  }
}

/** Linear light with the primaries of sRGB as a colour; one beyond sRGB is given in Lab. */
export function fromLinear(light: readonly number[]): Color {
  // rounding of a conversion does not lead out of the range
  const components = light
    .map(encodeSrgb)
    .map((v) => (Math.abs(v - Math.round(v)) < 1e-6 ? Math.round(v) : v));
  if (components.every((v) => v >= 0 && v <= 1)) return { space: 'rgb', components };
  return { space: 'lab', components: spaces.lab.fromCulori(spaces.rgb.toCulori(components)) };
}

/** A name of letters, digits and underscores that begins with a letter, as elements of scenes have. */
export function nameInScene(name: string): string {
  const plain = name
    .normalize('NFKD')
    .replace(/[\u0300-\u036f]/g, '')
    .replace(/[^A-Za-z0-9_]+/g, '_')
    .replace(/^_+|_+$/g, '')
    .slice(0, 200);
  return /^[A-Za-z]/.test(plain) ? plain : plain ? `m_${plain}` : 'material';
}

/** A swatch as a material: its colour as sRGB and as linear light, each 0 to 1. */
interface WrittenMaterial {
  name: string;
  rgb: number[];
  linear: number[];
  alpha: number;
  /** Undefined where its role has none. */
  surface: Surface | undefined;
}

/** The materials that a library is written as, in its order. */
export function materialsOf(library: Library, condition: Condition): WrittenMaterial[] {
  const surfaces = surfacesOf(library);
  return allSwatches(library).map(({ name, color, alpha = 1, role = '' }) => {
    const rgb = toRgb(color, condition).map((v) => Math.min(1, Math.max(0, v)));
    return { name, rgb, linear: rgb.map(decodeSrgb), alpha, surface: surfaces.get(role) };
  });
}
