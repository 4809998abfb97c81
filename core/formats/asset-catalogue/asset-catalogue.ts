import { type Color, carried, encodeSrgb, type Space } from '../../color/index.ts';
import { isLoose, type Swatch } from '../../swatch/model.ts';
import { FormatError } from '../../text/error.ts';
import { isRecord, parseJson } from '../../text/json.ts';
import { plainName, sameFile } from '../../text/names.ts';
import { readText, sniff, uniquely, writeText } from '../../text/text.ts';
import { ARCHIVE_LIMITS, holds, isZip, pack, unpack } from '../archive.ts';
import { type Draft, decoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';

// Layout from the published description of asset catalogues (“Named Color Type”), from memory.

/** Each is a file of its own, and no more are taken out of an archive. */
const MAX_SWATCHES = ARCHIVE_LIMITS.entries;
const CONTENTS = 'Contents.json';
const isColorSet = (path: string) => /\.colorset\/Contents\.json$/i.test(path);

/** The spaces by what a catalogue calls them. Extended ones go beyond 0–1. */
const SPACE_NAMES: Record<string, Space> = {
  srgb: 'rgb',
  'extended-srgb': 'rgb',
  'extended-linear-srgb': 'rgb',
  'display-p3': 'p3',
  'gray-gamma-22': 'gray',
  'extended-gray': 'gray',
};
const HELD = ['rgb', 'p3', 'gray'] as const satisfies Space[];
const WRITTEN: Record<(typeof HELD)[number], string> = {
  rgb: 'srgb',
  p3: 'display-p3',
  gray: 'gray-gamma-22',
};
const PARTS: Record<(typeof HELD)[number], string[]> = {
  rgb: ['red', 'green', 'blue'],
  p3: ['red', 'green', 'blue'],
  gray: ['white'],
};

/** The components of a colour: `0x7f` counts to 255, and so do whole numbers of which one is beyond 1; others count to 1. */
function componentsOf(values: readonly unknown[]): number[] {
  const texts = values.map((v) => String(v).trim());
  const isWhole = (text: string) => /^\d{1,3}$/.test(text);
  // whole numbers are bytes where one of them is beyond 1
  const bytes = texts.some((t) => isWhole(t) && Number(t) > 1);
  return texts.map((text) => {
    if (/^0x[\da-f]{1,2}$/i.test(text)) return Number.parseInt(text, 16) / 255;
    if (isWhole(text)) return Number(text) / (bytes ? 255 : 1);
    return /^-?(?:\d+\.?\d*|\.\d+)(?:e-?\d+)?$/i.test(text) ? Number(text) : Number.NaN;
  });
}

/** What a colour is for beside a light screen: `dark`, `high contrast`. */
function groupOf(entry: Record<string, unknown>): string {
  const all = Array.isArray(entry.appearances) ? entry.appearances.filter(isRecord) : [];
  const idiom = typeof entry.idiom === 'string' && entry.idiom !== 'universal' ? [entry.idiom] : [];
  const words = all.flatMap(({ appearance, value }) =>
    value === 'light' ? [] : appearance === 'contrast' ? [`${value} contrast`] : [String(value)],
  );
  return [...words, ...idiom].join(', ');
}

function readSet(bytes: Uint8Array, name: string, group: string, where: string, draft: Draft): void {
  const data = parseJson(readText(bytes) ?? '');
  const colors = isRecord(data) && Array.isArray(data.colors) ? data.colors : null;
  if (!colors) throw new FormatError(`${where} has no list of colours. It is damaged.`);
  for (const entry of colors) {
    draft.step();
    // a place that is left empty has none
    if (!isRecord(entry) || !isRecord(entry.color)) continue;
    const { color } = entry;
    const space = SPACE_NAMES[String(color['color-space'])];
    const parts = isRecord(color.components) ? color.components : {};
    draft.attempt(() => {
      if (!space)
        throw new FormatError(
          `“${name}”${where ? ` (${where})` : ''} is in the space “${String(color['color-space'] ?? color.reference ?? '').slice(0, 40)}”, which has no values here.`,
        );
      const numbers = componentsOf(PARTS[space as (typeof HELD)[number]].map((p) => parts[p]));
      if (!numbers.every(Number.isFinite))
        throw new FormatError(`“${name}” (${where}): one of its components is not a number.`);
      const [alpha = 1] = parts.alpha === undefined ? [] : componentsOf([parts.alpha]);
      const linear = color['color-space'] === 'extended-linear-srgb';
      draft.into([group, groupOf(entry)].filter(Boolean).join(', '));
      draft.add({
        name,
        color: { space, components: linear ? numbers.map(encodeSrgb) : numbers },
        ...(alpha < 1 ? { alpha: Math.max(0, alpha) } : {}),
      });
    });
  }
}

export const assetCatalogue: PlainFormat = {
  id: 'asset-catalogue',
  name: 'Asset catalogue',
  about:
    'Folder of named colours for applications, zipped. Keeps groups as folders, sRGB, Display P3 and gray.',
  endings: ['xcassets.zip'],
  mime: 'application/zip',
  traits: {
    read: true,
    write: true,
    names: true,
    groups: true,
    kinds: ['process'],
    spaces: [...HELD],
    bits: 40,
    most: MAX_SWATCHES,
  },

  recognise(bytes) {
    if (!isZip(bytes)) {
      const text = sniff(bytes, 4096);
      return text && /^\s*\{/.test(text) && /"colors"\s*:\s*\[/.test(text) && /"color-space"\s*:/.test(text)
        ? 0.9
        : 0;
    }
    return holds(bytes, isColorSet) ? 1 : 0;
  },

  decode: decoder((bytes, draft) => {
    if (!isZip(bytes)) {
      readSet(bytes, '', '', CONTENTS, draft);
      return;
    }
    const sets = unpack(bytes, isColorSet);
    if (sets.length === 0 && unpack(bytes, (path) => /\.xcassets\//i.test(path)).length === 0)
      throw new FormatError('the archive holds no colour sets.');
    for (const { path, bytes: contents } of sets) {
      const folders = path.split('/').slice(0, -1);
      const name = folders.pop()!.replace(/\.colorset$/i, '');
      const from = folders.findLastIndex((f) => /\.xcassets$/i.test(f)) + 1;
      if (from > 0) draft.name ||= folders[from - 1]!.replace(/\.xcassets$/i, '');
      readSet(contents, name, folders.slice(from).join(' / '), path, draft);
    }
  }),

  encode(library, { condition }) {
    const info = { author: 'papillon', version: 1 };
    const json = (value: object) => writeText(`${JSON.stringify({ ...value, info }, null, 2)}\n`);
    const root = `${plainName(library.name)}.xcassets`;
    const entries = [{ path: `${root}/${CONTENTS}`, bytes: json({}) }];
    const folder = uniquely(' ', sameFile);
    // names are one space for the whole catalogue, whatever folder they lie in
    const set = uniquely(' ', sameFile);
    let left = MAX_SWATCHES;
    for (const group of library.groups) {
      if (left === 0) break;
      let path = root;
      if (!isLoose(library, group)) {
        path = `${root}/${folder(plainName(group.name))}`;
        entries.push({ path: `${path}/${CONTENTS}`, bytes: json({}) });
      }
      const swatches = group.swatches.slice(0, left);
      left -= swatches.length;
      for (const swatch of swatches)
        entries.push({
          path: `${path}/${set(plainName(swatch.name))}.colorset/${CONTENTS}`,
          bytes: json({ colors: [{ idiom: 'universal', color: colorOf(swatch, condition) }] }),
        });
    }
    return pack(entries);
  },
};

function colorOf({ color, alpha = 1 }: Swatch, condition: Parameters<typeof carried>[2]) {
  const held: Color = carried(color, HELD, condition);
  const space = held.space as (typeof HELD)[number];
  // with a point in it: a whole number would count to 255
  const text = (v: number) =>
    Number.isInteger(v) ? v.toFixed(3) : v.toFixed(12).replace(/0+$/, '').replace(/\.$/, '.0');
  return {
    'color-space': WRITTEN[space],
    components: {
      ...Object.fromEntries(PARTS[space].map((p, i) => [p, text(held.components[i]!)])),
      alpha: text(alpha),
    },
  };
}
