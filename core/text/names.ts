/** A file's name without its folders. */
export const lastPart = (path: string) => path.replace(/^.*[/\\]/, '');

/** A file's name without folders and ending. */
export function baseName(path: string): string {
  const name = lastPart(path);
  return name.replace(/(?<=.)\.[^.]{1,10}$/, '') || name;
}

/** Names that Windows keeps for its devices, whatever their ending (Microsoft, Naming Files, Paths, and Namespaces). */
const DEVICE = /^(con|prn|aux|nul|conin\$|conout\$|(com|lpt)[0-9¹²³])(?=$|[. ])/i;

/** A name that every file system takes, without an ending. */
export function plainName(name: string): string {
  const safe = name
    .toWellFormed()
    .replace(/[\u0000-\u001f\u007f-\u009f<>:"/\\|?*\u2028\u2029]+/g, '-')
    .replace(/^[. ]+/, '')
    .replace(DEVICE, '$1-');
  let cut = safe;
  // 200 bytes leave room for the ending within the 255 that file systems allow
  while (new TextEncoder().encode(cut).length > 200) cut = [...cut].slice(0, -1).join('');
  return cut.replace(/[. ]+$/, '') || 'palette';
}

/** {@link plainName} with an ending. */
export const fileName = (name: string, ending: string): string => `${plainName(name)}.${ending}`;

/** What paths are the same by to file systems that tell neither capitals apart, nor an accent from a letter with one. */
export const sameFile = (path: string) => path.normalize('NFC').toLowerCase();

/**
 * Gives each path once: of two files with one path the second gets a number. File systems that do not tell capitals
 * apart, or an accent from a letter with one, would write one over the other, so they count as the same.
 */
export function freePaths(): (path: string) => string {
  const taken = new Set<string>();
  return (path) => {
    let free = path;
    for (let n = 2; taken.has(sameFile(free)); n++) free = path.replace(/(\.[^./]+)?$/, ` ${n}$1`);
    taken.add(sameFile(free));
    return free;
  };
}

/** What files can be called together: their folder or archive, if they come from one; null when they do not. */
export function commonName(paths: string[]): string | null {
  const [first] = paths[0]?.split('/') ?? [];
  return first && paths.every((p) => p.split('/')[0] === first) ? baseName(first) : null;
}
