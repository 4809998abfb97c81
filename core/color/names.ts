import { converter } from './culori.ts';
import type { Color, Condition } from './model.ts';
import { toCulori } from './spaces.ts';

const toOklch = converter('oklch');

/** A noun, and where in its span of hues it holds: from a lightness, from a chroma (OKLCh). The first that fits is it. */
type Noun = [word: string, from: { l?: number; c?: number }, says?: 'dark' | 'light'];

/**
 * The hues of OKLCh in spans, each up to an angle in degrees, with plain words of the trade. The angles lie between those
 * of the CSS colours a word is commonly used for (red 29°, orange 71°, yellow 110°, green 142°, cyan 195°, blue 264°,
 * magenta 328°); words for dark and pale ones are common practice, no source.
 */
const HUES: [to: number, nouns: Noun[]][] = [
  [
    18,
    [
      ['pink', { l: 0.78 }, 'light'],
      ['rose', { l: 0.42 }],
      ['burgundy', {}, 'dark'],
    ],
  ],
  [
    38,
    [
      ['coral', { l: 0.7 }, 'light'],
      ['red', { l: 0.4 }],
      ['oxblood', {}, 'dark'],
    ],
  ],
  [
    70,
    [
      ['orange', { l: 0.58, c: 0.12 }],
      ['apricot', { l: 0.74 }, 'light'],
      ['tan', { l: 0.56 }],
      ['brown', {}],
    ],
  ],
  [
    94,
    [
      ['amber', { l: 0.64, c: 0.13 }],
      ['sand', { l: 0.76 }, 'light'],
      ['ochre', { l: 0.52 }],
      ['brown', {}],
    ],
  ],
  [
    116,
    [
      ['yellow', { l: 0.74, c: 0.12 }],
      ['cream', { l: 0.85 }, 'light'],
      ['khaki', { l: 0.58 }],
      ['olive', {}],
    ],
  ],
  [
    136,
    [
      ['lime', { l: 0.62, c: 0.13 }],
      ['sage', { l: 0.72 }, 'light'],
      ['moss', {}],
    ],
  ],
  [
    164,
    [
      ['green', { c: 0.08 }],
      ['sage', { l: 0.62 }],
      ['green', {}],
    ],
  ],
  [183, [['sea green', {}]]],
  [
    222,
    [
      ['turquoise', { l: 0.62, c: 0.1 }],
      ['aqua', { l: 0.8 }, 'light'],
      ['teal', {}],
    ],
  ],
  [
    245,
    [
      ['sky blue', { l: 0.66, c: 0.04 }, 'light'],
      ['blue', { c: 0.05 }],
      ['slate', {}],
    ],
  ],
  [
    282,
    [
      ['blue', { l: 0.38, c: 0.05 }],
      ['navy', { c: 0.05 }, 'dark'],
      ['slate', {}],
    ],
  ],
  [
    306,
    [
      ['lavender', { l: 0.72 }, 'light'],
      ['violet', { l: 0.36 }],
      ['indigo', {}, 'dark'],
    ],
  ],
  [
    322,
    [
      ['lilac', { l: 0.72 }, 'light'],
      ['purple', { l: 0.36 }],
      ['aubergine', {}, 'dark'],
    ],
  ],
  [
    352,
    [
      ['pink', { l: 0.78 }, 'light'],
      ['magenta', { l: 0.52, c: 0.12 }],
      ['purple', { c: 0.12 }],
      ['mauve', { l: 0.42 }],
      ['plum', {}, 'dark'],
    ],
  ],
  [
    360,
    [
      ['pink', { l: 0.78 }, 'light'],
      ['rose', { l: 0.42 }],
      ['burgundy', {}, 'dark'],
    ],
  ],
];

/** Chroma under which a colour is a grey, and under which a grey has a lean. */
const GREY = 0.028;
const NEUTRAL = 0.008;

const LEANS: [to: number, word: string][] = [
  [116, 'warm'],
  [185, 'green'],
  [300, 'cool'],
  [350, 'violet'],
  [360, 'warm'],
];

const upTo = <T>(table: [to: number, value: T][], v: number): T =>
  (table.find(([to]) => v < to) ?? table[table.length - 1])[1];

/** From the plainest name of a colour to more particular ones. */
function candidates(color: Color, condition: Condition): string[] {
  const { l, c, h = 0 } = toOklch(toCulori(color, condition));
  const hue = ((h % 360) + 360) % 360;
  if (c < GREY) {
    const lean = c < NEUTRAL ? '' : upTo(LEANS, hue);
    const base = l < 0.22 ? 'black' : l > 0.965 ? 'white' : 'grey';
    const depth =
      base === 'grey'
        ? upTo(
            [
              [0.38, 'dark'],
              [0.54, 'deep'],
              [0.7, 'mid'],
              [0.84, 'light'],
              [2, 'pale'],
            ],
            l,
          )
        : '';
    const words = (...list: string[]) => list.filter(Boolean).join(' ');
    // a lean hardly shows in what is nearly black or white
    const plain = base === 'grey' || c > NEUTRAL * 2 ? words(depth, lean, base) : base;
    return [plain, words(depth, lean || 'neutral', base)];
  }
  const nouns = upTo(HUES, hue);
  const [noun, , says] = nouns.find(([, from]) => l >= (from.l ?? 0) && c >= (from.c ?? 0)) ?? nouns[0];
  const depth = says
    ? says === 'light' && l >= 0.9
      ? 'pale'
      : ''
    : l < 0.46
      ? c >= 0.055
        ? 'deep'
        : 'dark'
      : l >= 0.87
        ? 'pale'
        : l >= 0.77 && c < 0.15
          ? 'light'
          : '';
  const strength = c < 0.05 ? 'grey' : c < 0.085 ? (l >= 0.72 ? 'soft' : 'muted') : c > 0.19 ? 'vivid' : '';
  const name = (...list: string[]) => [...list.filter(Boolean), noun].join(' ');
  const lightness =
    l < 0.3 ? 'very dark' : l < 0.46 ? 'dark' : l < 0.6 ? 'mid' : l < 0.75 ? 'light' : 'very light';
  const plain = strength === 'vivid' ? name(strength) : name(depth || strength);
  return [plain, name(depth, strength), name(lightness), name(lightness, strength)];
}

/** A list is named again whenever one of its colours changes. */
const known = new WeakMap<Condition, WeakMap<Color, string[]>>();

/**
 * A plain name for each colour from its lightness, chroma and hue, such as “deep teal” or “pale warm grey”, no two alike:
 * where two colours would get the same, the later one gets a more particular one, and a number when there is none left.
 *
 * @param taken names that are given already, in any case
 */
export function suggestNames(
  colors: readonly Color[],
  condition: Condition,
  taken: Iterable<string> = [],
): string[] {
  const found = known.get(condition) ?? new WeakMap<Color, string[]>();
  known.set(condition, found);
  const lower = (name: string) => name.toLocaleLowerCase('en');
  const used = new Set(Array.from(taken, lower));
  const counts = new Map<string, number>();
  return colors.map((color) => {
    const options = found.get(color) ?? candidates(color, condition);
    found.set(color, options);
    let name = options.find((option) => !used.has(option));
    for (let n = counts.get(options[0]) ?? 2; !name; n++) {
      if (!used.has(`${options[0]} ${n}`)) name = `${options[0]} ${n}`;
      counts.set(options[0], n + 1);
    }
    used.add(name);
    return name;
  });
}

/**
 * Suggests names again after other names have become free, so that “muted tan 6” becomes “muted tan”. Names that somebody typed
 * stay.
 *
 * @param names as {@link suggestNames} or somebody gave them, one for each color
 */
export function renewNames(
  names: readonly string[],
  colors: readonly Color[],
  condition: Condition,
): string[] {
  const isSuggested = names.map((name, i) =>
    candidates(colors[i]!, condition).includes(name.replace(/ \d+$/, '')),
  );
  const renewed = suggestNames(
    colors.filter((_, i) => isSuggested[i]),
    condition,
    names.filter((_, i) => !isSuggested[i]),
  );
  let next = 0;
  return names.map((name, i) => (isSuggested[i] ? renewed[next++]! : name));
}
