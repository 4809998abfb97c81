// Fills a folder with the sample scenario; scripts/seed.mjs runs it, with DATABASE_URL set
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { eq } from 'drizzle-orm';
import { localServices } from '../cli/engine.ts';
import { decodePicture } from '../cli/picture.ts';
import type { KitChoices } from '../core/formats/index.ts';
import { ofPicture, type PaletteColor, paletteOf, plainRecipe } from '../core/picture/index.ts';
import { countingIds } from '../core/swatch/model.ts';
import { keepArtwork } from '../server/artworks.ts';
import { addSampleBooks } from '../server/books.ts';
import { keepKit, keepPreset } from '../server/kits.ts';
import { createLibrary, readLibrary } from '../server/libraries.ts';
import { openDatabase } from '../server/open.ts';
import { keepPicture } from '../server/pictures.ts';
import { kits, libraries } from '../server/schema.ts';
import { shelve } from '../server/shelves.ts';
import { sampleBoards, sampleTake } from './boards.ts';
import { sampleLibraries } from './libraries.ts';
import { paint } from './painter.ts';
import { chartTable, harbour, ropeAndEnamel } from './pictures.ts';
import { sampleReadings } from './readings.ts';
import { samplePdfs, sampleWorks } from './works/index.ts';

const [folder = 'data/demo'] = process.argv.slice(2);
const pictures = {
  'harbour-at-first-light.png': harbour,
  'rope-and-enamel.png': ropeAndEnamel,
  'chart-table.png': chartTable,
};

mkdirSync(join(folder, 'pictures'), { recursive: true });
const palettes: Record<string, PaletteColor[]> = {};
const painted = new Map<string, Uint8Array>();
for (const [name, at] of Object.entries(pictures)) {
  const png = await paint(1440, 1080, at, 14);
  writeFileSync(join(folder, 'pictures', name), png);
  painted.set(name, png);
  const picture = await decodePicture(name, png);
  palettes[name] = paletteOf(ofPicture(picture), { ...plainRecipe, count: 8 }).colors;
}
const db = await openDatabase();
const [coatedBook] = await addSampleBooks(db);
const inks = (await readLibrary(db, coatedBook!))!;
// days since each was last worked on, the oldest first
const ages = [35, 27, 21, 5, 1, 0];
const made: string[] = [];
const newId = countingIds('sample-');
mkdirSync(join(folder, 'artwork'), { recursive: true });
const all = sampleLibraries(newId, palettes, inks);
const [last, livery] = [all.at(-1)!, all.at(-2)!];
// the works are of the library that is worked on last, and go to press with the livery
const works = sampleWorks(last, newId);
last.items = [...(last.items ?? []), ...works.items, ...(await sampleReadings(newId))];
const SHOWN = 'harbour-at-first-light.png';
const PICTURE = 'sample-harbour';
last.items.push(...sampleBoards(last, PICTURE, newId));
const pdfs = await samplePdfs(last, await localServices(), newId);
livery.items = [...(livery.items ?? []), ...pdfs.items];
for (const { name, mime, hash, bytes } of [...works.files, ...pdfs.files]) {
  writeFileSync(join(folder, 'artwork', name), bytes);
  await keepArtwork(db, hash, { mime, bytes });
}
for (const [i, library] of all.entries()) {
  const id = await createLibrary(db, library);
  made.push(id);
  const changedAt = new Date(Date.now() - ages[i] * 86_400_000);
  await db.update(libraries).set({ changedAt }).where(eq(libraries.id, id));
}

// the picture that a board shows is kept with its library
const take = sampleTake(last, SHOWN, palettes[SHOWN] ?? [], newId);
await keepPicture(
  db,
  made.at(-1)!,
  { id: PICTURE, name: SHOWN, width: 1440, height: 1080, takes: [take] },
  { mime: 'image/png', bytes: new Uint8Array(painted.get(SHOWN)!) },
);

// a season and a client, of which the livery is on both
await shelve(db, made.slice(-3), ['Ferry line'], []);
await shelve(db, made.slice(1, 3).concat(made.at(-2)!), ['Season 2027'], []);

// what was handed over before, and choices worth keeping
const printer: KitChoices['destinations'] = [
  { id: 'layout', files: [{ format: 'ase' }] },
  { id: 'print', files: [{ format: 'cxf' }, { format: 'pdf' }] },
];
await keepPreset(db, { name: 'Printer and layout', destinations: printer });
await keepPreset(db, {
  name: 'Sign maker',
  destinations: [
    { id: 'cutting', files: [{ format: 'svg', options: { chip: 20, gap: 5 } }, { format: 'dxf' }] },
  ],
});
const kit = await keepKit(db, made.at(-2)!, 0, { scope: { what: 'library' }, destinations: printer });
await db
  .update(kits)
  .set({ at: new Date(Date.now() - 2 * 86_400_000) })
  .where(eq(kits.id, kit.id));
