import { joined } from '../../core/join.ts';

/** A small repeatable generator (mulberry32), so that any failure can be run again from its seed. */
export function random(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** Values that lengths and counts go wrong on. */
export const NASTY = [0, 1, 0x7f, 0x80, 0xff, 0x7fff, 0x8000, 0xffff, 0x7fffffff, 0xffffffff];

const NUMBERS = ['1e999', '-1e999', 'NaN', '-0', '99999999999999999999', '1e-400', '0x10', '∞', ''];

/** A damaged copy: bytes flipped, cut, doubled, overwritten with extreme values, numbers made absurd, or mixed with another file. */
export function mutate(bytes: Uint8Array, other: Uint8Array, next: () => number): Uint8Array {
  let out = bytes.slice();
  const at = () => Math.floor(next() * out.length);
  for (let rounds = 1 + Math.floor(next() * 6); rounds > 0 && out.length > 0; rounds--) {
    switch (Math.floor(next() * 7)) {
      case 0:
        out[at()] = Math.floor(next() * 256);
        break;
      case 1:
        out = out.slice(0, at());
        break;
      case 2: {
        const [from, to] = [at(), at()].sort((a, b) => a - b);
        out = joined([out.subarray(0, to), out.subarray(from)]);
        break;
      }
      case 3: {
        const view = new DataView(out.buffer, out.byteOffset, out.length);
        const value = NASTY[Math.floor(next() * NASTY.length)];
        const place = at();
        if (place + 4 <= out.length && next() < 0.5) view.setUint32(place, value);
        else if (place + 2 <= out.length) view.setUint16(place, value & 0xffff);
        break;
      }
      case 4: {
        const from = Math.floor(next() * other.length);
        out = joined([out.subarray(0, at()), other.subarray(from)]);
        break;
      }
      case 5: {
        // a number in a text becomes one that numbers go wrong on
        const from = at();
        const start = out.subarray(from).findIndex((b) => b >= 0x30 && b <= 0x39);
        if (start < 0) break;
        const word = new TextEncoder().encode(NUMBERS[Math.floor(next() * NUMBERS.length)]);
        out = joined([out.subarray(0, from + start), word, out.subarray(from + start + 1)]);
        break;
      }
      default:
        out.fill(Math.floor(next() * 256), at(), at());
    }
  }
  return out;
}
