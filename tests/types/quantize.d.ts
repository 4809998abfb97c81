declare module 'quantize' {
  type Rgb = [number, number, number];
  export default function quantize(pixels: Rgb[], count: number): { palette(): Rgb[] } | false;
}
