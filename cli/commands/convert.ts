import { join } from 'node:path';
import type { Command } from 'commander';
import { type Format, FormatError, freePaths } from '../../core/formats/index.ts';
import { asFormat, asWritable, byEnding, wrongUsage } from '../args.ts';
import { asOption, checkOptions, convertAll, converted, type How, refuseOverSource } from '../conversion.ts';
import { everyFile, makeFolder, open, readChecked, readInput, replace, STREAM, write } from '../files.ts';
import type { Shell } from '../shell.ts';

/** `convert`: swatch files as files of other formats. */
export function addConvert(program: Command, { streams, print, report, note }: Shell): void {
  const { err } = streams;

  program
    .command('convert')
    .description('convert swatch files, and tell what changed on the way')
    .usage('[options] IN OUT  |  IN… --to ID --out DIR')
    .argument(
      '<files...>',
      'a file and the file to write, - for a stream; with --out, files, folders and zips to read',
    )
    .option('--from <id>', 'read as this format instead of recognising it', asFormat)
    .option('--to <id>', 'write this format instead of going by the ending', asWritable)
    .option('--out <dir>', 'write a file for each that is read into this folder')
    .option('--per-group', 'a file for each group, named after library and group (with --out)')
    .option('--text', 'take the colours of text in drawings too')
    .option('--set <name=value>', 'an option of the format, such as columns=6 (repeatable)', asOption, {})
    .option('--force', 'write over what is read, also where the format keeps less')
    .option('--json', 'one JSON value')
    .action(async (files: string[], options: How) => {
      if (options.out !== undefined) return convertMany(files, options, options.out);
      if (files.length !== 2)
        throw wrongUsage(
          `give one file to read and one to write, not ${files.length}; for several files add --to ID --out DIR`,
        );
      if (options.perGroup) throw wrongUsage('--per-group needs --out with the folder to write into');
      const [from, to] = files as [string, string];
      const toStream = to === STREAM;
      if (toStream && !options.to) throw wrongUsage('- needs --to with the format to write');
      if (toStream && options.json)
        throw wrongUsage('--json and a file on standard output cannot be combined');
      const format: Format = options.to ?? byEnding(to);
      checkOptions(format, options.set);
      const opened = await open(from, options.from, options.text, streams);
      const result = await converted(opened, format, options.set);
      await refuseOverSource(from, to, result, options.force);
      await write(to, result.bytes, streams);
      report(to, options.json, result.json, result.text);
      note(options.json, opened.warnings);
    });

  /** Converts all that can be; what cannot is reported, and the exit code says so. */
  async function convertMany(inputs: string[], how: How, folder: string) {
    const { to, set, json } = how;
    if (!to) throw wrongUsage('--out needs --to with the format to write');
    checkOptions(to, set);
    await makeFolder(folder);
    const free = freePaths();
    const done: object[] = [];
    const skipped: { in: string; why: string }[] = [];
    const texts: string[] = [];
    let failed = 0;
    const fail = (message: string) => {
      failed++;
      err(`${message}\n`);
    };
    for (const path of await everyFile(inputs)) {
      try {
        const { bytes } = await readInput(path, streams, readChecked);
        const result = await convertAll(path, bytes, { ...how, to }, async (name, written) => {
          const target = join(folder, free(name));
          await refuseOverSource(path, target, written, how.force);
          await replace(target, written.bytes);
          return target;
        });
        result.problems.forEach(fail);
        skipped.push(...result.skipped);
        for (const one of result.done) {
          done.push(one.json);
          texts.push(one.text);
          if (!json) for (const w of one.warnings) err(`${w}\n`);
        }
      } catch (error) {
        if (!(error instanceof FormatError)) throw error;
        fail(error.message);
      }
    }
    for (const { in: path, why } of skipped) texts.push(`${path}: passed over, ${why}\n`);
    if (failed === 0 && done.length === 0) fail('no swatch files found.');
    print(json, { files: done, skipped }, texts.join(''));
    if (failed > 0) throw new FormatError(`${failed} of the files could not be converted.`);
  }
}
