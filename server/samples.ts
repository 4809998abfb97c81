import { readdir } from 'node:fs/promises';

/** The names of the demo's pictures; none outside the demo. */
export async function samplePictures(folder = process.env.PAPILLON_SAMPLES): Promise<string[]> {
  if (!folder) return [];
  const names = await readdir(folder).catch(() => []);
  return names.filter((n) => n.endsWith('.png')).sort();
}
