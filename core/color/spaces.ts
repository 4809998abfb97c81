import { type CuloriColor, converter } from './culori.ts';
import { intoGamut, isInside, type RgbSpace } from './gamut.ts';
import { adaptedLab, labToLch, labToXyz65, lchToLab, xyz65ToLab } from './lab.ts';
import type { Appearance, Color, Condition, Lab, Rgb, Space } from './model.ts';

/** One channel of a space: its letter, its usual range, and how a person reads it. */
interface Channel {
  letter: string;
  min: number;
  max: number;
  /** What one unit inside is worth on screen, and how many decimals are worth showing. */
  shown: { factor: number; decimals: number; unit?: string };
}

/** A space as a declaration: its channels, its gamut, and the way to and from culori, which does the arithmetic. */
export interface SpaceDefinition extends RgbSpace {
  id: Space;
  name: string;
  channels: Channel[];
  /** The RGB space whose gamut it can hold; none when it can hold any colour, or is a device's. */
  gamut?: 'rgb' | 'p3' | 'a98' | 'prophoto' | 'rec2020';
  /** Its numbers come from measuring, or stand for it. */
  measured?: true;
}

const to = {
  rgb: converter('rgb'),
  hsv: converter('hsv'),
  hsl: converter('hsl'),
  hwb: converter('hwb'),
  p3: converter('p3'),
  a98: converter('a98'),
  prophoto: converter('prophoto'),
  oklab: converter('oklab'),
  oklch: converter('oklch'),
  xyz65: converter('xyz65'),
};

const percent = { factor: 100, decimals: 0, unit: '%' };
const HUE: Channel = {
  letter: 'H',
  min: 0,
  max: 360,
  shown: { factor: 1, decimals: 0, unit: '°' },
};
const part = (letter: string): Channel => ({ letter, min: 0, max: 1, shown: percent });
const cie = (letter: string, min: number, max: number): Channel => ({
  letter,
  min,
  max,
  shown: { factor: 1, decimals: 1 },
});
const ok = (letter: string, min: number, max: number): Channel => ({
  letter,
  min,
  max,
  shown: { factor: 1, decimals: 3 },
});

const xyz = ([x, y, z]: number[]): CuloriColor => ({ mode: 'xyz65', x: x!, y: y!, z: z! });
const fromXyz = (color: CuloriColor) => {
  const { x, y, z } = to.xyz65(color);
  return [x, y, z] as [number, number, number];
};

/** An RGB space that culori knows. A channel may be missing in CSS (`none`), which counts as 0. */
function rgbSpace(
  id: 'rgb' | 'p3' | 'a98' | 'prophoto',
  name: string,
  shown: Channel['shown'],
): SpaceDefinition {
  return {
    id,
    name,
    gamut: id,
    channels: ['R', 'G', 'B'].map((letter) => ({ letter, min: 0, max: 1, shown })),
    toCulori: ([r, g, b]) => ({ mode: id, r: r!, g: g!, b: b! }),
    fromCulori: (color) => {
      // each gives its own mode back
      const { r, g, b } = (to[id] as (c: CuloriColor) => { r?: number; g?: number; b?: number })(color);
      return [r ?? 0, g ?? 0, b ?? 0];
    },
  };
}
/** Another way to write sRGB: a hue, which greys have none of, and two parts, by what culori calls them. */
function hueSpace(
  id: 'hsb' | 'hsl' | 'hwb',
  name: string,
  mode: 'hsv' | 'hsl' | 'hwb',
  parts: [string, string],
): SpaceDefinition {
  return {
    id,
    name,
    gamut: 'rgb',
    channels: [HUE, part(name[1]!), part(name[2]!)],
    toCulori: ([h, a, b]) => ({ mode, h, ...{ [parts[0]]: a, [parts[1]]: b } }) as CuloriColor,
    fromCulori: (color) => {
      // each gives its own mode back
      const numbers = (to[mode] as (c: CuloriColor) => unknown)(color) as Record<string, number | undefined>;
      return [numbers.h ?? 0, numbers[parts[0]]!, numbers[parts[1]]!];
    },
  };
}
const wide = { factor: 1, decimals: 3 };

// Rec. 2020 as a screen shows it: the curve of BT.1886, pure 2.4 (CSS Color 4, 10.8); the matrices from BT.2124-0, annex 2, and
// CSS Color 4, 17. culori has the camera's curve.
const REC2020_TO_XYZ = [
  [0.6369580483012914, 0.14461690358620832, 0.1688809751641721],
  [0.2627002120112671, 0.6779980715188708, 0.05930171646986196],
  [0, 0.028072693049087428, 1.060985057710791],
];
const XYZ_TO_REC2020 = [
  [1.716651187971268, -0.355670783776392, -0.25336628137366],
  [-0.666684351832489, 1.616481236634939, 0.0157685458139111],
  [0.017639857445311, -0.042770613257809, 0.942103121235474],
];
const times = (m: number[][], v: number[]) =>
  m.map((row) => row[0]! * v[0]! + row[1]! * v[1]! + row[2]! * v[2]!);
const power = (v: number, exponent: number) => Math.sign(v) * Math.abs(v) ** exponent;

export const spaces: Record<Space, SpaceDefinition> = {
  rgb: rgbSpace('rgb', 'RGB', { factor: 255, decimals: 0 }),
  hsb: hueSpace('hsb', 'HSB', 'hsv', ['s', 'v']),
  hsl: hueSpace('hsl', 'HSL', 'hsl', ['s', 'l']),
  hwb: hueSpace('hwb', 'HWB', 'hwb', ['w', 'b']),
  cmyk: {
    id: 'cmyk',
    name: 'CMYK',
    channels: ['C', 'M', 'Y', 'K'].map(part),
    // a device's: only a print condition says what they look like, and `convert` asks it
    toCulori: () => throwNoProfile(),
    fromCulori: () => throwNoProfile(),
  },
  lab: {
    id: 'lab',
    name: 'Lab',
    measured: true,
    channels: [cie('L', 0, 100), cie('a', -128, 127), cie('b', -128, 127)],
    toCulori: (components) => xyz(labToXyz65(components)),
    fromCulori: (color) => xyz65ToLab(fromXyz(color)),
  },
  lch: {
    id: 'lch',
    name: 'LCh',
    measured: true,
    channels: [cie('L', 0, 100), cie('C', 0, 230), { ...HUE, shown: { factor: 1, decimals: 1, unit: '°' } }],
    toCulori: (components) => xyz(labToXyz65(lchToLab(components))),
    fromCulori: (color) => labToLch(xyz65ToLab(fromXyz(color))),
  },
  oklab: {
    id: 'oklab',
    name: 'OKLab',
    channels: [ok('L', 0, 1), ok('a', -0.5, 0.5), ok('b', -0.5, 0.5)],
    toCulori: ([l, a, b]) => ({ mode: 'oklab', l: l!, a: a!, b: b! }),
    fromCulori: (color) => {
      const { l, a, b } = to.oklab(color);
      return [l, a, b];
    },
  },
  oklch: {
    id: 'oklch',
    name: 'OKLCh',
    channels: [ok('L', 0, 1), ok('C', 0, 0.5), { ...HUE, shown: { factor: 1, decimals: 1, unit: '°' } }],
    toCulori: ([l, c, h]) => ({ mode: 'oklch', l: l!, c: c!, h: h! }),
    fromCulori: (color) => {
      const { l, c, h } = to.oklch(color);
      return [l, c, h ?? 0];
    },
  },
  p3: rgbSpace('p3', 'Display P3', wide),
  a98: rgbSpace('a98', 'A98 RGB', wide),
  prophoto: rgbSpace('prophoto', 'ProPhoto RGB', wide),
  rec2020: {
    id: 'rec2020',
    name: 'Rec. 2020',
    gamut: 'rec2020',
    channels: ['R', 'G', 'B'].map((letter) => ({ letter, min: 0, max: 1, shown: wide })),
    toCulori: (components) =>
      xyz(
        times(
          REC2020_TO_XYZ,
          components.map((v) => power(v, 2.4)),
        ),
      ),
    fromCulori: (color) => times(XYZ_TO_REC2020, fromXyz(color)).map((v) => power(v, 1 / 2.4)),
  },
  gray: {
    id: 'gray',
    name: 'Gray',
    gamut: 'rgb',
    channels: [part('G')],
    toCulori: ([v]) => ({ mode: 'rgb', r: v!, g: v!, b: v! }),
    // the neutral of the same luminance, so that a converted colour stays as light as it was
    fromCulori: (color) => {
      const { y } = to.xyz65(color);
      return [to.rgb({ mode: 'xyz65', x: y * 0.9504559270516716, y, z: y * 1.0890577507598784 }).g];
    },
  },
};

function throwNoProfile(): never {
  throw new Error('Inks have no colour without a profile.');
}

const labIn = (space: 'lab' | 'lch', lab: Lab) => (space === 'lab' ? lab : labToLch(lab));

/** The Lab of a color that is stated for another white, for D50. */
const adapted = ({ space, components, white }: Color): Lab =>
  adaptedLab(space === 'lch' ? lchToLab(components) : components, white!);

/**
 * The color as culori holds it: as it is shown, and not brought into any gamut. Device colours come through the condition's
 * profiles, relative to the medium's white.
 */
export function toCulori(color: Color, condition: Condition): CuloriColor {
  if (condition.isDevice(color)) return spaces.lab.toCulori(condition.shown(color));
  if (color.white) return spaces.lab.toCulori(adapted(color));
  return spaces[color.space].toCulori(color.components);
}

/** CIE Lab, D50, 2°: of device colours what is measured, absolute with the paper; of others what is shown. */
export function toLab(color: Color, condition: Condition): Lab {
  if (condition.isDevice(color)) return condition.measured(color);
  if (color.white) return adapted(color);
  if (color.space === 'lab') return color.components as Lab;
  if (color.space === 'lch') return lchToLab(color.components);
  return spaces.lab.fromCulori(toCulori(color, condition)) as Lab;
}

/** A gray as it prints: black ink alone, as PDF has DeviceGray on a press (ISO 32000-2, 10.4.2.2). */
const blackAlone = ({ components: [light = 0] }: Color): Color => ({
  space: 'cmyk',
  components: [0, 0, 0, 1 - Math.min(1, Math.max(0, light))],
});

/**
 * The same color in another space; colors already in it come back untouched. What the space's gamut does not hold is brought
 * inside by lowering chroma. To Lab and LCh as measured ({@link toLab}); between inks and screens as the condition says, but a
 * gray is black ink alone; from Lab and LCh to inks absolute.
 */
export function convert(color: Color, space: Space, condition: Condition): Color {
  const here = color.space === space && !color.white;
  // inks of another profile stay the inks they are
  if (here && (space === 'cmyk' || !condition.isDevice(color)))
    return color.profile === undefined ? color : { space, components: color.components };
  if (space === 'lab' || space === 'lch') return { space, components: labIn(space, toLab(color, condition)) };
  if (space === 'cmyk') {
    if (color.space === 'gray') return blackAlone(color);
    const measured = spaces[color.space].measured === true;
    const lab = measured ? toLab(color, condition) : shownLab(color, condition);
    return { space, components: condition.inks(lab, measured) };
  }
  const { gamut, fromCulori } = spaces[space];
  const culori = toCulori(color, condition);
  if (!gamut) return { space, components: fromCulori(culori) };
  const inside = intoGamut(culori, spaces[gamut]);
  return { space, components: gamut === space ? inside : fromCulori(spaces[gamut].toCulori(inside)) };
}

/**
 * The color as something can hold it that knows only some spaces: as it is, brought inside 0–1, where its own is among them;
 * else as Lab, where that is and sRGB would not hold it; else in the first.
 */
export function carried(color: Color, allowed: readonly Space[], condition: Condition): Color {
  const { gamut, measured } = spaces[color.space];
  if (allowed.includes(color.space)) {
    const plain = convert(color, color.space, condition);
    return gamut !== color.space || isInside(plain.components, 0)
      ? withinEnds(plain)
      : withinEnds({ space: gamut, components: intoGamut(toCulori(plain, condition), spaces[gamut]) });
  }
  const device = condition.isDevice(color);
  const wide = !device && (measured || !isInside(spaces.rgb.fromCulori(toCulori(color, condition))));
  return withinEnds(convert(color, wide && allowed.includes('lab') ? 'lab' : allowed[0]!, condition));
}

/** Whether a channel goes no further than its ends: a*, b* and chroma have none. */
const hasEnds = ({ id, gamut }: SpaceDefinition, i: number) =>
  i === 0 || id === 'cmyk' || gamut !== undefined;

/** The color with what lies beyond the ends of a channel brought to them: nothing is lighter than white, no ink more than all of it. */
function withinEnds(color: Color): Color {
  const space = spaces[color.space];
  const inside = (v: number, i: number) => {
    const { min, max } = space.channels[i]!;
    if (Number.isNaN(v)) return min;
    if (space.channels[i] === HUE) return v >= min && v <= max ? v : ((v % max) + max) % max || 0;
    return hasEnds(space, i) ? Math.min(max, Math.max(min, v)) : v;
  };
  const components = color.components.map(inside);
  return components.every((v, i) => v === color.components[i]) ? color : { ...color, components };
}

/** CIE Lab, D50, of what a screen shows. */
export const shownLab = (color: Color, condition: Condition): Lab =>
  condition.isDevice(color) ? condition.shown(color) : toLab(color, condition);

/** Whether an RGB space can show the color, with room for half a step of 8 bits. */
export const inGamut = (color: Color, gamut: 'rgb' | 'p3', condition: Condition): boolean =>
  isInside(spaces[gamut].fromCulori(toCulori(color, condition)), 0.5 / 255);

/** Whether sRGB can show the color. */
export const inSrgb = (color: Color, condition: Condition): boolean => appearance(color, condition).inSrgb;

const toHex8 = (rgb: number[]) =>
  `#${rgb
    .map((v) =>
      Math.round(v * 255)
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`;

/** How a color looks under a condition; found once for each color and condition. */
export function appearance(color: Color, condition: Condition): Appearance {
  const known = condition.seen.get(color);
  if (known) return known;
  const culori = toCulori(color, condition);
  const plain = spaces.rgb.fromCulori(culori);
  const rgb = intoGamut(culori, spaces.rgb) as Rgb;
  const made: Appearance = {
    lab: toLab(color, condition),
    rgb,
    hex: toHex8(rgb),
    inSrgb: isInside(plain, 0.5 / 255),
    luminance: to.xyz65(spaces.rgb.toCulori(rgb)).y,
  };
  condition.seen.set(color, made);
  return made;
}

/** Encoded sRGB, 0–1, brought inside. */
export const toRgb = (color: Color, condition: Condition): Rgb => appearance(color, condition).rgb;

/** Encoded sRGB as it comes, outside 0–1 where sRGB does not hold the color: for arithmetic, not for showing. */
export const toOpenRgb = (color: Color, condition: Condition): Rgb =>
  spaces.rgb.fromCulori(toCulori(color, condition)) as Rgb;

/** Encoded sRGB as whole numbers 0–255. */
export const toRgb8 = (color: Color, condition: Condition): Rgb =>
  appearance(color, condition).rgb.map((v) => Math.round(v * 255)) as Rgb;

/** `#rrggbb`. */
export const toHex = (color: Color, condition: Condition): string => appearance(color, condition).hex;

/** A colour from three bytes. */
export function fromRgb8(r: number, g: number, b: number): Color {
  return { space: 'rgb', components: [r / 255, g / 255, b / 255] };
}

/** Relative luminance of what a screen shows, 0–1, as the Y of CIE XYZ for a D65 white (WCAG 2.2 uses the same quantity). */
export const luminance = (color: Color, condition: Condition): number =>
  appearance(color, condition).luminance;

/** Black or white: whichever has the higher WCAG 2.2 contrast on the colour. */
export function inkOn(color: Color, condition: Condition): '#000000' | '#ffffff' {
  const y = luminance(color, condition);
  return (y + 0.05) / 0.05 >= 1.05 / (y + 0.05) ? '#000000' : '#ffffff';
}

/** Whether something from elsewhere is a color: of a space there is, with as many finite numbers as that has. */
export function isColor(value: unknown): value is Color {
  const { space, components } = (value ?? {}) as Partial<Color>;
  return (
    typeof space === 'string' &&
    Object.hasOwn(spaces, space) &&
    Array.isArray(components) &&
    components.length === spaces[space].channels.length &&
    components.every(Number.isFinite)
  );
}
