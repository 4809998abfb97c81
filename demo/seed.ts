// Fills a folder with the sample scenario: tsx demo/seed.ts FOLDER (with DATABASE_URL set)
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { decodePicture } from '../cli/picture.ts';
import { histogram, type PaletteColor, prepare, reduce } from '../core/picture/index.ts';
import { countingIds } from '../core/swatch/model.ts';
import { openDatabase } from '../server/db.ts';
import { createLibrary } from '../server/libraries.ts';
import { sampleLibraries } from './libraries.ts';
import { paint } from './painter.ts';
import { chartTable, harbour, ropeAndEnamel } from './pictures.ts';

const [folder = 'data/demo'] = process.argv.slice(2);
const pictures = {
  'harbour-at-first-light.png': harbour,
  'rope-and-enamel.png': ropeAndEnamel,
  'chart-table.png': chartTable,
};

mkdirSync(join(folder, 'pictures'), { recursive: true });
const palettes: Record<string, PaletteColor[]> = {};
for (const [name, at] of Object.entries(pictures)) {
  const png = await paint(1440, 1080, at, 14);
  writeFileSync(join(folder, 'pictures', name), png);
  palettes[name] = reduce(prepare(histogram(await decodePicture(name, png))), 8);
}
const db = await openDatabase();
for (const library of sampleLibraries(countingIds('sample-'), palettes)) {
  await createLibrary(db, library);
  // the list goes by the last change, so each must be a little later
  await new Promise((resolve) => setTimeout(resolve, 5));
}
