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
