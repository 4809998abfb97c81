import { Inflate, Unzlib } from 'fflate';
import { joined } from './join.ts';

/** Compressed bytes that are given to the decompressor at once: what comes of them is at most a thousand times as much. */
const PIECE = 32 * 1024;

/**
 * Decompresses deflated data up to a limit, so that a few bytes cannot fill the memory.
 *
 * @param most bytes
 * @param over what to do with more than that: refuse it, or leave it out
 * @param as zlib (RFC 1950) or bare (RFC 1951)
 * @throws RangeError when there is more; Error when it is damaged
 */
export function inflateUpTo(
  data: Uint8Array,
  most: number,
  over: 'refuse' | 'cut' = 'refuse',
  as: 'zlib' | 'bare' = 'zlib',
): Uint8Array {
  const parts: Uint8Array[] = [];
  let length = 0;
  const take = (part: Uint8Array) => {
    parts.push(part);
    length += part.length;
  };
  const stream = as === 'zlib' ? new Unzlib(take) : new Inflate(take);
  for (let at = 0; at < data.length && length <= most; at += PIECE)
    stream.push(data.subarray(at, at + PIECE), at + PIECE >= data.length);
  if (length > most && over === 'refuse') throw new RangeError(`it unpacks to more than ${most} bytes`);
  return joined(parts, most);
}
