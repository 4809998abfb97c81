import { asc, eq } from 'drizzle-orm';
import { instantiate } from 'lcms-wasm';
import {
  type Color,
  ColorEngine,
  hashOf,
  ProfileError,
  type ProfileInfo,
  SHIPPED,
  toHex,
  USUAL_CONDITION,
} from '../core/color/index.ts';
import { dropUnused, keepAsset, readAsset } from './assets.ts';
import { RefusedError } from './changes.ts';
import { colorEngine, conditionFor, inUse } from './conditions.ts';
import { type Db, write } from './db.ts';
import { profiles } from './schema.ts';

export interface ListedProfile extends ProfileInfo {
  /** Whether colours can be brought to its device. */
  prints: boolean;
  /** It came with Papillon, and stays. */
  shipped: boolean;
}

/** Every profile there is: those that ship, then users' by name. */
export async function listProfiles(db: Db): Promise<ListedProfile[]> {
  const engine = await colorEngine();
  const own = Object.values(SHIPPED).map(
    (hash): ListedProfile => ({ ...engine.profile(hash)!, prints: true, shipped: true }),
  );
  const rows = await db.select().from(profiles).orderBy(asc(profiles.name));
  return [
    ...own,
    ...rows.map(({ size, at: _, ...row }): ListedProfile => ({ ...row, bytes: size, shipped: false })),
  ];
}

/** Device values that show what a profile is for: paper with its inks and their overprints, the primaries, or the grays. */
const PATCHES: Record<string, number[][]> = {
  cmyk: [
    [0, 0, 0, 0],
    [0, 0, 1, 0],
    [0, 1, 1, 0],
    [0, 1, 0, 0],
    [1, 1, 0, 0],
    [1, 0, 0, 0],
    [1, 0, 1, 0],
    [0, 0, 0, 1],
  ],
  rgb: [
    [1, 1, 1],
    [1, 1, 0],
    [1, 0, 0],
    [1, 0, 1],
    [0, 0, 1],
    [0, 1, 1],
    [0, 1, 0],
    [0, 0, 0],
  ],
  gray: [1, 0.85, 0.7, 0.55, 0.4, 0.25, 0.12, 0].map((v) => [v]),
};

/** What a profile makes of its device's plain colours, as hex; none where it cannot be read. */
export async function patchesOf(db: Db, { hash, space }: ListedProfile): Promise<string[]> {
  const colors = (PATCHES[space] ?? []).map((components) => ({ space, components, profile: hash }) as Color);
  try {
    const condition = await conditionFor(db, USUAL_CONDITION, colors);
    return colors.map((color) => toHex(color, condition));
  } catch {
    return [];
  }
}

/**
 * Keeps a profile, once, after it has been opened. It is tried in an engine of its own: what a broken one does to it does no
 * harm to the one that everything else goes through.
 *
 * @throws ProfileError that says what is wrong with it, and nothing is kept
 */
export async function keepProfile(db: Db, bytes: Uint8Array): Promise<ListedProfile> {
  const known = Object.values(SHIPPED).find((hash) => hash === hashOf(bytes));
  if (known) return (await listProfiles(db)).find((p) => p.hash === known)!;
  let info: ProfileInfo;
  let prints: boolean;
  try {
    const trial = new ColorEngine(await instantiate());
    info = trial.add(bytes);
    prints = trial.canPrint(info.hash);
  } catch (error) {
    if (error instanceof ProfileError) throw error;
    throw new ProfileError('it brings the colour engine to a stop. It is damaged.');
  }
  await write(db, async (tx) => {
    const hash = await keepAsset(tx, { mime: 'application/vnd.iccprofile', bytes });
    const { name, space, kind, version } = info;
    await tx
      .insert(profiles)
      .values({ hash, name, space, kind, version, size: bytes.length, prints, at: new Date() })
      .onConflictDoNothing();
  });
  return { ...info, prints, shipped: false };
}

/** The bytes of a user's profile; null when it is not here. */
export async function readProfile(db: Db, hash: string): Promise<Uint8Array | null> {
  const [row] = await db.select({ hash: profiles.hash }).from(profiles).where(eq(profiles.hash, hash));
  return row ? ((await readAsset(db, hash))?.bytes ?? null) : null;
}

/** @throws RefusedError that names the libraries that use it */
export async function removeProfile(db: Db, hash: string): Promise<void> {
  const shipped: string[] = Object.values(SHIPPED);
  if (shipped.includes(hash)) throw new RefusedError('This profile belongs to Papillon, and stays.');
  await write(db, async (tx) => {
    const users = await inUse(tx, hash);
    if (users.length > 0)
      throw new RefusedError(
        `The profile is used by ${users
          .slice(0, 3)
          .map((n) => `“${n}”`)
          .join(
            ', ',
          )}${users.length > 3 ? ` and ${users.length - 3} more` : ''}, or by what can still be undone there. Choose another print condition first.`,
      );
    await tx.delete(profiles).where(eq(profiles.hash, hash));
    await dropUnused(tx);
  });
}
