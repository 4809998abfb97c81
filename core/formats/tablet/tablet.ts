import { type Color, type Condition, convert, screenOnly } from '../../color/index.ts';
import { isLoose, type Swatch } from '../../swatch/model.ts';
import { FormatError } from '../../text/error.ts';
import { isRecord, parseJson } from '../../text/json.ts';
import { plural, readText, writeText } from '../../text/text.ts';
import { holds, pack, unpack } from '../archive.ts';
import { type Draft, decoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';

const PLACES = 30;
const INSIDE = 'Swatches.json';

const isInside = (path: string) => path.split('/').at(-1)?.toLowerCase() === INSIDE.toLowerCase();

export const tablet: PlainFormat = {
  id: 'tablet',
  name: 'Tablet palettes',
  about:
    'Palettes of tablet painting programs, 30 places each. Keeps groups as palettes, HSB, no swatch names.',
  endings: ['swatches'],
  mime: 'application/zip',
  traits: {
    read: true,
    write: true,
    names: false,
    groups: true,
    kinds: ['process'],
    spaces: ['hsb'],
    bits: 64,
  },

  recognise: (bytes) => (holds(bytes, isInside) ? 1 : 0),

  decode: decoder((bytes, draft) => {
    const [entry] = unpack(bytes, isInside);
    if (!entry) throw new FormatError(`there is no ${INSIDE} in the archive.`);
    const data = parseJson(readText(entry.bytes) ?? '');
    const palettes = Array.isArray(data) ? data : [data];
    palettes.forEach((palette, i) => {
      const place = `palette ${i + 1} of ${palettes.length}`;
      if (!isRecord(palette) || !Array.isArray(palette.swatches))
        throw new FormatError(`${place} has no list of swatches. It is damaged.`);
      draft.enter(typeof palette.name === 'string' ? palette.name : '');
      readPalette(palette.swatches, place, profilesOf(palette.colorProfiles, draft), draft);
    });
  }),

  encode(library, { condition }) {
    const palettes: { name: string; swatches: unknown[] }[] = [];
    for (const group of library.groups) {
      if (isLoose(library, group) && group.swatches.length === 0) continue;
      const name = isLoose(library, group) ? library.name : group.name;
      const places = group.swatches.flatMap((s) => [
        ...Array<null>(s.gap ?? 0).fill(null),
        place(s, condition),
      ]);
      for (let n = 0; n === 0 || n * PLACES < places.length; n++)
        palettes.push({
          name: n === 0 ? name : `${name} ${n + 1}`,
          swatches: [
            ...places.slice(n * PLACES, (n + 1) * PLACES),
            ...Array<null>(Math.max(0, Math.min(PLACES, (n + 1) * PLACES - places.length))).fill(null),
          ],
        });
    }
    return pack([{ path: INSIDE, bytes: writeText(JSON.stringify(palettes)) }]);
  },
};

/** The RGB profiles a palette brings, by what its places call them: `hash`, `iccName` and the bytes in base 64 as `iccData`. */
function profilesOf(listed: unknown, draft: Draft): ReadonlyMap<string, string> {
  const found = new Map<string, string>();
  for (const entry of Array.isArray(listed) ? listed : []) {
    if (!isRecord(entry) || typeof entry.hash !== 'string' || typeof entry.iccData !== 'string') continue;
    draft.step();
    const called = typeof entry.iccName === 'string' ? entry.iccName : 'without a name';
    const hash = draft.brings(fromBase64(entry.iccData), 'rgb', called);
    if (hash) found.set(entry.hash, hash);
  }
  return found;
}

/** Bytes of base 64; none where it is not. */
function fromBase64(text: string): Uint8Array {
  try {
    return Uint8Array.from(atob(text), (c) => c.charCodeAt(0));
  } catch {
    return new Uint8Array();
  }
}

function readPalette(
  places: unknown[],
  palette: string,
  profiles: ReadonlyMap<string, string>,
  draft: Draft,
): void {
  let gap = 0;
  places.forEach((place, i) => {
    if (place === null) {
      gap++;
      return;
    }
    draft.attempt(() => {
      const { hue, saturation, brightness, alpha = 1, colorProfile } = isRecord(place) ? place : {};
      const values = [hue, saturation, brightness, alpha];
      if (!values.every((v): v is number => typeof v === 'number' && v >= 0 && v <= 1))
        throw new FormatError(
          `place ${i + 1} of ${palette} is not a colour: hue, saturation and brightness from 0 to 1 should stand there.`,
        );
      const [h, s, b, a] = values;
      const hsb: Color = { space: 'hsb', components: [h * 360, s, b] };
      const profile = profiles.get(String(colorProfile));
      draft.add({
        // HSB is another way to write RGB, whatever RGB it is
        color: profile ? { ...convert(hsb, 'rgb', screenOnly), profile } : hsb,
        ...(a < 1 ? { alpha: a } : {}),
        ...(gap > 0 ? { gap } : {}),
      });
      gap = 0;
    });
  });
  if (places.length > PLACES)
    draft.warn(`${palette} has ${plural(places.length, 'place')}; all of them were read.`);
}

function place({ color, alpha }: Swatch, condition: Condition) {
  const [hue, saturation, brightness] = convert(color, 'hsb', condition).components;
  const unit = (v: number) => Math.min(1, Math.max(0, v));
  return {
    hue: unit(hue / 360),
    saturation: unit(saturation),
    brightness: unit(brightness),
    alpha: alpha ?? 1,
    colorSpace: 0,
  };
}
