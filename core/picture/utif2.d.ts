// The part of utif2 that is used here; its own types need Node's, which core is checked without.
declare module 'utif2' {
  interface Page {
    width: number;
    height: number;
    data: Uint8Array;
    /** Tags by number: t274 is the orientation, t258 the bits, t262 the photometric interpretation, t277 the channels. */
    [tag: `t${number}`]: number[] | undefined;
  }
  const UTIF: {
    decode(buffer: ArrayBuffer): Page[];
    decodeImage(buffer: ArrayBuffer, page: Page): void;
    toRGBA8(page: Page): Uint8Array<ArrayBuffer>;
    JpegDecoder: new () => {
      width: number;
      height: number;
      parse(bytes: Uint8Array): void;
      /** Four numbers to a pixel where the file has four channels and `forceRGB` is off. */
      getData(options: { width: number; height: number; forceRGB: boolean }): Uint8ClampedArray<ArrayBuffer>;
    };
  };
  export default UTIF;
}
