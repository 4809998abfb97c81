import type { Command } from 'commander';
import { inspection } from '../../core/formats/index.ts';
import { countSwatches } from '../../core/swatch/model.ts';
import { conditionHere } from '../engine.ts';
import { open } from '../files.ts';
import type { Shell } from '../shell.ts';

/** `inspect`: what is in a swatch file. */
export function addInspect(program: Command, { streams, print }: Shell): void {
  program
    .command('inspect')
    .description('what is in a swatch file')
    .argument('<file>', 'a swatch file, - for standard input')
    .option('--text', 'take the colours of text in drawings too')
    .option('--json', 'one JSON value')
    .action(async (file, { text, json }) => {
      const { library, format, warnings } = await open(file, undefined, text, streams);
      const found = inspection(library, format, warnings, await conditionHere(library));
      const lines = [`${format.name} · ${library.name} · ${countSwatches(library)} swatches`];
      for (const group of found.groups) {
        lines.push(group.name === null ? '(no group)' : group.name);
        for (const s of group.swatches)
          lines.push(
            `  ${s.hex}  ${s.space.padEnd(5)}${s.kind.padEnd(8)}${s.name}${s.role ? ` (${s.role})` : ''}`,
          );
      }
      print(json, found, [...lines, ...warnings.map((w) => `Note: ${w}`), ''].join('\n'));
    });
}
