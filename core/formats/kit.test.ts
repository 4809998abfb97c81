import { createHash } from 'node:crypto';
import { unzipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { localServices } from '../../cli/engine.ts';
import { parseColor } from '../color/index.ts';
import { ARTWORK, type ArtworkItem, COLORWAY, ShapeError, withLinks } from '../swatch/index.ts';
import { countingIds, countSwatches, type Library } from '../swatch/model.ts';
import {
  changesOf,
  checkKitChoices,
  destinations,
  formatById,
  type KitChoices,
  makeKit,
  openSwatchFile,
  partsOf,
  perGroup,
  planKit,
  summarize,
  usualFiles,
  writable,
} from './index.ts';

const services = await localServices();

const newId = countingIds();
const swatch = (name: string, color: string) => ({
  id: newId(),
  name,
  kind: 'process' as const,
  color: parseColor(color),
});
const fleet: Library = {
  id: 'l',
  name: 'Fleet',
  groups: [
    { id: 'loose', name: '', swatches: [swatch('Paper', '#ffffff')] },
    { id: 'hull', name: 'Hull', swatches: [swatch('Navy', '#14304a'), swatch('Red', '#b3262b')] },
    { id: 'deck', name: 'Deck', swatches: [swatch('Teak', 'C 20 M 60 Y 90 K 30')] },
  ],
};
const everything: KitChoices = {
  scope: { what: 'library' },
  destinations: destinations.map((d) => ({ id: d.id, files: usualFiles(d, fleet) })),
};

describe('destinations', () => {
  it('name only formats that are written, and leave none out', () => {
    const used = new Set(destinations.flatMap((d) => d.formats.map((f) => f.format)));
    expect([...used].sort()).toEqual(writable.map((f) => f.id).sort());
    for (const d of destinations) expect(d.formats.some((f) => f.usual)).toBe(true);
  });

  it('take one file per group where they need it, and only where there are several', () => {
    const painting = destinations.find((d) => d.id === 'painting')!;
    expect(usualFiles(painting, fleet)[0]).toEqual({ format: 'aco', perGroup: true });
    expect(usualFiles(painting, { ...fleet, groups: [fleet.groups[1]] })[0]).toEqual({ format: 'aco' });
  });
});

describe('a kit', () => {
  it('holds a folder per destination with files and a note, the chips, and a manifest that checks', async () => {
    const steps: string[] = [];
    const kit = await makeKit(
      fleet,
      everything,
      { revision: 12, takenAt: '2026-11-25T09:00:00Z' },
      services,
      (_, __, path) => steps.push(path),
    );
    const files = unzipSync(kit.bytes);
    expect(kit.name).toBe('Fleet kit.zip');
    for (const d of destinations) expect(Object.keys(files)).toContain(`${d.name}/READ ME.txt`);
    expect(Object.keys(files)).toEqual(
      expect.arrayContaining([
        'Painting/Fleet, no group.aco',
        'Painting/Fleet, Hull.gpl',
        'Vector drawing/Fleet.ase',
        'Chips.pdf',
        'Chips.png',
      ]),
    );
    const manifest = JSON.parse(new TextDecoder().decode(files['manifest.json']));
    expect(manifest).toMatchObject({ library: 'Fleet', revision: 12, swatches: 4 });
    expect(manifest.files.length).toBe(Object.keys(files).length - 1);
    // a second opinion on SHA-256: Node's
    for (const { path, bytes, sha256 } of manifest.files) {
      expect(files[path].length).toBe(bytes);
      expect(createHash('sha256').update(files[path]).digest('hex')).toBe(sha256);
    }
    expect(steps.at(-1)).toBe('Chips.png');
    const { library } = await openSwatchFile(files['Vector drawing/Fleet.ase'], 'Fleet.ase', countingIds());
    expect(library.groups.map((g) => g.name)).toEqual(['', 'Hull', 'Deck']);
  });

  it('its note says what the files are, what changed, and what to do when a program does not show them', async () => {
    const choices = { ...everything, destinations: [everything.destinations[0]] };
    const kit = await makeKit(fleet, choices, { revision: 0, takenAt: '' }, services);
    const note = new TextDecoder().decode(unzipSync(kit.bytes)['Painting/READ ME.txt']);
    expect(note).toContain('4 swatches in 6 files.');
    expect(note).toContain('- Fleet, Hull.gpl');
    expect(note).toMatch(/GPL[\s\S]*1 of 4 swatches changes on the way/);
    expect(note).toMatch(/only when they start/);
    expect(note).toMatch(/all files/);
  });

  it('holds only what is in scope', () => {
    const of = (scope: KitChoices['scope']) =>
      planKit(fleet, { scope, destinations: [{ id: 'drawing', files: [{ format: 'ase' }] }] })[0].part;
    expect(countSwatches(of({ what: 'groups', ids: ['hull'] }))).toBe(2);
    expect(countSwatches(of({ what: 'swatches', ids: [fleet.groups[2].swatches[0].id] }))).toBe(1);
  });

  it('choices from outside are checked', () => {
    expect(checkKitChoices(JSON.parse(JSON.stringify(everything)))).toEqual(everything);
    for (const bad of [
      {},
      { scope: { what: 'groups' }, destinations: [] },
      { scope: { what: 'library' }, destinations: [{ id: 'moon', files: [] }] },
      { scope: { what: 'library' }, destinations: [{ id: 'cad', files: [{ format: 'xyz' }] }] },
    ])
      expect(() => checkKitChoices(bad)).toThrow(ShapeError);
  });
});

describe('several files', () => {
  it('one per group, the ungrouped ones too', async () => {
    expect(perGroup(fleet).map((l) => l.name)).toEqual(['Fleet, no group', 'Fleet, Hull', 'Fleet, Deck']);
    const gpl = await changesOf(fleet, { format: 'gpl', perGroup: true }, services);
    expect(gpl.groupsLost).toBe(false);
    expect(gpl.changes.map((c) => `${c.swatch} ${c.what}`)).toEqual(['Teak space']);
    expect((await changesOf(fleet, { format: 'gpl' }, services)).groupsLost).toBe(true);
  });

  it('more swatches than a file holds go into numbered files, so that none is left out', async () => {
    const swatches = Array.from({ length: 600 }, (_, i) => swatch(`s${i}`, '#102030'));
    const large: Library = { ...fleet, groups: [{ id: 'g', name: '', swatches }] };
    const parts = partsOf(large, formatById('act'));
    expect(parts.map((p) => [p.name, countSwatches(p)])).toEqual([
      ['Fleet 1 of 3', 256],
      ['Fleet 2 of 3', 256],
      ['Fleet 3 of 3', 88],
    ]);
    const report = await changesOf(large, { format: 'act' }, services);
    expect(report.arrivals.length).toBe(600);
    expect(report.changes.some((c) => c.what === 'missing')).toBe(false);
    expect(summarize(report).title).toBe('600 of 600 swatches change on the way');
  });
});

describe('a kit with artwork', () => {
  const svg =
    '<svg xmlns="http://www.w3.org/2000/svg" width="40" height="20"><rect id="hull" width="40" height="20" fill="#102030"/></svg>';
  const asset = createHash('sha256').update(svg).digest('hex');
  const navy = fleet.groups[1]!.swatches[0]!;
  const artwork: ArtworkItem = {
    ...{ id: 'work', kind: ARTWORK, name: 'badge.svg', refs: [] },
    data: {
      ...{
        asset,
        form: 'drawing',
        parts: 1,
        width: 40,
        height: 20,
        unit: 'px',
        worth: { width: 80 },
        count: 1,
      },
      colors: [{ hex: '#102030', name: 'hull', parts: 1, fills: 1 }],
    },
  };
  const night = {
    ...{ id: 'way', kind: COLORWAY, name: 'Night / Tag' },
    ...withLinks({ refs: [], data: { artwork: 'work', links: {} } }, { '#102030': { swatch: navy } }),
  };
  const gone: ArtworkItem = {
    ...artwork,
    id: 'gone',
    name: 'gone.svg',
    data: { ...artwork.data, asset: 'ab'.repeat(32) },
  };
  const choices: KitChoices = { scope: { what: 'library' }, destinations: [], artwork: true };
  const kitOf = async (library: Library, more: Partial<KitChoices> = {}) => {
    const { bytes } = await makeKit(
      library,
      { ...choices, ...more },
      { revision: 1, takenAt: 'now' },
      {
        ...services,
        artwork: async (hash) => (hash === asset ? new TextEncoder().encode(svg) : null),
      },
    );
    return unzipSync(bytes);
  };
  const textOf = (bytes: Uint8Array | undefined) => new TextDecoder().decode(bytes);

  it('has each PDF in each colourway behind its old file', async () => {
    const { PDFDocument, cmyk } = await import('@cantoo/pdf-lib');
    const made = await PDFDocument.create();
    made
      .addPage([100, 100])
      .drawRectangle({ x: 10, y: 10, width: 50, height: 50, color: cmyk(0, 0.6, 0.9, 0) });
    const old = await made.save();
    const pdf: ArtworkItem = {
      ...artwork,
      name: 'plate.pdf',
      data: { ...artwork.data, form: 'pages', colors: [{ hex: '#f07d26', name: '', parts: 1, fills: 1 }] },
    };
    const way = {
      ...{ id: 'way', kind: COLORWAY, name: 'Night' },
      ...withLinks({ refs: [], data: { artwork: 'work', links: {} } }, { '#f07d26': { swatch: navy } }),
    };
    const { bytes } = await makeKit(
      { ...fleet, items: [pdf, way] },
      choices,
      { revision: 1, takenAt: 'now' },
      { ...services, artwork: async () => old },
    );
    const files = unzipSync(bytes);
    const out = files['Artwork/plate/Night.pdf']!;
    expect(Buffer.compare(Buffer.from(out.subarray(0, old.length)), Buffer.from(old))).toBe(0);
    expect(out.length).toBeGreaterThan(old.length);
    expect(textOf(files['Artwork/READ ME.txt'])).toMatch(/#f07d26 -> #[0-9a-f]{6} \(Navy\), 1 part/);
  });

  it('has each work in each colourway, a PDF, and what became what', async () => {
    const files = await kitOf({ ...fleet, items: [artwork, night, gone] });
    const own = Object.keys(files).filter((path) => path.startsWith('Artwork/'));
    expect(own.sort()).toEqual([
      'Artwork/READ ME.txt',
      'Artwork/badge/Night - Tag.svg',
      'Artwork/badge/badge.pdf',
    ]);
    expect(textOf(files['Artwork/badge/Night - Tag.svg'])).toBe(
      svg
        .replace('width="40" height="20"', 'width="80mm" height="40mm" viewBox="0 0 40 20"')
        .replace('#102030', '#14304a'),
    );
    expect(textOf(files['Artwork/badge/badge.pdf']?.subarray(0, 5))).toBe('%PDF-');
    const note = textOf(files['Artwork/READ ME.txt']);
    expect(note).toMatch(/Inks for Coated offset/);
    expect(note).toMatch(/#102030 -> #14304a \(Navy\), hull, 1 part, ΔE00 \d/);
    expect(note).toMatch(/gone\.svg\r\n {2}Its drawing is not on the server/);
    const manifest = JSON.parse(textOf(files['manifest.json']));
    expect(manifest.files.map((f: { path: string }) => f.path)).toEqual(expect.arrayContaining(own));
  });

  it('leaves it out where that is chosen', async () => {
    const files = await kitOf({ ...fleet, items: [artwork, night] }, { artwork: false });
    expect(Object.keys(files).some((path) => path.startsWith('Artwork/'))).toBe(false);
    expect(checkKitChoices(JSON.parse(JSON.stringify(choices)))).toEqual(choices);
  });
});
