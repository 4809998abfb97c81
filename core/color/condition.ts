import { type ColorEngine, MEASURED, mannerOf } from './engine.ts';
import type { Appearance, Color, Condition, ConditionSetting, Lab } from './model.ts';
import { SHIPPED } from './profile.ts';

/** What new libraries start with: coated offset, with the ink that its sheets usually take (common practice, no source). */
export const USUAL_CONDITION: ConditionSetting = {
  profile: SHIPPED.coated,
  intent: 'relative',
  inkLimit: 320,
};

/** A library's condition, or the usual one. */
export const conditionOf = ({ condition }: { condition?: ConditionSetting }): ConditionSetting =>
  condition ?? USUAL_CONDITION;

/** The ink limit a paper usually has, %: 300–330 coated, 280–300 uncoated (common practice, no source). */
export const usualInkLimit = (profile: string) => (profile === SHIPPED.uncoated ? 300 : 320);

/** Thrown where an ink comes to a place that has no print condition: a mistake of Papillon's own. */
const noInks = (): never => {
  throw new Error('A device colour has no appearance without a print condition.');
};

/** For colours that are surely of no device: those of pictures and of codes for screens. */
export const screenOnly: Condition = {
  setting: USUAL_CONDITION,
  name: 'screen',
  isDevice: ({ space }) => space === 'cmyk',
  throughOf: noInks,
  shown: noInks,
  measured: noInks,
  inks: noInks,
  print: noInks,
  separate: noInks,
  prepare: () => undefined,
  seen: new WeakMap(),
};

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

const made = new WeakMap<ColorEngine, Map<string, PrintCondition>>();

/** The condition of a setting, always the same one for the same setting, so that what it has found stays found. */
export function conditionIn(engine: ColorEngine, setting: ConditionSetting): PrintCondition {
  const own = made.get(engine) ?? new Map<string, PrintCondition>();
  made.set(engine, own);
  const key = `${setting.profile} ${setting.intent} ${setting.inkLimit}`;
  const condition = own.get(key) ?? new PrintCondition(engine, setting);
  own.set(key, condition);
  return condition;
}

/** The profiles that a library needs: that of its condition, and those its colors name. */
export function profilesOf(setting: ConditionSetting, colors: Iterable<Color>): string[] {
  const found = new Set([setting.profile]);
  for (const { profile } of colors) if (profile) found.add(profile);
  return [...found];
}
