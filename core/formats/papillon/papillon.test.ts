import { readFileSync } from 'node:fs';
import Ajv from 'ajv';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { SHIPPED } from '../../color/index.ts';
import { emptyBoard, gradientThrough, isComment, threadsOf } from '../../swatch/index.ts';
import { countingIds } from '../../swatch/model.ts';
import { anyLibrary, fleet, readBy, services, writeBy } from '../../testing.ts';
import { openSwatchFile, tooLarge } from '../registry.ts';
import { papillon } from './papillon.ts';
import { fileSchema } from './schema.ts';

const schemaPath = new URL('../../../docs/papillon.schema.json', import.meta.url);

describe('Papillon’s own file', () => {
  it('keeps everything but ids', () => {
    // a place for swatches in no group that has none is as good as none
    const bare = ({ groups, ...l }: typeof fleet) =>
      JSON.parse(
        JSON.stringify(
          { ...l, groups: groups.filter((g, i) => i > 0 || g.name !== '' || g.swatches.length > 0) },
          (k, v) => (k === 'id' ? undefined : v),
        ),
      );
    fc.assert(
      fc.property(anyLibrary(), (library) => {
        // a lone half of a surrogate pair has no place in UTF-8
        fc.pre(JSON.stringify(library).isWellFormed() && !/\\ud[89a-f]/i.test(JSON.stringify(library)));
        expect(bare(readBy(papillon, papillon.encode(library, services)).library)).toEqual(bare(library));
      }),
    );
    const full = {
      ...fleet,
      note: 'x',
      columns: 4,
      groups: [
        {
          id: 'g',
          name: 'G',
          swatches: [
            {
              ...fleet.groups[1].swatches[0],
              spectrum: { start: 380, step: 10, values: [0.1, 0.2] },
              alternates: [{ space: 'cmyk' as const, components: [0, 1, 1, 0], profile: SHIPPED.coated }],
              alpha: 0.5,
              gap: 2,
              origin: { from: 'picture' as const, name: 'p.png', point: [3, 4] as [number, number] },
            },
          ],
        },
      ],
    };
    expect(bare(readBy(papillon, papillon.encode(full, services)).library)).toEqual(bare(full));
  });

  it('has comments when it is asked to, and they come back on what they are on, without whose they are', () => {
    const [swatch] = fleet.groups[1].swatches;
    const says = (id: string, on: string, more: object) => ({
      ...{ id, kind: 'comment', name: '', refs: [on] },
      data: { by: 'secret-of-anna', author: 'Anna', at: 1.7e12, text: '', thread: null, ...more },
    });
    const library = {
      ...fleet,
      items: [
        gradientThrough('dusk', 'Dusk', fleet.groups[1].swatches, 'oklab'),
        emptyBoard('wall', 'Wall', [{ id: 'o', of: 'swatch', refs: [swatch.id], name: '', weight: 1 }]),
        says('a', swatch.id, { text: 'Why so red?' }),
        says('b', swatch.id, { thread: 'a', text: 'It is the law.\n=1+1', author: 'قارب' }),
        says('c', swatch.id, { thread: 'a', mark: 'resolved' }),
        says('d', 'dusk', { text: 'Longer' }),
        says('e', 'wall', { text: 'Wider' }),
        says('f', 'gone', { text: 'On nothing' }),
      ],
    };
    expect(writeBy(papillon, library)).not.toMatch(/Why so red/);
    const text = writeBy(papillon, library, { comments: true });
    expect(text).not.toMatch(/secret/);
    expect(new Ajv({ strictTypes: false }).compile(fileSchema)(JSON.parse(text))).toBe(true);
    const { library: back } = readBy(papillon, text);
    const names = new Map([
      ...back.groups.flatMap((g) => g.swatches.map((s) => [s.id, s.name] as const)),
      ...back.items!.map((i) => [i.id, i.name] as const),
    ]);
    const threads = [...threadsOf(back)].flatMap(([on, list]) =>
      list.map((t) => [names.get(on), t.isResolved, ...[t.first, ...t.answers].map((c) => c.data.text)]),
    );
    expect(threads).toEqual([
      [swatch.name, true, 'Why so red?', 'It is the law.\n=1+1', ''],
      ['Dusk', false, 'Longer'],
      ['Wall', false, 'Wider'],
    ]);
    const [first, answer] = back.items!.filter(isComment);
    expect([first!.data.by, answer!.data.author, answer!.data.at]).toEqual(['', 'قارب', 1.7e12]);
    // one that a program has written wrongly is left out, and nothing else
    const wrong = text.replace('"answers":0', '"answers":77').replace('swatch 0', 'swatch 900');
    expect(readBy(papillon, wrong).swatches.length).toBe(fleet.groups.flatMap((g) => g.swatches).length);
  });

  it('is valid by the schema that is published in docs, which is the one that is checked', () => {
    const published = JSON.parse(readFileSync(schemaPath, 'utf8'));
    expect(published).toEqual(JSON.parse(JSON.stringify(fileSchema)));
    const validate = new Ajv({ strictTypes: false }).compile(published);
    expect(validate(JSON.parse(writeBy(papillon, fleet)))).toBe(true);
    expect(validate({ papillon: 1, library: { name: 'x' } })).toBe(false);
  });

  it('says what is wrong and where', () => {
    const wrong = JSON.parse(writeBy(papillon, fleet));
    wrong.library.groups[1].swatches[0].color.components = [1];
    expect(() => readBy(papillon, JSON.stringify(wrong))).toThrow(/groups\/1\/swatches\/0\/color/);
    expect(() => readBy(papillon, '{"papillon": 9, "library": {}}')).toThrow(/version is 9.*newer/);
    expect(() => readBy(papillon, '{"papillon": 1')).toThrow(/JSON is damaged/);
  });

  it('opens again whatever it wrote: forty thousand measured swatches are more than others may have', async () => {
    const values = Array.from({ length: 36 }, (_, i) => Math.sin(i + 1) ** 2);
    const swatches = Array.from({ length: 40_000 }, (_, i) => ({
      ...fleet.groups[1]!.swatches[0]!,
      id: `${i}`,
      spectrum: { start: 380, step: 10, values },
    }));
    const bytes = papillon.encode({ ...fleet, groups: [{ id: 'g', name: '', swatches }] }, services);
    expect(bytes.length).toBeGreaterThan(32 * 1024 * 1024);
    const { library, format } = await openSwatchFile(bytes, 'measured.json', countingIds());
    expect([format.id, library.groups[0]!.swatches.length]).toEqual(['papillon', 40_000]);
    // anything else may have less
    expect(tooLarge(bytes, 100e6)).toBeNull();
    expect(tooLarge(new Uint8Array(200), 100e6)).toMatch(/a swatch file has at most 67 MB/);
  });
});
