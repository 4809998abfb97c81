// ITU-T T.81, annex B: a JPEG is a row of segments, each a marker and its length.

interface Segment {
  marker: number;
  /** Where its content begins, and its length. */
  at: number;
  length: number;
}

const SCAN = 0xda;
const END = 0xd9;
const LONE = new Set([0x01, 0xd0, 0xd1, 0xd2, 0xd3, 0xd4, 0xd5, 0xd6, 0xd7, 0xd8]);

/** The segments before the first pixels, in order. */
export function* segmentsOf(bytes: Uint8Array): Generator<Segment> {
  for (let at = 2; at + 4 <= bytes.length && bytes[at] === 0xff; ) {
    const marker = bytes[at + 1];
    if (marker === SCAN || marker === END) return;
    if (marker === 0xff) at++;
    else if (LONE.has(marker)) at += 2;
    else {
      const length = (bytes[at + 2] << 8) | bytes[at + 3];
      if (length < 2) return;
      yield { marker, at: at + 4, length: Math.min(length - 2, bytes.length - at - 4) };
      at += 2 + length;
    }
  }
}

export interface Frame {
  width: number;
  height: number;
  components: number;
}

/** Size and components, as the frame header says; null when there is none before the first pixels. */
export function frameOf(bytes: Uint8Array): Frame | null {
  for (const { marker, at, length } of segmentsOf(bytes)) {
    const frame = marker >= 0xc0 && marker <= 0xcf && ![0xc4, 0xc8, 0xcc].includes(marker);
    if (!frame) continue;
    if (length < 6) return null;
    return {
      height: (bytes[at + 1] << 8) | bytes[at + 2],
      width: (bytes[at + 3] << 8) | bytes[at + 4],
      components: bytes[at + 5],
    };
  }
  return null;
}
