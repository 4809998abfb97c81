import { realpath } from 'node:fs/promises';
import { InvalidArgumentError } from 'commander';
import {
  baseName,
  choicesFor,
  compareWritten,
  type Format,
  FormatError,
  fileName,
  formatById,
  linesOfReport,
  type Opened,
  type Options,
  openSwatchFile,
  partsOf,
  summarize,
  takeIn,
  writeAs,
} from '../core/formats/index.ts';
import { countingIds, countSwatches } from '../core/swatch/model.ts';
import { wrongUsage } from './args.ts';
import { bring, localServices } from './engine.ts';
import { STREAM } from './files.ts';

/** How files are read and written. */
export interface How {
  to?: Format;
  from?: Format;
  out?: string;
  set: Options;
  text?: boolean;
  perGroup?: boolean;
  force?: boolean;
  json?: boolean;
}

/** An option of a format, as NAME=VALUE. */
export function asOption(text: string, before: Options): Options {
  const [, name, value] = /^([\w-]+)=(.*)$/.exec(text) ?? [];
  if (!name || value === undefined)
    throw new InvalidArgumentError('Use NAME=VALUE, such as columns=6 or names=yes.');
  const plain = /^(?:true|yes)$/.test(value) ? true : /^(?:false|no)$/.test(value) ? false : value;
  return { ...before, [name]: /^-?\d+(?:\.\d+)?$/.test(value) ? Number(value) : plain };
}

/** @throws CommanderError where a format has no such option, or not this value */
export function checkOptions(format: Format, set: Options): void {
  const declared = choicesFor(format);
  for (const [name, value] of Object.entries(set)) {
    const known = declared.find((o) => o.id === name);
    if (!known)
      throw wrongUsage(
        `${format.name} has no option “${name}”; it has ${declared.map((o) => o.id).join(', ') || 'none'}`,
      );
    if (known.type === 'choice') {
      if (!known.values.some(([v]) => v === String(value)))
        throw wrongUsage(
          `the option “${name}” is one of ${known.values.map(([v]) => v || '(nothing)').join(', ')}`,
        );
      continue;
    }
    if (known.type === 'text') continue;
    if (typeof value !== known.type)
      throw wrongUsage(`the option “${name}” wants ${known.type === 'number' ? 'a number' : 'yes or no'}`);
    if (known.type === 'number' && (Number(value) < known.min || Number(value) > known.max))
      throw wrongUsage(`the option “${name}” goes from ${known.min} to ${known.max}`);
  }
}

/** What becomes of a library in a format: the bytes, and what changed as the one JSON value and as text. */
export async function converted(
  { library, format: from, profiles, warnings }: Opened,
  to: Format,
  options: Options,
) {
  await bring(profiles);
  const services = await localServices(library);
  const bytes = await writeAs(to, library, services, options);
  const report = await compareWritten(library, bytes, to, services.condition);
  const { title, detail } = summarize(report);
  return {
    bytes,
    json: {
      from: from.id,
      to: to.id,
      swatches: countSwatches(library),
      changes: report.changes.map(({ id: _, ...change }) => change),
      library: [
        ...(report.groupsLost ? ['its groups'] : []),
        ...report.groupChanges,
        ...report.libraryLosses,
      ],
      warnings,
    },
    text: [`${title}. ${detail}`, ...linesOfReport(report).map((l) => `  ${l}`), ''].join('\n'),
  };
}

/** @throws FormatError when a file is written over what it was read from, with something lost, and nobody said to */
export async function refuseOverSource(
  from: string,
  to: string,
  { json: { changes, library, to: id } }: Awaited<ReturnType<typeof converted>>,
  force: boolean | undefined,
): Promise<void> {
  if (force || from === STREAM || to === STREAM || changes.length + library.length === 0) return;
  const [a, b] = await Promise.all([from, to].map((path) => realpath(path).catch(() => null)));
  if (a !== null && a === b)
    throw new FormatError(
      `${to} would be written over what it is read from, and ${formatById(id).name} does not keep all of it. Give another name, or add --force.`,
    );
}

/** Reads whatever a file holds, and converts each library in it. @param put takes what is written under a name for it */
export async function convertAll(
  path: string,
  bytes: Uint8Array,
  { to, from, set, text, perGroup }: How & { to: Format },
  put: (name: string, result: Awaited<ReturnType<typeof converted>>) => Promise<string>,
) {
  const done: { text: string; json: object; warnings: string[] }[] = [];
  const skipped: { in: string; why: string }[] = [];
  const problems: string[] = [];
  const found = from
    ? [
        {
          kind: 'swatches' as const,
          path,
          opened: await openSwatchFile(bytes, path, countingIds(), from, { text: !!text }),
        },
      ]
    : takeIn(bytes, path, countingIds(), () => ({ text: !!text }));
  for await (const one of found) {
    if (one.kind === 'problem') problems.push(one.message);
    else if (one.kind !== 'swatches')
      skipped.push({
        in: one.path,
        why:
          one.kind === 'picture'
            ? 'a picture; see extract'
            : one.kind === 'drawing'
              ? 'artwork of the kit'
              : one.message,
      });
    else {
      const whole = { ...one.opened.library, name: one.opened.library.name || baseName(one.path) };
      const parts = perGroup ? partsOf(whole, to, true) : [one.opened.library];
      for (const library of parts) {
        const result = await converted({ ...one.opened, library }, to, set);
        const name = fileName(perGroup ? library.name : baseName(one.path), to.endings[0]);
        const out = await put(name, result);
        done.push({
          json: { in: one.path, out, ...result.json },
          text: `${one.path} → ${out}\n${result.text}`,
          warnings: one.opened.warnings.map((w) => `${one.path}: ${w}`),
        });
      }
    }
  }
  return { done, skipped, problems };
}
