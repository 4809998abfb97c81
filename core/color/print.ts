import { type ColorEngine, MEASURED, mannerOf } from './engine.ts';
import type { Appearance, Color, Condition, ConditionSetting, Lab } from './model.ts';

/** A print condition at work. Its profile, and those that colours name, have been given to the engine. */
export class PrintCondition implements Condition {
  readonly name: string;
  readonly seen = new WeakMap<Color, Appearance>();
  private readonly found = new WeakMap<Color, { shown: Lab; measured: Lab }>();

  constructor(
    private readonly engine: ColorEngine,
    readonly setting: ConditionSetting,
  ) {
    this.name = engine.profile(setting.profile)?.name ?? '';
  }

  isDevice({ space, profile }: Color): boolean {
    return space === 'cmyk' || (profile !== undefined && this.engine.profile(profile)?.space === space);
  }

  throughOf(color: Color): string {
    return this.engine.profile(this.profileOf(color))!.name;
  }

  shown(color: Color): Lab {
    return this.through(color).shown;
  }

  measured(color: Color): Lab {
    return this.through(color).measured;
  }

  inks(lab: Lab, measured: boolean): number[] {
    const { profile, intent } = this.setting;
    return [...this.engine.fromLab(profile, Float32Array.from(lab), measured ? MEASURED : mannerOf(intent))];
  }

  print(inks: Float32Array): Float32Array {
    return this.engine.toLab(this.setting.profile, inks, MEASURED);
  }

  separate(labs: Float32Array): Float32Array {
    return this.engine.fromLab(this.setting.profile, labs, MEASURED);
  }

  prepare(colors: Iterable<Color>): void {
    const byProfile = new Map<string, Color[]>();
    for (const color of colors) {
      if (!this.isDevice(color) || this.found.has(color)) continue;
      const profile = this.profileOf(color);
      const list = byProfile.get(profile);
      if (list) list.push(color);
      else byProfile.set(profile, [color]);
    }
    for (const [profile, list] of byProfile) {
      const shown = this.engine.labs(profile, list, mannerOf(this.setting.intent));
      // the white of a screen is the white of the eye; the white of a sheet is that of the paper
      const sheet = this.engine.profile(profile)!.kind === 'prtr';
      const measured = sheet ? this.engine.labs(profile, list, MEASURED) : shown;
      list.forEach((color, i) => {
        this.found.set(color, { shown: shown[i]!, measured: measured[i]! });
      });
    }
  }

  private through(color: Color) {
    const known = this.found.get(color);
    if (known) return known;
    this.prepare([color]);
    return this.found.get(color)!;
  }

  /** The profile a color is of: its own, where it is here and fits the numbers. */
  private profileOf({ profile, space }: Color): string {
    return profile !== undefined && this.engine.profile(profile)?.space === space
      ? profile
      : this.setting.profile;
  }
}

/** More settings are never in use at once; those of before a profile came are of no use any more. */
const MAX_KEPT_SETTINGS = 50;

const made = new WeakMap<ColorEngine, Map<string, PrintCondition>>();

/** The condition of a setting, always the same one for the same setting, so that what it has found stays found. */
export function conditionIn(engine: ColorEngine, setting: ConditionSetting): PrintCondition {
  const own = made.get(engine) ?? new Map<string, PrintCondition>();
  made.set(engine, own);
  // colours that name a profile look otherwise once it is here
  const key = `${engine.generation} ${setting.profile} ${setting.intent} ${setting.inkLimit}`;
  if (own.size > MAX_KEPT_SETTINGS) own.clear();
  const condition = own.get(key) ?? new PrintCondition(engine, setting);
  own.set(key, condition);
  return condition;
}
