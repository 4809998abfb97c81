import type * as Pdf from '@cantoo/pdf-lib';
import { joined } from '../join.ts';
import { FormatError } from '../text/error.ts';
import { sound } from './load.ts';

// Changes of a PDF as an incremental update (ISO 32000-1, 7.5.6): the old file byte for byte, then what is new.

/** Every object rewritten, for the package. */
export const WHOLE = { rewrite: true, updateFieldAppearances: false, addDefaultPage: false };

/** So many bytes hold a trailer. */
const TAIL = 4096;

/**
 * A file with some of its objects rewritten behind it.
 *
 * @param refs of the objects; those made since `snapshot` are written in any case
 * @throws FormatError for an encrypted file
 */
export async function appended(
  document: Pdf.PDFDocument,
  bytes: Uint8Array,
  refs: Pdf.PDFRef[],
  snapshot = document.context.snapshot ?? document.takeSnapshot(),
): Promise<Uint8Array<ArrayBuffer>> {
  refuseEncrypted(bytes);
  return sound(async () => {
    const { context } = document;
    // an object that nothing refers to counts all the same (7.5.5)
    context.largestObjectNumber = Math.max(context.largestObjectNumber, statedSize(bytes) - 1);
    snapshot.markRefsForSave(refs);
    const added = await document.saveIncremental(snapshot);
    return joined([bytes, withSize(added, context.largestObjectNumber + 1)]);
  });
}

/** @throws FormatError for an encrypted file, which cannot be changed */
export function refuseEncrypted(bytes: Uint8Array): void {
  if (trailers(bytes).some((t) => /\/Encrypt\b/.test(t)))
    throw new FormatError(
      'it is encrypted, and cannot be changed without its key. Save it without encryption first.',
    );
}

/** pdf-lib states one too few in the trailer of a table where the last object stays as it was. */
function withSize(added: Uint8Array, size: number): Uint8Array {
  const text = new TextDecoder('latin1').decode(added);
  const at = text.lastIndexOf('trailer');
  const found = at < 0 ? null : /\/Size (\d+)/.exec(text.slice(at));
  if (!found || Number(found[1]) >= size) return added;
  const from = at + found.index;
  const stated = new TextEncoder().encode(`/Size ${size}`);
  return joined([added.subarray(0, from), stated, added.subarray(from + found[0].length)]);
}

/** What stands around the last cross-reference, as text: a table's trailer, or a stream's dictionary (7.5.5, 7.5.8). */
function trailers(bytes: Uint8Array): string[] {
  const text = (from: number, to?: number) => new TextDecoder('latin1').decode(bytes.subarray(from, to));
  const tail = text(Math.max(0, bytes.length - TAIL));
  const at = Number([...tail.matchAll(/startxref\s+(\d+)/g)].at(-1)?.[1] ?? Number.NaN);
  return [tail, Number.isFinite(at) ? text(at, at + TAIL) : ''];
}

/** One more than the largest object number, as they say it; 0 where they say nothing. */
function statedSize(bytes: Uint8Array): number {
  const sizes = trailers(bytes).flatMap((t) =>
    [...t.matchAll(/\/Size\s+(\d{1,9})/g)].map((m) => Number(m[1])),
  );
  return Math.max(0, ...sizes);
}
