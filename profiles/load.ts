import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { instantiate } from 'lcms-wasm';
import { ColorEngine } from '../core/color/index.ts';

/** The profiles that ship with Papillon. */
export const SHIPPED_FILES = ['coated-offset.icc', 'uncoated-offset.icc'];

/** The engine with the shipped profiles open, where there is a file system. @param folder where they lie */
export async function loadEngine(folder: string): Promise<ColorEngine> {
  const [lcms, ...files] = await Promise.all([
    instantiate(),
    ...SHIPPED_FILES.map((name) => readFile(join(folder, name))),
  ]);
  const engine = new ColorEngine(lcms);
  // hashed by the platform, which takes a tenth of the time
  for (const bytes of files) engine.add(bytes, createHash('sha256').update(bytes).digest('hex'));
  return engine;
}
