declare module 'lcms-wasm' {
  /** The part of Little CMS that the tests use; profiles and transforms are addresses. */
  export interface Lcms {
    cmsOpenProfileFromMem(bytes: Uint8Array, length: number): number;
    cmsGetProfileInfoASCII(profile: number, info: number, language: string, country: string): string;
    cmsCreateLab4Profile(): number;
    cmsCreateTransform(
      from: number,
      fromFormat: number,
      to: number,
      toFormat: number,
      intent: number,
      flags: number,
    ): number;
    cmsDoTransform(transform: number, input: ArrayLike<number>, size: number): Float32Array;
  }
  export function instantiate(): Promise<Lcms>;
}
