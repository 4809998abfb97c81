import { sha256 } from '@noble/hashes/sha2';
import { bytesToHex } from '@noble/hashes/utils';
import { MAX_PROFILE_BYTES } from '../sizes.ts';

export { MAX_PROFILE_BYTES };

/** A profile that cannot be used; the message says what is wrong with it, without the file's name. */
export class ProfileError extends Error {
  override name = 'ProfileError';
}

/** What a profile says of itself. */
export interface ProfileInfo {
  hash: string;
  /** Its description, or what it is called here where it ships with Papillon. */
  name: string;
  space: 'rgb' | 'cmyk' | 'gray';
  /** Device class: prtr, mntr, scnr or spac. */
  kind: string;
  version: string;
  bytes: number;
}

const SPACE_OF: Record<string, ProfileInfo['space']> = { 'RGB ': 'rgb', CMYK: 'cmyk', GRAY: 'gray' };
const KINDS: Record<string, string> = {
  link: 'a device link, which leads from one device to another and nowhere else',
  abst: 'an abstract profile, which is for no device',
  nmcl: 'a named colour profile; open it as a swatch file instead',
};
const HEADER = 128;
const MAX_TAGS = 200;

export const hashOf = (bytes: Uint8Array): string => bytesToHex(sha256(bytes));

/** What a file is the ICC profile of; null when it is none, or a list of named colours. */
export function deviceOf(bytes: Uint8Array): string | null {
  if (bytes.length < HEADER || ascii(bytes, 36) !== 'acsp' || ascii(bytes, 12) === 'nmcl') return null;
  const devices: Record<string, string> = {
    mntr: 'a display',
    prtr: 'a press or printer',
    scnr: 'a scanner or camera',
  };
  return devices[ascii(bytes, 12)] ?? 'no device by itself';
}

/**
 * Header and tag table of an ICC profile (ICC.1:2022, 7.2 and 7.3; the same places since version 2).
 * @throws ProfileError when it is none, is cut short, or is of a kind that stands for no device
 */
export function readProfileHeader(bytes: Uint8Array): Omit<ProfileInfo, 'hash' | 'name'> {
  const megabytes = (n: number) => `${Math.ceil(n / 1e6)} MB`;
  if (bytes.length > MAX_PROFILE_BYTES)
    throw new ProfileError(
      `it has ${megabytes(bytes.length)}; a profile has at most ${megabytes(MAX_PROFILE_BYTES)}.`,
    );
  if (bytes.length < HEADER + 4 || ascii(bytes, 36) !== 'acsp')
    throw new ProfileError('it is no ICC profile: “acsp” does not stand at byte 36.');
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  const said = view.getUint32(0);
  if (said > bytes.length)
    throw new ProfileError(
      `it is cut short: it says it has ${said} bytes, and there are ${bytes.length}. Export or download it again.`,
    );
  if (said < bytes.length)
    throw new ProfileError(
      `it says it has ${said} bytes, and there are ${bytes.length}: something else hangs on it. Export or download it again.`,
    );
  const major = bytes[8]!;
  if (major !== 2 && major !== 4)
    throw new ProfileError(`it is of version ${major}; Papillon takes versions 2 and 4.`);
  const kind = ascii(bytes, 12);
  if (!['prtr', 'mntr', 'scnr', 'spac'].includes(kind))
    throw new ProfileError(
      KINDS[kind] ? `it is ${KINDS[kind]}.` : `it is of the class “${kind}”, which ICC does not know.`,
    );
  const space = SPACE_OF[ascii(bytes, 16)];
  if (!space)
    throw new ProfileError(
      `it is for “${ascii(bytes, 16).trim()}”; Papillon takes profiles for RGB, CMYK and gray.`,
    );
  const pcs = ascii(bytes, 20);
  if (pcs !== 'Lab ' && pcs !== 'XYZ ')
    throw new ProfileError(`its connection space is “${pcs.trim()}”; it must be Lab or XYZ.`);
  const tags = view.getUint32(HEADER);
  if (tags > MAX_TAGS || HEADER + 4 + 12 * tags > bytes.length)
    throw new ProfileError(
      `its table says it has ${tags} parts, more than the file has room for. It is damaged.`,
    );
  for (let i = 0; i < tags; i++) {
    const at = HEADER + 4 + 12 * i;
    const [offset, size] = [view.getUint32(at + 4), view.getUint32(at + 8)];
    if (offset + size > bytes.length)
      throw new ProfileError(
        `its part “${ascii(bytes, at)}” would end at byte ${offset + size}, and there are ${bytes.length}. It is damaged.`,
      );
  }
  return { space, kind, version: `${major}.${bytes[9]! >> 4}`, bytes: bytes.length };
}

const ascii = (bytes: Uint8Array, at: number) => String.fromCharCode(...bytes.subarray(at, at + 4));
