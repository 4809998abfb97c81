import type { Lcms } from 'lcms-wasm';
import type { Color, Intent, Lab } from './model.ts';
import { hashOf, ProfileError, type ProfileInfo, readProfileHeader } from './profile.ts';
import { SHIPPED_NAMES } from './shipped.ts';

// As Little CMS counts them (lcms2.h): FLOAT_SH, COLORSPACE_SH, CHANNELS_SH, BYTES_SH.
const type = (space: number, channels: number, bytes: number, float = 0) =>
  (float << 22) | (space << 16) | (channels << 3) | bytes;
const FLOAT = {
  gray: type(3, 1, 4, 1),
  rgb: type(4, 3, 4, 1),
  cmyk: type(6, 4, 4, 1),
  lab: type(10, 3, 4, 1),
};
const BYTES = { gray: type(3, 1, 1), rgb: type(4, 3, 1), cmyk: type(6, 4, 1) };
const CHANNELS = { gray: 1, rgb: 3, cmyk: 4 };
/** Little CMS counts inks in percent, the others in 0–1. */
const UNIT = { gray: 1, rgb: 1, cmyk: 100 };
const INTENT: Record<Intent, number> = { perceptual: 0, relative: 1, saturation: 2, absolute: 3 };
const BLACK_POINT = 0x2000;
/** No shortcuts of 16 bits, and no memory of the last colour. */
const EXACT = 0x0100 | 0x0040;
/** Colours and pixels that go through at once, so that the engine's own memory stays small. */
const BAND = 1 << 16;

interface OpenProfile {
  info: ProfileInfo;
  handle: number;
}

/** How a conversion is made: the intent, and whether black is brought to black. */
export interface Manner {
  intent: Intent;
  blackPoint: boolean;
}
/** What stands for a measurement. */
export const MEASURED: Manner = { intent: 'absolute', blackPoint: false };
/** Everything else, unless another intent is chosen. */
export const mannerOf = (intent: Intent): Manner => ({ intent, blackPoint: intent !== 'absolute' });

/**
 * The one engine for colours of devices: Little CMS, with the profiles it has been given. The same in page, worker, server and
 * shell; whoever runs core lends the instance.
 */
export class ColorEngine {
  private readonly profiles = new Map<string, OpenProfile>();
  private readonly transforms = new Map<string, number>();
  /** Grows with every profile: what was found without one may be another with it. */
  generation = 0;
  private readonly lab: number;
  private readonly screen: number;

  constructor(private readonly lcms: Lcms) {
    this.lab = lcms.cmsCreateLab4Profile();
    this.screen = lcms.cmsCreate_sRGBProfile();
  }

  /**
   * Opens a profile, once. @throws ProfileError when it cannot be used
   * @param knownHash the SHA-256 of the bytes, where it is known
   */
  add(bytes: Uint8Array, knownHash?: string): ProfileInfo {
    // first, as counting the hash of something huge takes its time
    const header = readProfileHeader(bytes);
    const hash = knownHash ?? hashOf(bytes);
    const known = this.profiles.get(hash);
    if (known) return known.info;
    const handle = this.openBytes(bytes);
    if (!handle) throw new ProfileError('it does not open. It is damaged.');
    // 0: the description
    const described = this.lcms.cmsGetProfileInfoASCII(handle, 0, 'en', 'US').trim();
    const name = SHIPPED_NAMES[hash] ?? (described || 'Profile without a name');
    const info = { hash, name, ...header };
    this.profiles.set(hash, { info, handle });
    this.generation++;
    try {
      this.transform(hash, 'toLab', mannerOf('relative'));
    } catch (error) {
      this.remove(hash);
      throw error;
    }
    return info;
  }

  /** The engine keeps a copy of its own. */
  private openBytes(bytes: Uint8Array): number {
    const at = this.lcms._malloc(bytes.length);
    if (!at) throw new ProfileError('there is not enough memory to open it.');
    this.lcms.HEAPU8.set(bytes, at);
    const handle = this.lcms._cmsOpenProfileFromMem(at, bytes.length);
    this.lcms._free(at);
    return handle;
  }

  /** What an open profile says of itself. */
  profile(hash: string): ProfileInfo | undefined {
    return this.profiles.get(hash)?.info;
  }

  /** Whether colours can be brought to the profile's device, and not only from it. */
  canPrint(hash: string): boolean {
    try {
      this.transform(hash, 'fromLab', mannerOf('relative'));
      return true;
    } catch {
      return false;
    }
  }

  /** Forgets a profile. */
  remove(hash: string): void {
    const open = this.profiles.get(hash);
    if (!open) return;
    for (const [key, transform] of this.transforms)
      if (key.startsWith(hash)) {
        this.lcms.cmsDeleteTransform(transform);
        this.transforms.delete(key);
      }
    this.lcms.cmsCloseProfile(open.handle);
    this.profiles.delete(hash);
  }

  private transform(hash: string, way: 'toLab' | 'fromLab' | 'toScreen', { intent, blackPoint }: Manner) {
    const key = `${hash} ${way} ${intent} ${blackPoint}`;
    const known = this.transforms.get(key);
    if (known) return known;
    const open = this.profiles.get(hash);
    if (!open) throw new ProfileError('it is not here.');
    const { handle, info } = open;
    const [from, to] =
      way === 'toLab' ? [handle, this.lab] : way === 'fromLab' ? [this.lab, handle] : [handle, this.screen];
    const [input, output] =
      way === 'toLab'
        ? [FLOAT[info.space], FLOAT.lab]
        : way === 'fromLab'
          ? [FLOAT.lab, FLOAT[info.space]]
          : [BYTES[info.space], BYTES.rgb];
    const made = this.lcms.cmsCreateTransform(
      from,
      input,
      to,
      output,
      INTENT[intent],
      (blackPoint ? BLACK_POINT : 0) | (way === 'toScreen' ? 0 : EXACT),
    );
    if (!made)
      throw new ProfileError(
        way === 'fromLab'
          ? 'it leads from its device, but not to it: it can be read through, but not printed through.'
          : 'it holds no way from its device to measured colour. It is damaged, or of no use here.',
      );
    this.transforms.set(key, made);
    return made;
  }

  private run(transform: number, from: Float32Array, channels: number, into: number): Float32Array {
    const n = from.length / channels;
    const out = new Float32Array(n * into);
    for (let at = 0; at < n; at += BAND) {
      const some = Math.min(BAND, n - at);
      out.set(
        this.lcms.cmsDoTransform(transform, from.subarray(at * channels, (at + some) * channels), some),
        at * into,
      );
    }
    return out;
  }

  /**
   * Device numbers 0–1 to CIE Lab D50, one after the other.
   * @throws ProfileError when the profile is not here
   */
  toLab(hash: string, device: Float32Array, manner: Manner): Float32Array {
    const { space } = this.open(hash);
    const scaled = UNIT[space] === 1 ? device : device.map((v) => v * UNIT[space]);
    return this.run(this.transform(hash, 'toLab', manner), scaled, CHANNELS[space], 3);
  }

  /** CIE Lab D50 to device numbers 0–1. @throws ProfileError when the profile is not here or leads nowhere */
  fromLab(hash: string, lab: Float32Array, manner: Manner): Float32Array {
    const { space } = this.open(hash);
    const out = this.run(this.transform(hash, 'fromLab', manner), lab, 3, CHANNELS[space]);
    return UNIT[space] === 1 ? out : out.map((v) => v / UNIT[space]);
  }

  /**
   * Pixels of a device to sRGB, relative colorimetric with black point compensation, as pictures are usually proofed.
   * @param pixels a byte to a channel; for inks 0 is none and 255 full
   */
  toScreen(hash: string, pixels: Uint8Array): Uint8Array {
    const channels = CHANNELS[this.open(hash).space];
    const transform = this.transform(hash, 'toScreen', mannerOf('relative'));
    const n = pixels.length / channels;
    const rgb = new Uint8Array(3 * n);
    for (let at = 0; at < n; at += BAND) {
      const some = Math.min(BAND, n - at);
      const part = pixels.subarray(at * channels, (at + some) * channels);
      rgb.set(this.lcms.cmsDoTransform<Uint8Array>(transform, part, some), 3 * at);
    }
    return rgb;
  }

  private open(hash: string): ProfileInfo {
    const info = this.profile(hash);
    if (!info) throw new ProfileError('it is not here.');
    return info;
  }

  /** Colours of one device as Lab, in one call. */
  labs(hash: string, colors: readonly Color[], manner: Manner): Lab[] {
    const n = CHANNELS[this.open(hash).space];
    const flat = new Float32Array(colors.length * n);
    colors.forEach((color, i) => {
      flat.set(color.components.slice(0, n), i * n);
    });
    const lab = this.toLab(hash, flat, manner);
    return colors.map((_, i) => [lab[3 * i]!, lab[3 * i + 1]!, lab[3 * i + 2]!]);
  }
}
