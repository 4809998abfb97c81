import { resolve } from 'node:path';
import { eq, sql } from 'drizzle-orm';
import {
  type Color,
  type ColorEngine,
  type Condition,
  type ConditionSetting,
  conditionIn,
  conditionOf,
  profilesOf,
} from '../core/color/index.ts';
import { libraryData } from '../core/swatch/index.ts';
import { loadEngine } from '../profiles/load.ts';
import { readAsset } from './assets.ts';
import { only, type Tx } from './db.ts';
import { libraries, profiles } from './schema.ts';

let engine: Promise<ColorEngine> | null = null;

/** The one engine of the running server. */
export const colorEngine = (): Promise<ColorEngine> => {
  engine ??= loadEngine(resolve(process.env.PAPILLON_PROFILES || 'profiles'));
  return engine;
};

/** A condition at work, with the profiles of users that it and the colors need. */
export async function conditionFor(
  tx: Tx,
  setting: ConditionSetting,
  colors: Iterable<Color> = [],
): Promise<Condition> {
  const here = await colorEngine();
  for (const hash of profilesOf(setting, colors)) {
    if (here.profile(hash)) continue;
    const [row] = await tx.select({ hash: profiles.hash }).from(profiles).where(eq(profiles.hash, hash));
    const asset = row && (await readAsset(tx, hash));
    if (asset) here.add(asset.bytes, hash);
  }
  // a profile that is gone leaves the library with the usual paper rather than without colours
  return conditionIn(here, here.profile(setting.profile) ? setting : conditionOf({}));
}

/** What a library is printed under, by its number. */
export async function settingOf(tx: Tx, library: number): Promise<ConditionSetting> {
  const { data } = only(
    await tx.select({ data: libraries.data }).from(libraries).where(eq(libraries.num, library)),
  );
  return conditionOf(libraryData.read(data));
}

/** Whether a library or one of its colors, or a change that can still be taken back, names a profile. */
export async function inUse(tx: Tx, hash: string): Promise<string[]> {
  const needle = `%${hash}%`;
  const rows = await tx.all<{ name: string }>(sql`SELECT name FROM libraries WHERE data LIKE ${needle}
    OR num IN (SELECT library FROM swatches WHERE data LIKE ${needle})
    OR num IN (SELECT library FROM changes WHERE ops LIKE ${needle} OR inverse LIKE ${needle})`);
  return rows.map((r) => r.name);
}
