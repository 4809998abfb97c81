import type * as Pdf from '@cantoo/pdf-lib';
import { FormatError } from '../text/error.ts';
import type { PdfLib } from './objects.ts';

export const damagedPdf = () => new FormatError('the PDF is damaged. Export or download it again.');

/** More objects, and wider fields of a cross-reference in bytes, than any file has. */
const MAX_OBJECTS = 8_388_607;
const MAX_FIELD_BYTES = 8;
/** Characters around the type of a stream in which its dictionary fits. */
const AROUND = 600;

/**
 * Opens a PDF; what only its owner may change, anybody may read: the password for that is empty.
 *
 * @param incremental changes are to be written behind the old file
 * @throws FormatError for one that is damaged or locked
 */
export async function loadPdf(lib: PdfLib, bytes: Uint8Array, incremental = false): Promise<Pdf.PDFDocument> {
  if (!isPossible(bytes)) throw damagedPdf();
  try {
    return await lib.PDFDocument.load(bytes, {
      updateMetadata: false,
      throwOnInvalidObject: false,
      warnOnInvalidObjects: false,
      capNumbers: true,
      password: '',
      ...(incremental ? { forIncrementalUpdate: true } : {}),
    });
  } catch (error) {
    if (error instanceof lib.EncryptedPDFError || /password/i.test(String(error)))
      throw new FormatError('it is locked with a password. Save it without one and open it again.');
    throw damagedPdf();
  }
}

/** Whether the streams that list objects count what a file can hold: the package believes them, and counts for ever. */
function isPossible(bytes: Uint8Array): boolean {
  const text = new TextDecoder('latin1').decode(bytes);
  for (const type of ['/XRef', '/ObjStm'])
    for (let at = text.indexOf(type); at >= 0; at = text.indexOf(type, at + 1)) {
      const near = text.slice(Math.max(0, at - AROUND), at + AROUND);
      const numbers = (key: string) =>
        [...near.matchAll(new RegExp(`/${key}\\s*\\[?([\\d\\s]+)`, 'g'))].flatMap((m) =>
          m[1]!.trim().split(/\s+/).map(Number),
        );
      if (numbers('W').some((n) => n > MAX_FIELD_BYTES && type === '/XRef')) return false;
      if (['Size', 'Index', 'N', 'First'].some((key) => numbers(key).some((n) => n > MAX_OBJECTS)))
        return false;
    }
  return true;
}

/** The package stumbles over parts that are not what they should be; a wish to stop goes through. */
function asDamage(error: unknown): unknown {
  return error instanceof FormatError || (error as Error).name === 'StoppedError' ? error : damagedPdf();
}
/** What work gives; a mistake of the package is damage of the file. @throws FormatError */
export function soundly<T>(work: () => T): T {
  try {
    return work();
  } catch (error) {
    throw asDamage(error);
  }
}
export async function sound<T>(work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    throw asDamage(error);
  }
}
