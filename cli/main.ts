import { Command, CommanderError, type Option } from 'commander';
import { FormatError } from '../core/formats/index.ts';
import { version } from '../package.json';
import { addApply } from './commands/apply.ts';
import { addBoard } from './commands/board.ts';
import { addCheck } from './commands/check.ts';
import { addCompletion } from './commands/completion.ts';
import { addConvert } from './commands/convert.ts';
import { addExtract } from './commands/extract.ts';
import { addFormats } from './commands/formats.ts';
import { addHarmony } from './commands/harmony.ts';
import { addInks } from './commands/inks.ts';
import { addInspect } from './commands/inspect.ts';
import { addMatch } from './commands/match.ts';
import { addReading } from './commands/reading.ts';
import { addTune } from './commands/tune.ts';
import { addWatch } from './commands/watch.ts';
import type { Streams } from './files.ts';
import { type AddCommands, FallsShort, shellOf } from './shell.ts';

/** Every command, in the order of the help. */
const COMMANDS: readonly AddCommands[] = [
  addFormats,
  addInspect,
  addConvert,
  addWatch,
  addExtract,
  addCheck,
  addMatch,
  addApply,
  addTune,
  addReading,
  addInks,
  addBoard,
  addCompletion,
  addHarmony,
];

/** What an option does, and what it is when nobody says; things without a word of their own are not spelt out. */
function describeOption({ description, defaultValue }: Option): string {
  const id = (defaultValue as { id?: unknown } | undefined)?.id;
  const usual = typeof defaultValue === 'object' ? id : defaultValue;
  return usual === undefined || usual === false ? description : `${description} (default: ${usual})`;
}

/** Runs a command. Returns the exit code: 0 done, 1 bad input, 2 wrong usage. */
export async function main(args: string[], streams: Streams): Promise<number> {
  const { out, err } = streams;
  const program = new Command('papillon')
    .description('Swatch files and palettes from the shell.')
    .version(version, '-V, --version', 'the version')
    .exitOverride()
    .configureHelp({ optionDescription: describeOption })
    .configureOutput({ writeOut: out, writeErr: err });
  const shell = shellOf(streams);
  for (const add of COMMANDS) add(program, shell);

  try {
    if (args.length === 0) {
      err(program.helpInformation());
      return 2;
    }
    await program.parseAsync(args, { from: 'user' });
    return 0;
  } catch (error) {
    if (error instanceof CommanderError) {
      if (error.code === 'usage') err(`${error.message}\n`);
      return error.exitCode === 0 ? 0 : 2;
    }
    if (error instanceof FormatError || error instanceof FallsShort) {
      err(`${error.message}\n`);
      return 1;
    }
    throw error;
  }
}
