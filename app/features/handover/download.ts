import { zipSync } from 'fflate';
import { fileName } from '#core/formats/index';

/** Hands bytes to the browser as a file. */
export function download(name: string, bytes: Uint8Array<ArrayBuffer>, mime: string): void {
  const url = URL.createObjectURL(new Blob([bytes], { type: mime }));
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}

/** One zip of several files; names that meet are told apart by a number. */
export function zipped(
  files: { name: string; ending: string; bytes: Uint8Array }[],
): Uint8Array<ArrayBuffer> {
  const entries: Record<string, Uint8Array> = {};
  const taken = new Set<string>();
  for (const { name, ending, bytes } of files) {
    let entry = fileName(name, ending);
    // some file systems do not tell upper from lower case
    for (let n = 2; taken.has(entry.toLowerCase()); n++) entry = fileName(`${name} ${n}`, ending);
    taken.add(entry.toLowerCase());
    entries[entry] = bytes;
  }
  return new Uint8Array(zipSync(entries, { mtime: new Date(2000, 0, 1) }));
}
