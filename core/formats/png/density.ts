import { pngChunk } from './png.ts';

/** A PNG that says how many pixels an inch has (ISO/IEC 15948, 11.3.5.3, which counts to a metre). */
export function withDensity(png: Uint8Array, perInch: number): Uint8Array<ArrayBuffer> {
  const perMetre = Math.round(perInch / 0.0254);
  const content = new Uint8Array(9);
  const view = new DataView(content.buffer);
  view.setUint32(0, perMetre);
  view.setUint32(4, perMetre);
  content[8] = 1;
  const chunk = pngChunk('pHYs', content);
  // behind the header: signature 8, then length, name, 13 bytes and sum
  const at = 8 + 12 + 13;
  const out = new Uint8Array(png.length + chunk.length);
  out.set(png.subarray(0, at));
  out.set(chunk, at);
  out.set(png.subarray(at), at + chunk.length);
  return out;
}
