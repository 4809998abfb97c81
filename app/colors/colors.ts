import lcmsUrl from 'lcms-wasm/dist/lcms.wasm?url';
import { conditionOf, profilesOf } from '#core/color/condition';
import type { ColorEngine } from '#core/color/engine';
import type { Color, Condition, ConditionSetting } from '#core/color/model';
import type { conditionIn } from '#core/color/print';
import { SHIPPED } from '#core/color/shipped';
import { readProfile } from '~/api/assets';
import { addressOf } from '~/api/call';
import coatedUrl from '../../profiles/coated-offset.icc?url';
import uncoatedUrl from '../../profiles/uncoated-offset.icc?url';

const shippedUrls: Record<string, string> = {
  [SHIPPED.coated]: coatedUrl,
  [SHIPPED.uncoated]: uncoatedUrl,
};

/** Where a profile is to be had. */
export const profileUrl = (hash: string) => shippedUrls[hash] ?? addressOf(readProfile, { hash });

/**
 * The colour engine of a page or worker: fetched once, when the first colour is needed, with the profiles it needs. Nothing is
 * shown before they are here, so that no colour turns into another.
 */
export class Colors {
  private loading: Promise<ColorEngine> | null = null;
  /** Comes with the engine: pages without colours of inks load neither. */
  private make: typeof conditionIn | null = null;
  private readonly coming = new Map<string, Promise<void>>();

  /** @param engine one that is loaded already */
  constructor(
    private readonly get: typeof fetch = (...args) => fetch(...args),
    private engine: ColorEngine | null = null,
  ) {}

  /** A condition at work, with the profiles that colors name. @throws Error that says what could not be fetched */
  async condition(setting: ConditionSetting, colors: Iterable<Color> = []): Promise<Condition> {
    const engine = await this.load();
    const wanted = profilesOf(setting, colors);
    await Promise.all(wanted.map((hash) => this.fetchProfile(engine, hash)));
    return this.here(setting)!;
  }

  /** Takes in profiles that a file has brought. They have been looked at, and what does not open is left out. */
  async bring(profiles: readonly Uint8Array[] = []): Promise<void> {
    if (profiles.length === 0) return;
    const engine = await this.load();
    for (const bytes of profiles)
      try {
        engine.add(bytes);
      } catch (error) {
        if ((error as Error).name !== 'ProfileError') throw error;
      }
  }

  /** A condition at once, where all it needs has been fetched; null where it has not. */
  here(setting: ConditionSetting): Condition | null {
    if (!this.engine || !this.make) return null;
    // a profile that is gone for good leaves the usual paper rather than no colours
    return this.make(this.engine, this.has(setting) ? setting : conditionOf({}));
  }

  /** Whether a profile is here. */
  has({ profile }: { profile?: string | undefined }): boolean {
    return profile !== undefined && this.engine?.profile(profile) !== undefined;
  }

  /** The engine itself, for pictures in inks. */
  async load(): Promise<ColorEngine> {
    this.loading ??= this.engine ? Promise.resolve(this.engine) : this.fetchEngine();
    try {
      const [engine, { conditionIn }] = await Promise.all([this.loading, import('#core/color/print')]);
      this.make = conditionIn;
      this.engine = engine;
      return engine;
    } catch (error) {
      // what was in the way may be gone at the next try
      this.loading = null;
      throw new Error(`Colours cannot be shown: ${(error as Error).message}`);
    }
  }

  private async fetchEngine(): Promise<ColorEngine> {
    // what colours without a setting of their own are shown under is always wanted
    const { profile } = conditionOf({});
    const [{ instantiate }, { ColorEngine }, bytes] = await Promise.all([
      import('lcms-wasm'),
      import('#core/color/engine'),
      this.bytesOf(profile),
    ]);
    if (!bytes) throw new Error('a profile is missing on the server. Load the page again.');
    const engine = new ColorEngine(await instantiate({ locateFile: () => lcmsUrl }));
    engine.add(bytes, profile);
    return engine;
  }

  private fetchProfile(engine: ColorEngine, hash: string): Promise<void> {
    if (engine.profile(hash)) return Promise.resolve();
    const coming = this.coming.get(hash) ?? this.take(engine, hash).finally(() => this.coming.delete(hash));
    this.coming.set(hash, coming);
    return coming;
  }

  private async take(engine: ColorEngine, hash: string): Promise<void> {
    const bytes = await this.bytesOf(hash);
    if (bytes) engine.add(bytes, hash);
  }

  /** The bytes of a profile; null when it is gone for good. @throws Error when it cannot be fetched */
  async bytesOf(hash: string): Promise<Uint8Array | null> {
    const response = await this.get(profileUrl(hash));
    if (response.status === 404) return null;
    if (!response.ok) throw new Error('a colour profile could not be fetched. Check the connection.');
    return new Uint8Array(await response.arrayBuffer());
  }
}
