import tables from 'iconv-lite/encodings/sbcs-data-generated.js';

/** The code pages of older drawings by the name that DXF gives them, where it is not simply a number; from memory. */
const DRAWING: Record<string, string> = {
  ansi_874: 'windows-874',
  ansi_932: 'shift_jis',
  ansi_936: 'gbk',
  ansi_949: 'euc-kr',
  ansi_950: 'big5',
  ansi_1361: 'euc-kr',
  ksc5601: 'euc-kr',
  gb2312: 'gbk',
  mac_roman: 'macintosh',
};

/** What platforms know under another name. */
const labelOf = (name: string): string => {
  const plain = name.toLowerCase();
  return (
    DRAWING[plain] ??
    plain
      .replace(/^ansi_(125\d)$/, 'windows-$1')
      .replace(/^(?:dos|ibm|cp-?)(\d+)$/, 'cp$1')
      .replace(/^iso_?8859-?(\d+)$/, 'iso-8859-$1')
  );
};

/**
 * Text in an encoding by its name: those of the WHATWG Encoding Standard, the code pages of DOS, and the names that DXF has for
 * them. Null when nobody knows the name.
 */
export function decodeAs(bytes: Uint8Array, name: string): string | null {
  const label = labelOf(name);
  try {
    return new TextDecoder(label).decode(bytes);
  } catch {
    return byTable(bytes, label);
  }
}

function byTable(bytes: Uint8Array, label: string): string | null {
  let known = tables[label.replace(/-/g, '')];
  if (typeof known === 'string') known = tables[known];
  if (typeof known !== 'object') return null;
  // of 256 characters, or of the upper half alone
  const { chars } = known;
  const upper = chars.length === 128 ? 128 : 0;
  const parts: string[] = [];
  for (let i = 0; i < bytes.length; i++) {
    const b = bytes[i]!;
    parts.push(b < upper ? String.fromCharCode(b) : (chars[b - upper] ?? '\uFFFD'));
  }
  return parts.join('');
}
