import { checkPixels, PictureRefusedError } from './limits.ts';

// Layered pictures (PSD, and PSB for large ones) as their maker's published specification of 2019 has them, from memory:
// a header, the colours of indexed pictures, resources, the layers, and last the composite of all layers.

const [BITMAP, GREY, INDEXED, RGB, CMYK, DUOTONE, LAB] = [0, 1, 2, 3, 4, 8, 9];
const [RAW, RUNS] = [0, 1];
/** Resources: the ICC profile, and whether the composite was really saved. */
const [ICC_PROFILE, VERSION_INFO] = [1039, 1057];

/** The places of the parts of a file. */
interface Parts {
  large: boolean;
  channels: number;
  width: number;
  height: number;
  depth: number;
  mode: number;
  colors: Uint8Array;
  resources: Map<number, Uint8Array>;
  /** The first channel beyond those of the colours says how opaque the composite is. */
  hasAlpha: boolean;
  pixelsAt: number;
}

/** @throws RangeError when the file is cut short */
function partsOf(bytes: Uint8Array): Parts {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const large = view.getUint16(4) === 2;
  const colorsAt = 30;
  const resourcesAt = colorsAt + view.getUint32(26) + 4;
  const layersAt = resourcesAt + view.getUint32(resourcesAt - 4);
  const resources = new Map<number, Uint8Array>();
  for (let at = resourcesAt; at + 12 <= layersAt; ) {
    const id = view.getUint16(at + 4);
    // a name of at least no letter, both padded to an even length
    const sizeAt = at + 6 + ((view.getUint8(at + 6) + 2) & ~1);
    const size = view.getUint32(sizeAt);
    resources.set(id, bytes.subarray(sizeAt + 4, sizeAt + 4 + size));
    at = sizeAt + 4 + ((size + 1) & ~1);
  }
  const longOf = (at: number) => (large ? Number(view.getBigUint64(at)) : view.getUint32(at));
  const long = large ? 8 : 4;
  const layers = longOf(layersAt);
  const hasLayers = layers >= long + 2 && longOf(layersAt + long) >= 2;
  return {
    large,
    channels: view.getUint16(12),
    height: view.getUint32(14),
    width: view.getUint32(18),
    depth: view.getUint16(22),
    mode: view.getUint16(24),
    colors: bytes.subarray(colorsAt, resourcesAt - 4),
    resources,
    hasAlpha: hasLayers && view.getInt16(layersAt + 2 * long) < 0,
    pixelsAt: layersAt + long + layers,
  };
}

/** The ICC profile of a layered picture. @throws RangeError when the file is cut short */
export const profileOfPsd = (bytes: Uint8Array) => partsOf(bytes).resources.get(ICC_PROFILE) ?? null;

/** Each row of each channel, unpacked. */
function* rowsOf(
  bytes: Uint8Array,
  { large, channels, height, pixelsAt }: Parts,
  rowBytes: number,
): Generator<Uint8Array> {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const packing = view.getUint16(pixelsAt);
  let at = pixelsAt + 2;
  const rows = channels * height;
  if (packing === RAW) {
    if (at + rows * rowBytes > bytes.length) throw new Error('its pixels are not all there');
    for (let i = 0; i < rows; i++, at += rowBytes) yield bytes.subarray(at, at + rowBytes);
    return;
  }
  if (packing !== RUNS) throw new PictureRefusedError('its composite is packed in a way that is not read.');
  const counts = large ? 4 : 2;
  const countsAt = at;
  at += counts * rows;
  if (at > bytes.length) throw new Error('its pixels are not all there');
  const row = new Uint8Array(rowBytes);
  for (let i = 0; i < rows; i++) {
    const place = countsAt + counts * i;
    const end = at + (large ? view.getUint32(place) : view.getUint16(place));
    if (end > bytes.length) throw new Error('its pixels are not all there');
    let filled = 0;
    while (at < end && filled < rowBytes) {
      const head = view.getInt8(at++);
      if (head >= 0) {
        const literal = bytes.subarray(at, Math.min(at + head + 1, end)).subarray(0, rowBytes - filled);
        row.set(literal, filled);
        filled += literal.length;
        at += head + 1;
      } else if (head !== -128) {
        row.fill(bytes[at++]!, filled, filled - head + 1);
        filled += 1 - head;
      }
    }
    if (filled < rowBytes) throw new Error('its pixels are not all there');
    at = end;
    yield row;
  }
}

/** The composite of a layered picture, channel by channel. */
export interface Composite {
  width: number;
  height: number;
  kind: 'grey' | 'rgb' | 'cmyk' | 'lab';
  /** One byte a sample; of inks, how much there is. */
  channels: Uint8Array[];
  /** How opaque each pixel is; white shines through the colours of what is not. */
  alpha?: Uint8Array;
  note?: string;
}

const COLOR_CHANNELS: Record<number, [kind: Composite['kind'], channels: number]> = {
  [BITMAP]: ['grey', 1],
  [GREY]: ['grey', 1],
  [INDEXED]: ['rgb', 1],
  [RGB]: ['rgb', 3],
  [CMYK]: ['cmyk', 4],
  [DUOTONE]: ['grey', 1],
  [LAB]: ['lab', 3],
};

/**
 * Reads the composite of a layered picture.
 *
 * @param toScreen encodes linear light, 0 to 1, which 32-bit pictures hold
 * @throws PictureRefusedError when it is too large, or has no composite that can be read; Error when it is damaged
 */
export function readPsd(bytes: Uint8Array, toScreen: (light: number) => number): Composite {
  const parts = partsOf(bytes);
  const { width, height, depth, mode, colors, resources } = parts;
  if (width === 0 || height === 0 || parts.channels === 0) throw new Error('it has no size');
  checkPixels(width, height);
  const [kind, needed] = COLOR_CHANNELS[mode] ?? [];
  if (!kind || !needed)
    throw new PictureRefusedError(
      'it is of separate plates without a colour space (multichannel). Save a copy in RGB or CMYK.',
    );
  if (parts.channels < needed || ![1, 8, 16, 32].includes(depth)) throw new Error('its header is damaged');
  const saved = resources.get(VERSION_INFO);
  if (saved && saved.length > 4 && saved[4] === 0)
    throw new PictureRefusedError(
      'it was saved without the composite of its layers, so there is nothing to be seen in it. Save it again with a composite, or as TIFF or PNG.',
    );
  const pixels = width * height;
  const count = needed + (parts.hasAlpha && parts.channels > needed && mode !== INDEXED ? 1 : 0);
  const rowBytes = depth === 1 ? (width + 7) >> 3 : (width * depth) / 8;
  // a packed row is at best a hundredth: what is shorter is cut short, whatever size it claims
  if (parts.channels * height * rowBytes > 130 * bytes.length)
    throw new Error('its pixels are not all there');
  const planes = Array.from({ length: count }, () => new Uint8Array(pixels));
  let i = 0;
  for (const row of rowsOf(bytes, parts, rowBytes)) {
    const plane = planes[Math.floor(i / height)];
    if (!plane) break;
    const to = plane.subarray((i % height) * width, ((i % height) + 1) * width);
    if (depth === 1) for (let x = 0; x < width; x++) to[x] = (row[x >> 3]! >> (7 - (x & 7))) & 1 ? 0 : 255;
    else if (depth === 32) {
      const view = new DataView(row.buffer, row.byteOffset, row.byteLength);
      const isAlpha = Math.floor(i / height) === needed;
      for (let x = 0; x < width; x++) {
        const light = Math.min(1, Math.max(0, view.getFloat32(4 * x)));
        to[x] = Math.round(255 * (isAlpha ? light : toScreen(light)));
      }
    } else for (let x = 0; x < width; x++) to[x] = row[(x * depth) / 8]!;
    i++;
  }
  const alpha = planes.length > needed ? planes.pop() : undefined;
  const notes = [
    mode === DUOTONE ? 'Its inks (a duotone) are not in the pixels; they were read as greys.' : '',
    depth === 32 ? 'Its pixels are linear light as floating-point numbers, and were read so.' : '',
  ].filter(Boolean);
  let channels = planes;
  if (mode === INDEXED) {
    if (colors.length < 768) throw new Error('its colour table is cut short');
    channels = [0, 1, 2].map((c) => planes[0]!.map((v) => colors[256 * c + v]!));
  }
  // what is kept of inks is how much paper shows
  if (mode === CMYK) channels = channels.map((plane) => plane.map((v) => 255 - v));
  return {
    width,
    height,
    kind,
    channels,
    ...(alpha ? { alpha } : {}),
    ...(notes.length > 0 ? { note: notes.join(' ') } : {}),
  };
}
