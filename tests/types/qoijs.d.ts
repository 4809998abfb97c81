declare module 'qoijs' {
  export function encode(
    colorData: Uint8Array | Uint8ClampedArray,
    description: { width: number; height: number; channels: number; colorspace: number },
  ): ArrayBuffer;
}
