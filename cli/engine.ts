import { readFile } from 'node:fs/promises';
import { fileURLToPath } from 'node:url';
import {
  type ColorEngine,
  type Condition,
  type ConditionSetting,
  conditionIn,
  conditionOf,
  ProfileError,
  SHIPPED,
  usualInkLimit,
} from '../core/color/index.ts';
import type { Services, Typesetting } from '../core/formats/index.ts';

let loaded: Promise<ColorEngine> | null = null;

/** The engine of this run, with the shipped profiles; loaded when the first colour is asked for. */
export function colorEngine(): Promise<ColorEngine> {
  loaded ??= import('../profiles/load.ts').then(({ loadEngine }) =>
    loadEngine(fileURLToPath(new URL('../profiles/', import.meta.url))),
  );
  return loaded;
}

/** Fonts and what draws them take a while to load, and few formats set type. */
const typesetting: Typesetting = {
  loadFont: async (font) => (await import('./typesetting.ts')).typesetting.loadFont(font),
  drawLabels: async (...sheet) => (await import('./typesetting.ts')).typesetting.drawLabels(...sheet),
};

/** Profiles that files have brought, by their SHA-256. */
const brought = new Map<string, Uint8Array>();

/** Takes in the profiles that a file has brought; what does not open is left out. */
export async function bring(profiles: readonly Uint8Array[] = []): Promise<void> {
  for (const bytes of profiles)
    try {
      brought.set((await colorEngine()).add(bytes).hash, bytes);
    } catch (error) {
      if (!(error instanceof ProfileError)) throw error;
    }
}

/** What a library is printed under; the usual paper where its profile is not here. */
export async function conditionHere(library: { condition?: ConditionSetting } = {}): Promise<Condition> {
  const engine = await colorEngine();
  const setting = conditionOf(library);
  return conditionIn(engine, engine.profile(setting.profile) ? setting : conditionOf({}));
}

/** The bytes of a shipped profile, or one that a file has brought. */
async function profileHere(hash: string): Promise<Uint8Array | null> {
  const own = brought.get(hash);
  if (own) return own;
  const file = { [SHIPPED.coated]: 'coated-offset', [SHIPPED.uncoated]: 'uncoated-offset' }[hash];
  return file ? readFile(new URL(`../profiles/${file}.icc`, import.meta.url)) : null;
}
/** The services that formats use, in a shell. */
export const localServices = async (library?: { condition?: ConditionSetting }): Promise<Services> => ({
  ...typesetting,
  condition: await conditionHere(library),
  now: new Date().toISOString(),
  usual: () => conditionHere(),
  profile: profileHere,
  under: async (profile) =>
    conditionIn(await colorEngine(), {
      ...conditionOf(library ?? {}),
      profile,
      inkLimit: usualInkLimit(profile),
    }),
});
