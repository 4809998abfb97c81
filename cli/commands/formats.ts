import type { Command } from 'commander';
import { formats } from '../../core/formats/index.ts';
import type { Shell } from '../shell.ts';

/** `formats`: what can be read and written. */
export function addFormats(program: Command, { print }: Shell): void {
  program
    .command('formats')
    .description('every format with its traits')
    .option('--json', 'one JSON value')
    .action(({ json }) => {
      const list = formats.map(({ id, name, about, endings, traits }) => ({
        id,
        name,
        about,
        endings,
        ...traits,
      }));
      const rows = list.map(
        (f) =>
          `${f.id.padEnd(11)}${f.about}\n           .${f.endings.join(' .')}; ${[f.read && 'read', f.write && 'write'].filter(Boolean).join(' and ')}; ${f.spaces.join(' ')}; ${f.bits} bits${f.most ? `; at most ${f.most}` : ''}\n`,
      );
      print(json, list, rows.join(''));
    });
}
