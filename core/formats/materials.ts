import type { Condition } from '../color/index.ts';
import { decodeSrgb, encodeSrgb, toRgb } from '../color/index.ts';
import { allSwatches, type Library, type Swatch } from '../swatch/model.ts';
import { SURFACES, type Surface, surfaceOf, surfacesOf } from '../swatch/surfaces.ts';
import { FormatError } from '../text/error.ts';
import { plural } from '../text/text.ts';
import type { Draft } from './draft.ts';

/** A material as a 3D file has it. */
export interface Material {
  name: string;
  /** Its main colour as sRGB, 0 to 1. */
  rgb: readonly number[];
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
  add({ name, rgb, alpha, surface }: Material): void {
    if (rgb.length !== 3 || !rgb.every((v) => v >= 0 && v <= 1))
      throw new FormatError(`the colour of “${name.slice(0, 80)}” is not of numbers from 0 to 1.`);
    // what a role is made of stands under its name
    const role = surface && name !== '' && !this.own ? name : undefined;
    if (role && surface)
      this.surfaces.set(role, {
        metalness: part(surface.metalness, this.usual.metalness),
        roughness: part(surface.roughness, this.usual.roughness),
      });
    this.draft.add({
      name,
      color: { space: 'rgb', components: [...rgb] },
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

/** Linear light as sRGB, each 0 to 1; what is beyond stays beyond. */
export const fromLinear = (light: readonly number[]): number[] => light.map(encodeSrgb);

/** The materials that a library is written as, in its order. */
export function materialsOf(
  library: Library,
  condition: Condition,
): (Required<Omit<Material, 'rgb'>> & {
  swatch: Swatch;
  rgb: number[];
  linear: number[];
  surface: Surface;
})[] {
  const surfaces = surfacesOf(library);
  return allSwatches(library).map((swatch) => {
    const rgb = toRgb(swatch.color, condition).map((v) => Math.min(1, Math.max(0, v)));
    return {
      swatch,
      name: swatch.name,
      rgb,
      linear: rgb.map(decodeSrgb),
      alpha: swatch.alpha ?? 1,
      surface: surfaceOf(surfaces, swatch.role),
    };
  });
}
