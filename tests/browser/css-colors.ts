/** Colours as sheets have them, for Chromium to compute: odd numbers, sums, mixes, and colours made of others. */
const PLAIN = [
  '#336699',
  'red',
  'color(display-p3 0 1 0)',
  'hsl(120 150% 50%)',
  'oklch(0.6 0.2 30)',
  'rgb(10 20 30 / 40%)',
];
const NUMBERS = ['-40', '0', '0.3', '1', '55', '130', '300', '-20%', '45.5%', '150%'];
const SPACES = [
  'srgb',
  'srgb-linear',
  'display-p3',
  'lab',
  'oklab',
  'xyz',
  'lch',
  'oklch longer hue',
  'hsl',
  'hwb shorter hue',
];

const three = NUMBERS.flatMap((a, i) =>
  [0, 3, 7].map((n) => [a, NUMBERS[(i + n) % 10]!, NUMBERS[(i * 3 + n) % 10]!]),
);
const percent = (n: string) => (n.endsWith('%') ? n : `${n}%`);

export const cssColors: string[] = [
  ...three.flatMap(([a, b, c]) => [
    // one kind of number throughout, as older browsers had it
    `rgb(${[a, b, c].map((n) => n!.replace('%', '')).join(' ')})`,
    `rgb(${[a, b, c].map((n) => percent(n!)).join(' ')} / ${b})`,
    `hsl(${a!.replace('%', '')} ${percent(b!)} ${percent(c!)})`,
    `hwb(${a!.replace('%', '')} ${percent(b!)} ${percent(c!)})`,
    ...['lab', 'lch', 'oklab', 'oklch'].map((f) => `${f}(${a} ${b} ${c!.replace('%', '')})`),
    `color(display-p3 ${a} ${b} ${c})`,
    `rgb(calc(${a!.replace('%', '')} * 2) min(20, ${b!.replace('%', '')}) clamp(0, ${c!.replace('%', '')}, 255))`,
  ]),
  ...SPACES.flatMap((space) =>
    PLAIN.map(
      (color, i) => `color-mix(in ${space}, ${color} ${10 + 13 * i}%, ${PLAIN[(i + 2) % PLAIN.length]})`,
    ),
  ),
  ...PLAIN.flatMap((color) => [
    `rgb(from ${color} g b r / 50%)`,
    `hsl(from ${color} calc(h + 30) s l)`,
    `oklch(from ${color} calc(l * 0.8) c h)`,
    `lab(from ${color} l calc(a / 2) b / alpha)`,
    `color(from ${color} display-p3 r g b)`,
    `light-dark(${color}, white)`,
    `color-mix(in oklab, light-dark(${color}, white), color-mix(in srgb, red, ${color}))`,
  ]),
];
