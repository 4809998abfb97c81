/** How the supported picture formats begin. */
const signatures: [type: string, at: number, bytes: string][] = [
  ['PNG', 0, '\x89PNG\r\n\x1a\n'],
  ['JPEG', 0, '\xff\xd8\xff'],
  ['GIF', 0, 'GIF8'],
  ['WebP', 8, 'WEBP'],
  ['BMP', 0, 'BM'],
  ['TIFF', 0, 'II*\0'],
  ['TIFF', 0, 'MM\0*'],
  ['AVIF', 4, 'ftypavif'],
  ['AVIF', 4, 'ftypavis'],
  ['AVIF', 4, 'ftypmif1'],
];

/** The picture format by the first bytes, whatever the file is called; null when it is none. */
export function pictureType(head: Uint8Array): string | null {
  const text = String.fromCharCode(...head.subarray(0, 32));
  const found = signatures.find(([, at, bytes]) => text.startsWith(bytes, at));
  // “BM” could begin a text; a bitmap goes on with its size and four zero bytes
  if (found?.[0] === 'BMP' && (head.length < 14 || head[6] || head[7] || head[8] || head[9])) return null;
  return found?.[0] ?? null;
}
