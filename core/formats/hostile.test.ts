import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { WebIO } from '@gltf-transform/core';
import { defineConfig, parse as parseTokens } from '@terrazzo/parser';
import { readAse } from 'ag-psd/dist/ase.js';
import aseUtils from 'ase-utils';
import { parse as parseColor } from 'culori';
import DxfParser from 'dxf-parser';
import fc from 'fast-check';
import { XMLParser, XMLValidator } from 'fast-xml-parser';
import { unzipSync } from 'fflate';
import { instantiate } from 'lcms-wasm';
import lessCompiler from 'less';
import Papa from 'papaparse';
import postcss from 'postcss';
import { compileString } from 'sass';
import sharp from 'sharp';
import { afterAll, describe, expect, it } from 'vitest';
import { localServices } from '../../cli/engine.ts';
import { countingIds, countSwatches, type Library } from '../swatch/model.ts';
import { coated, hostileLibrary } from '../testing.ts';
import { compareWritten } from './changes.ts';
import { partsOf } from './plan.ts';
import { writable } from './registry.ts';

const services = await localServices();
const lcms = await instantiate();
const folder = mkdtempSync(join(tmpdir(), 'hostile-'));
afterAll(() => rmSync(folder, { recursive: true }));

const textOf = (bytes: Uint8Array) => new TextDecoder('utf-8', { fatal: true }).decode(bytes);
const onDisk = (bytes: Uint8Array, name: string) => {
  const path = join(folder, name);
  writeFileSync(path, bytes);
  return path;
};
/** Well-formed XML, and how many elements of a name another parser finds. */
const xml = (bytes: Uint8Array, element: string): number => {
  const text = textOf(bytes);
  expect(XMLValidator.validate(text)).toBe(true);
  let n = 0;
  const count = (node: unknown): void => {
    if (Array.isArray(node)) node.forEach(count);
    else if (node && typeof node === 'object')
      for (const [key, value] of Object.entries(node)) {
        if (key === element) n += Array.isArray(value) ? value.length : 1;
        count(value);
      }
  };
  count(new XMLParser({ ignoreAttributes: false, removeNSPrefix: true, processEntities: false }).parse(text));
  return n;
};

/** Somebody else's reader of each format: that it takes the file, and how many swatches it finds (null: it does not count). */
const others: Record<
  string,
  (bytes: Uint8Array<ArrayBuffer>, library: Library) => number | null | Promise<number | null>
> = {
  ase: (bytes) => {
    const { colors } = readAse(bytes);
    const found = colors.reduce((n, c) => n + ('colors' in c ? c.colors.length : 1), 0);
    // this one loses its place after the end of a group
    if (!colors.some((c) => 'colors' in c))
      expect(aseUtils.decode(Buffer.from(bytes)).colors.length).toBe(found);
    return found;
  },
  css: (bytes) => {
    let n = 0;
    postcss.parse(textOf(bytes)).walkDecls(({ value }) => {
      expect(parseColor(value)).toBeTruthy();
      n++;
    });
    return n;
  },
  scss: (bytes) => {
    const text = textOf(bytes);
    const names = [...text.matchAll(/^\$([^:]+):/gm)].map((m) => m[1]);
    const { css } = compileString(`${text}\n${names.map((n, i) => `.s${i} { color: $${n} }`).join('\n')}`);
    return [...css.matchAll(/color: /g)].length;
  },
  less: async (bytes) => {
    const text = textOf(bytes);
    const names = [...text.matchAll(/^@([^:]+):/gm)].map((m) => m[1]);
    const { css } = await lessCompiler.render(
      `${text}\n${names.map((n, i) => `.s${i} { color: @${n} }`).join('\n')}`,
    );
    return [...css.matchAll(/color: /g)].length;
  },
  soc: (bytes) => xml(bytes, 'color'),
  cxf: (bytes) => xml(bytes, 'Object'),
  svg: async (bytes) => {
    const n = xml(bytes, 'rect');
    if (n > 0) await sharp(bytes).png().toBuffer();
    return n;
  },
  png: async (bytes) => ((await sharp(bytes).metadata()).width > 0 ? null : 0),
  tablet: (bytes) => {
    const data = JSON.parse(textOf(unzipSync(bytes)['Swatches.json']!));
    return data.flatMap((p: { swatches: unknown[] }) => p.swatches.filter(Boolean)).length;
  },
  csv: (bytes) => {
    const { data, errors } = Papa.parse<string[]>(textOf(bytes).replace(/^\uFEFF/, ''), {
      skipEmptyLines: true,
    });
    expect(errors.filter((e) => e.type !== 'Delimiter')).toEqual([]);
    return data.length - 1;
  },
  tokens: async (bytes) => {
    const config = defineConfig({ lint: { rules: {} } }, { cwd: new URL('file:///tmp/') });
    const { tokens } = await parseTokens([{ filename: new URL('file:///tmp/x.json'), src: textOf(bytes) }], {
      config,
    });
    return Object.keys(tokens).length;
  },
  'icc-named': (bytes, library) => {
    const profile = lcms.cmsOpenProfileFromMem(bytes, bytes.length);
    expect(profile).not.toBe(0);
    if (countSwatches(library) > 0)
      // CHANNELS_SH(1)|BYTES_SH(2) for the index; FLOAT_SH(1)|COLORSPACE_SH(PT_Lab)|CHANNELS_SH(3)|BYTES_SH(4)
      expect(
        lcms.cmsCreateTransform(
          profile,
          (1 << 3) | 2,
          lcms.cmsCreateLab4Profile(),
          (1 << 22) | (10 << 16) | (3 << 3) | 4,
          0,
          0,
        ),
      ).not.toBe(0);
    return null;
  },
  cgats: (bytes, library) => {
    if (countSwatches(library) === 0) return null;
    const space = /LAB_L/.test(textOf(bytes))
      ? '*Lab'
      : /CMYK_C/.test(textOf(bytes))
        ? 'profiles/coated-fogra39.icc'
        : '*sRGB';
    if (!space.startsWith('*')) return null;
    execFileSync('transicc', ['-i', space, '-o', '*XYZ', onDisk(bytes, 'in.txt'), join(folder, 'out.txt')], {
      stdio: 'pipe',
    });
    return null;
  },
  theme: (bytes) => {
    const leaves = (node: unknown): number =>
      typeof node === 'string' ? 1 : Object.values(node as object).reduce((n, v) => n + leaves(v), 0);
    return leaves(JSON.parse(textOf(bytes)));
  },
  resources: (bytes) => {
    for (const [, name] of textOf(bytes).matchAll(/name="([^"]*)"/g))
      expect(name).toMatch(/^[a-z][a-z0-9_]*$/);
    return xml(bytes, 'color');
  },
  'asset-catalogue': (bytes) => {
    const files = Object.entries(unzipSync(bytes));
    for (const [, content] of files) JSON.parse(textOf(content));
    return files.filter(([path]) => path.endsWith('.colorset/Contents.json')).length;
  },
  'office-theme': (bytes) => xml(bytes, 'custClr'),
  kpl: (bytes) => xml(unzipSync(bytes)['colorset.xml']!, 'ColorSetEntry'),
  dxf: (bytes) => {
    const drawing = new DxfParser().parseSync(textOf(bytes))!;
    expect(Object.keys(drawing.tables!.layer.layers).length).toBe(drawing.entities.length + 1);
    return drawing.entities.length;
  },
  gltf: async (bytes) => {
    const document = await new WebIO().readJSON({ json: JSON.parse(textOf(bytes)), resources: {} });
    return document.getRoot().listMaterials().length;
  },
  pdf: (bytes) => {
    const path = onDisk(bytes, 'sheet.pdf');
    expect(
      execFileSync('gs', ['-q', '-dNOPAUSE', '-dBATCH', '-dSAFER', '-sDEVICE=nullpage', path]).toString(),
    ).toBe('');
    expect(execFileSync('mutool', ['info', path]).toString()).toMatch(/Pages:/);
    return null;
  },
};

/** Those that start a program for each file. */
const SLOW = new Set(['pdf', 'cgats', 'png']);

describe.each(writable.filter((f) => !f.traits.gradientsOnly).map((f) => [f.id, f] as const))(
  'hostile libraries in %s',
  (id, format) => {
    it('go out so that we and others open them, every swatch of them', async () => {
      await fc.assert(
        fc.asyncProperty(hostileLibrary(), async (library) => {
          const bytes = await format.encode(library, services);
          const wanted = countSwatches(library);
          const there = await format.decode(bytes, countingIds());
          expect(countSwatches(there.library)).toBe(wanted);
          for (const group of there.library.groups)
            for (const { color } of group.swatches)
              expect(color.components.every(Number.isFinite)).toBe(true);
          const found = await others[id]?.(bytes, library);
          if (typeof found === 'number') expect(found).toBe(wanted);
          // and what is not the same is reported, so that comparing a second time finds nothing new
          const told = await compareWritten(library, bytes, format, coated);
          expect(told.arrivals.every((a) => a.there)).toBe(true);
        }),
        { numRuns: SLOW.has(id) ? 4 : 40 },
      );
    });

    it.each([0, 1, 257, 5000])('%i swatches', async (n) => {
      if (n > 257 && SLOW.has(id)) return;
      const library: Library = {
        id: 'l',
        name: `${n} of them`,
        groups: [
          {
            id: 'g',
            name: '',
            swatches: Array.from({ length: n }, (_, i) => ({
              id: `${i}`,
              name: i % 3 ? `Nr ${i}` : 'Same',
              kind: 'process' as const,
              color: { space: 'rgb' as const, components: [(i & 255) / 255, (i >> 8) / 255, (i % 7) / 255] },
            })),
          },
        ],
      };
      let count = 0;
      for (const part of partsOf(library, format)) {
        const bytes = await format.encode(part, services);
        count += countSwatches((await format.decode(bytes, countingIds())).library);
        // the reader of tokens takes the square of their number
        const found = id === 'tokens' && n > 257 ? null : await others[id]?.(bytes, part);
        if (typeof found === 'number') expect(found).toBe(countSwatches(part));
      }
      expect(count).toBe(n);
    });
  },
);
