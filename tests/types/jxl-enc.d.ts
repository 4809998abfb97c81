declare module '@jsquash/jxl/codec/enc/jxl_enc.js' {
  export default function open(options: { wasmBinary: ArrayBuffer; noInitialRun: true }): Promise<{
    encode(data: Uint8ClampedArray, width: number, height: number, options: object): Uint8Array;
  }>;
}
