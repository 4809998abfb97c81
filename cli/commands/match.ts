import type { Command } from 'commander';
import { DE00, deltaE00, METRICS, toHex, toLab } from '../../core/color/index.ts';
import { type Entry, Matcher, NO_LIMITS, type Source } from '../../core/match/index.ts';
import { allSwatches } from '../../core/swatch/model.ts';
import { asColor, asDifference, asNumber, eachName, oneById } from '../args.ts';
import { conditionHere } from '../engine.ts';
import { libraryNamed } from '../libraries.ts';
import type { Shell } from '../shell.ts';

/** `match`: the nearest swatches in books and files. */
export function addMatch(program: Command, { print }: Shell): void {
  program
    .command('match')
    .description('the nearest swatches in a book or file')
    .argument('<colors...>', 'colours as they are typed: #8a1c24, "Lab 40 57 33", "C 10 M 90 Y 80 K 0"')
    .requiredOption('--in <book-or-file>', 'a swatch file, or a book by its name (repeatable)', eachName)
    .option('--top <n>', 'how many of each, 1–100', asNumber({ min: 1, max: 100, whole: true }), 5)
    .option('--metric <id>', `one of ${METRICS.map((m) => m.id).join(', ')}`, oneById(METRICS), DE00)
    .option('--within <difference>', 'none that differ by more', asDifference)
    .option('--json', 'one JSON value')
    .action(async (texts: string[], { in: places, top, metric, within, json }) => {
      const condition = await conditionHere();
      const sources: Source[] = [];
      for (const place of places as string[]) sources.push(await sourceOf(place));
      const matcher = new Matcher(sources, metric, { ...NO_LIMITS, within: within ?? null });
      const matches = texts.map((query) => {
        const lab = toLab(asColor(query), condition);
        return {
          query,
          found: matcher.nearest(lab, top).map(({ source, entry, difference }) => ({
            name: entry.name,
            ...(entry.code === undefined ? {} : { code: entry.code }),
            hex: entry.hex,
            lab: entry.lab,
            deltaE00: metric === DE00 ? difference : deltaE00(lab, entry.lab),
            ...(metric === DE00 ? {} : { [metric.id]: difference }),
            ...(sources.length > 1 ? { in: source.name } : {}),
          })),
        };
      });
      const lines = matches.flatMap(({ query, found }) => [
        query,
        ...(found.length > 0
          ? found.map(
              (f) =>
                `  ${f.hex}  ΔE00 ${f.deltaE00.toFixed(1).padStart(4)}  ${f.name}${f.in ? ` (${f.in})` : ''}`,
            )
          : ['  none within the tolerance']),
      ]);
      print(json, { matches }, `${lines.join('\n')}\n`);
    });
}

async function sourceOf(place: string): Promise<Source> {
  const library = await libraryNamed(place);
  const condition = await conditionHere(library);
  return {
    id: place,
    name: library.name,
    book: library.book !== undefined,
    entries: allSwatches(library).map(
      (s): Entry => ({
        id: s.id,
        name: s.name,
        ...(s.code === undefined ? {} : { code: s.code }),
        kind: s.kind,
        lab: toLab(s.color, condition),
        hex: toHex(s.color, condition),
        ...(s.special ? { special: s.special } : {}),
      }),
    ),
  };
}
