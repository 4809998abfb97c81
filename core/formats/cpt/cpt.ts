import { type Color, fromCss, fromRgb8 } from '../../color/index.ts';
import type { Stop } from '../../swatch/gradient.ts';
import { FormatError } from '../../text/error.ts';
import { beginningOf, linesOf, oneLine, short, writeText } from '../../text/text.ts';
import { type Draft, textDecoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';
import { writtenGradient } from '../ggr/ggr.ts';

// Colour palette tables of maps, as their published reference describes them: a line from one value to
// the next with a colour for each; B, F and N for what lies below, above and nowhere.

type Model = 'rgb' | 'hsv' | 'cmyk';
const NUMBER = String.raw`[-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?`;
/** A value and a colour, twice; or twice with the colour once, where they stay the same. */
const SLICE = new RegExp(String.raw`^\s*${NUMBER}\s+\S+.*$`);

/** A colour in one word: `255/0/0`, `0-1-1`, `0/100/100/0`, a gray, a name. */
function colorIn(word: string, model: Model): Color | null {
  const numbers = (model === 'hsv' ? word.split('-') : word.split('/')).map(Number);
  if (numbers.every(Number.isFinite)) return colorOf(numbers, model);
  return fromCss(word)?.color ?? null;
}

function colorOf(numbers: number[], model: Model): Color | null {
  if (numbers.length === 1 && numbers[0]! >= 0 && numbers[0]! <= 255)
    return fromRgb8(numbers[0]!, numbers[0]!, numbers[0]!);
  if (numbers.length === 4)
    return numbers.every((v) => v >= 0 && v <= 100)
      ? { space: 'cmyk', components: numbers.map((v) => v / 100) }
      : null;
  if (numbers.length !== 3) return null;
  const [a = 0, b = 0, c = 0] = numbers;
  if (model === 'hsv') return b <= 1 && c <= 1 ? { space: 'hsb', components: [a, b, c] } : null;
  return numbers.every((v) => v >= 0 && v <= 255) ? fromRgb8(a, b, c) : null;
}

/** The values and colours of a slice; null when it is none. */
function sliceOf(line: string, model: Model): { from: number; to: number; colors: [Color, Color] } | null {
  const [plain = ''] = line.split(';');
  const words = plain.trim().split(/\s+/);
  // how what is left and right of a slice is annotated
  if (/^[LUB]$/.test(words.at(-1) ?? '')) words.pop();
  const values = words.map(Number);
  const size = model === 'cmyk' ? 4 : 3;
  const pair = (a: number, b: number, one: Color | null, two: Color | null) =>
    Number.isFinite(a) && Number.isFinite(b) && one && two
      ? { from: a, to: b, colors: [one, two] as [Color, Color] }
      : null;
  if (words.length === 2 * (size + 1) && values.every(Number.isFinite))
    return pair(
      values[0]!,
      values[size + 1]!,
      colorOf(values.slice(1, size + 1), model),
      colorOf(values.slice(size + 2), model),
    );
  if (words.length === 4)
    return pair(values[0]!, values[2]!, colorIn(words[1]!, model), colorIn(words[3]!, model));
  if (words.length === 3) {
    const color = colorIn(words[1]!, model);
    return pair(values[0]!, values[2]!, color, color);
  }
  return null;
}

const modelOf = (text: string): Model => {
  const said = /^#\s*COLOR_MODEL\s*=\s*\+?(\w+)/im.exec(text)?.[1]?.toLowerCase();
  return said === 'hsv' ? 'hsv' : said === 'cmyk' ? 'cmyk' : 'rgb';
};

/** Stops, each once where one slice goes on in the next. */
function addStops(slices: readonly NonNullable<ReturnType<typeof sliceOf>>[], draft: Draft): void {
  const [low, high] = [slices[0]!.from, slices.at(-1)!.to];
  const stops: Omit<Stop, 'ref'>[] = [];
  for (const { from, to, colors } of slices)
    [from, to].forEach((value, i) => {
      const at = high > low ? (value - low) / (high - low) : 0;
      const last = stops.at(-1);
      if (!last || last.at !== at || JSON.stringify(last.color) !== JSON.stringify(colors[i]))
        stops.push({ color: colors[i]!, at });
    });
  const seen = new Set<string>();
  for (const { color, at } of stops) {
    const key = JSON.stringify(color);
    if (seen.has(key)) continue;
    seen.add(key);
    draft.add({ name: short(low + at * (high - low), 6), color });
  }
  if (stops.length > 1) draft.addGradient({ name: 'Scale', way: 'srgb', stops });
}

export const cpt: PlainFormat = {
  id: 'cpt',
  name: 'CPT',
  about: 'Colour scale of maps: colours at values, one gradient to a file. 8-bit RGB.',
  endings: ['cpt'],
  mime: 'text/plain',
  traits: {
    ...{
      read: true,
      write: true,
      names: false,
      groups: false,
      gradientsOnly: true,
      kinds: ['process'],
      spaces: ['rgb'],
      bits: 8,
    },
  },

  recognise(bytes) {
    const text = beginningOf(bytes, 65_536);
    if (!text || /[{}<>]/.test(text)) return 0;
    const lines = text.split(/\r?\n/).filter((l) => l.trim() !== '' && !/^\s*[#BFN]/.test(l));
    const model = modelOf(text);
    const good = lines.slice(0, 20).filter((l) => SLICE.test(l) && sliceOf(l, model));
    // a table of numbers is one only where each line goes on where the last ended
    const chained = good.every(
      (l, i) => i === 0 || sliceOf(l, model)!.from === sliceOf(good[i - 1]!, model)!.to,
    );
    if (good.length === 0 || good.length < Math.min(20, lines.length) || !chained) return 0;
    return /^\s*[BFN]\s/m.test(text) || /COLOR_MODEL/i.test(text) ? 0.95 : good.length > 1 ? 0.75 : 0.3;
  },

  decode: textDecoder((text, draft) => {
    const model = modelOf(text);
    const slices: NonNullable<ReturnType<typeof sliceOf>>[] = [];
    let n = 0;
    for (const line of linesOf(text)) {
      n++;
      draft.step();
      const special = /^\s*([BFN])\s+(\S+(?:\s+\S+)*)\s*$/.exec(line);
      if (line.trim() === '' || /^\s*#/.test(line) || special) continue;
      const at = n;
      draft.attempt(() => {
        const slice = sliceOf(line, model);
        if (!slice)
          throw new FormatError(
            `line ${at} (“${line.trim().slice(0, 40)}”) is not a step of a scale. Write a value and a colour twice, or delete the line.`,
          );
        slices.push(slice);
      });
    }
    if (slices.length > 0) addStops(slices, draft);
    if (slices.length === 0 && draft.attempted === 0 && !/COLOR_MODEL/.test(text))
      throw new FormatError('it has no steps, and so no colours.');
  }),

  encode(library, { condition }) {
    const { name, stops } = writtenGradient(library, condition);
    const word = (rgb: readonly number[]) =>
      rgb.map((v) => Math.round(255 * Math.min(1, Math.max(0, v)))).join('/');
    const lines = stops.slice(1).flatMap((stop, i) => {
      const before = stops[i]!;
      return stop.at > before.at
        ? [`${short(before.at, 6)}\t${word(before.rgb)}\t${short(stop.at, 6)}\t${word(stop.rgb)}`]
        : [];
    });
    const [first, last] = [stops[0], stops.at(-1)];
    // one colour alone is the same from end to end
    if (first && lines.length === 0) lines.push(`0\t${word(first.rgb)}\t1\t${word(first.rgb)}`);
    const ends = first && last ? [`B\t${word(first.rgb)}`, `F\t${word(last.rgb)}`] : [];
    return writeText([`# ${oneLine(name)}`, '# COLOR_MODEL = RGB', ...lines, ...ends, ''].join('\n'));
  },
};
