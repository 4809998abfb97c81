import { ByteWriter } from '../text/bytes.ts';
import { oneLine } from '../text/text.ts';

// The parts of ICC.1:2001-04 (version 2 profiles) that Papillon writes.

const HEADER_BYTES = 128;

/** textType. */
export const textTag = (value: string) => new ByteWriter().ascii('text').u32(0).ascii(`${value}\0`).done();

/** textDescriptionType: ASCII, then empty Unicode and script parts. */
export function description(value: string): Uint8Array {
  const ascii = `${oneLine(value).replace(/[^\x20-\x7e]/g, '?')}\0`;
  return new ByteWriter()
    .ascii('desc')
    .u32(0)
    .u32(ascii.length)
    .ascii(ascii)
    .bytes(new Uint8Array(4 + 4 + 2 + 1 + 67))
    .done();
}

const fixed16 = (v: number) => Math.round(v * 0x10000);

/** XYZType of one triple. */
export function xyzTag(xyz: number[]): Uint8Array {
  const writer = new ByteWriter().ascii('XYZ ').u32(0);
  for (const v of xyz) writer.u32(fixed16(v));
  return writer.done();
}

/** A version 2 profile of a class (`nmcl`, `mntr`…) between a device space and a connection space. */
export function profile(
  kind: string,
  device: string,
  pcs: string,
  tags: [signature: string, content: Uint8Array][],
): Uint8Array<ArrayBuffer> {
  const padded = tags.map(([, b]) => (b.length + 3) & ~3);
  const first = HEADER_BYTES + 4 + 12 * tags.length;
  const writer = new ByteWriter()
    .u32(first + padded.reduce((a, b) => a + b, 0))
    .u32(0)
    .u32(0x02400000)
    .ascii(kind)
    .ascii(device)
    .ascii(pcs)
    // a fixed date: the same content always gives the same file
    .bytes(Uint8Array.from([0x07, 0xe8, 0, 1, 0, 1, 0, 0, 0, 0, 0, 0]))
    .ascii('acsp')
    .bytes(new Uint8Array(28));
  for (const v of [0.9642, 1, 0.8249]) writer.u32(fixed16(v));
  writer.bytes(new Uint8Array(HEADER_BYTES - 80)).u32(tags.length);
  let offset = first;
  tags.forEach(([signature, content], i) => {
    writer.ascii(signature).u32(offset).u32(content.length);
    offset += padded[i];
  });
  tags.forEach(([, content], i) => {
    writer.bytes(content).bytes(new Uint8Array(padded[i] - content.length));
  });
  return writer.done();
}

/**
 * sRGB as an ICC profile: IEC 61966-2-1's curve in 1024 steps, and its primaries adapted to D50 as ICC
 * publishes them.
 */
export function srgbProfile(): Uint8Array<ArrayBuffer> {
  const STEPS = 1024;
  const curve = new ByteWriter().ascii('curv').u32(0).u32(STEPS);
  for (let i = 0; i < STEPS; i++) {
    const v = i / (STEPS - 1);
    curve.u16(Math.round((v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4) * 0xffff));
  }
  const trc = curve.done();
  return profile('mntr', 'RGB ', 'XYZ ', [
    ['desc', description('sRGB IEC61966-2-1')],
    ['cprt', textTag('No copyright, use freely')],
    ['wtpt', xyzTag([0.9642, 1, 0.8249])],
    ['rXYZ', xyzTag([0.43607, 0.22249, 0.01392])],
    ['gXYZ', xyzTag([0.38515, 0.71687, 0.09708])],
    ['bXYZ', xyzTag([0.14307, 0.06061, 0.7141])],
    ['rTRC', trc],
    ['gTRC', trc],
    ['bTRC', trc],
  ]);
}
