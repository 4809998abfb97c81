// The part of Little CMS that is used here; profiles and transforms are addresses, 0 when they cannot be made.
declare module 'lcms-wasm' {
  export interface Lcms {
    cmsOpenProfileFromMem(bytes: Uint8Array, length: number): number;
    /** The engine's own function, by address: the wrapped one lays the bytes on the stack, which large profiles overflow. */
    _cmsOpenProfileFromMem(address: number, length: number): number;
    _malloc(bytes: number): number;
    _free(address: number): void;
    HEAPU8: Uint8Array;
    cmsCloseProfile(profile: number): void;
    cmsGetColorSpaceASCII(profile: number): string | null;
    cmsGetProfileInfoASCII(profile: number, info: number, language: string, country: string): string;
    cmsCreateLab4Profile(): number;
    cmsCreate_sRGBProfile(): number;
    cmsCreateTransform(
      from: number,
      fromFormat: number,
      to: number,
      toFormat: number,
      intent: number,
      flags: number,
    ): number;
    cmsDeleteTransform(transform: number): void;
    cmsDoTransform<T extends Uint8Array | Float32Array = Float32Array>(
      transform: number,
      input: ArrayLike<number>,
      size: number,
    ): T;
  }
  export function instantiate(options?: { locateFile?: (name: string) => string }): Promise<Lcms>;
}
