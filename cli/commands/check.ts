import type { Command } from 'commander';
import { checks, type Finding, runCheck } from '../../core/check/index.ts';
import {
  type ColorEngine,
  conditionOf,
  ProfileError,
  type ProfileInfo,
  usualInkLimit,
} from '../../core/color/index.ts';
import { FormatError } from '../../core/formats/index.ts';
import type { Library } from '../../core/swatch/model.ts';
import { asNumber, oneById, repeated } from '../args.ts';
import { colorEngine, conditionHere } from '../engine.ts';
import { open, readWhole } from '../files.ts';
import { FallsShort, type Shell } from '../shell.ts';

const asCheck = (id: string) => oneById(checks)(id).id;

/** `check`: what is wrong with a library. */
export function addCheck(program: Command, { streams, print }: Shell): void {
  program
    .command('check')
    .description('runs the checks; exits with 1 if any fails')
    .argument('<file>', 'a swatch file, - for standard input')
    .option('--profile <file>', 'the ICC profile of the press; coated offset when none is given')
    .option('--ink <percent>', 'the most ink, all four together, 100–400', asNumber({ min: 100, max: 400 }))
    .option('--only <id>', 'only this check (repeatable)', repeated(asCheck), [])
    .option('--against <file>', 'compare with this file, too')
    .option('--json', 'one JSON value')
    .action(async (file, { profile, ink, only, against: other, json }) => {
      const { library } = await open(file, undefined, false, streams);
      const engine = await colorEngine();
      const asked = { ...conditionOf(library), ...(ink === undefined ? {} : { inkLimit: ink }) };
      if (profile !== undefined) {
        const info = addProfile(engine, profile, await readWhole(profile));
        asked.profile = info.hash;
        if (ink === undefined) asked.inkLimit = usualInkLimit(info.hash);
      }
      const condition = await conditionHere({ condition: asked });
      const theirs = other === undefined ? null : (await open(other)).library;
      const findings: { check: string; swatches: string[]; measure: number; says: string }[] = [];
      const lines = [`${file}, on ${condition.name}, at most ${asked.inkLimit} % of ink`];
      let total = 0;
      for (const check of checks) {
        if (only.length > 0 ? !only.includes(check.id) : check.needs && !theirs) continue;
        const found = await runCheck(check, library, {}, { condition, against: theirs });
        total += found.total;
        lines.push(`${check.title}: ${found.title}`);
        for (const f of found.findings) {
          findings.push({
            check: check.id,
            swatches: namesOf(library, f),
            measure: Math.round(f.measure * 1000) / 1000,
            says: f.says,
          });
          lines.push(`  ${f.name}: ${f.says}`);
        }
        if (found.total > found.findings.length)
          lines.push(`  and ${found.total - found.findings.length} more, not as bad`);
      }
      print(json, { profile: condition.name, findings }, `${lines.join('\n')}\n`);
      if (total > 0)
        throw new FallsShort(`${total === 1 ? 'One thing does' : `${total} things do`} not hold.`);
    });
}

/** Opens a profile that something is to be printed under. @throws FormatError naming the file */
function addProfile(engine: ColorEngine, file: string, bytes: Uint8Array): ProfileInfo {
  try {
    const info = engine.add(new Uint8Array(bytes));
    if (info.space !== 'cmyk' || !engine.canPrint(info.hash))
      throw new ProfileError(
        `it is for ${info.space === 'cmyk' ? 'reading alone' : info.space.toUpperCase()}. Choose a profile that prints CMYK.`,
      );
    return info;
  } catch (error) {
    if (!(error instanceof ProfileError)) throw error;
    throw new FormatError(`${file}: ${error.message}`);
  }
}

const namesOf = (library: Library, { swatches }: Finding): string[] => {
  const ids = new Set(swatches);
  return library.groups.flatMap((g) => g.swatches.flatMap((s) => (ids.has(s.id) ? [s.name] : [])));
};
