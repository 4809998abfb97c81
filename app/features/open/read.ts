import { nanoid } from 'nanoid';
import { FormatError, LARGEST_SWATCH_FILE, type Opened, openSwatchFile, tooLarge } from '#core/formats/index';
import { pictureType } from './sniff';

export type Read =
  | { kind: 'picture'; file: File }
  | { kind: 'swatches'; name: string; opened: Opened }
  | { kind: 'problem'; name: string; message: string };

/** Looks at a file's bytes and reads it if it is a swatch file. Never throws for a bad file. */
export async function readFile(file: File): Promise<Read> {
  const fail = (message: string): Read => ({ kind: 'problem', name: file.name, message });
  try {
    const head = new Uint8Array(await file.slice(0, 64).arrayBuffer());
    if (pictureType(head)) return { kind: 'picture', file };
    if (file.size > LARGEST_SWATCH_FILE) return fail(`${file.name}: ${tooLarge(file.size)}`);
    const bytes = new Uint8Array(await file.arrayBuffer());
    return { kind: 'swatches', name: file.name, opened: openSwatchFile(bytes, file.name, () => nanoid(12)) };
  } catch (error) {
    if (error instanceof FormatError) return fail(error.message);
    // a folder, or a file that went away under our hands
    return fail(`${file.name}: it cannot be read. If it is a folder, drop the files in it.`);
  }
}
