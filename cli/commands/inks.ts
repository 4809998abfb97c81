import { type Command, InvalidArgumentError } from 'commander';
import { ProfileError, toHex } from '../../core/color/index.ts';
import type { PdfChange } from '../../core/pdf/change.ts';
import { changedPdf } from '../../core/pdf/changes.ts';
import type { PdfInk } from '../../core/pdf/inks.ts';
import { inksOf, type MeasuredInk, readMeasurements, writeCxf } from '../../core/reading/index.ts';
import { allSwatches } from '../../core/swatch/model.ts';
import { FormatError } from '../../core/text/error.ts';
import { eachName, repeated, wrongUsage } from '../args.ts';
import { colorEngine, conditionHere } from '../engine.ts';
import { named, namedLater, open, readInput, readWhole, STREAM, write } from '../files.ts';
import type { Shell } from '../shell.ts';

type Pair = [from: string, to: string];
interface Given {
  rename?: Pair[];
  merge?: Pair[];
  swap?: Pair[];
  with?: string;
  process?: string[];
  over?: string[];
  order?: string[];
  profileIn?: string;
  fresh?: boolean;
  cxfIn?: string;
  cxfOut?: string;
  profileOut?: string;
  json?: boolean;
}

/** The command `inks`: the inks of a PDF, read and changed without touching the rest. */
export function addInks(program: Command, { streams, print, note }: Shell): void {
  program
    .command('inks')
    .description('show the inks of a PDF, and change them: only what changes is written, behind the old file')
    .argument('<file>', 'the PDF, - for standard input')
    .argument('[out]', 'the file to write, - for standard output')
    .option(
      '--rename <old=new>',
      'give an ink another name, wherever it stands (repeatable)',
      repeated(asPair),
    )
    .option('--merge <a=b>', 'print what is on plate A on plate B (repeatable)', repeated(asPair))
    .option('--swap <ink=swatch>', 'replace an ink with a swatch of --with (repeatable)', repeated(asPair))
    .option('--with <file>', 'the swatches that --swap takes from')
    .option('--process <ink>', 'print an ink in process inks (repeatable)', eachName)
    .option('--over <ink>', 'print an ink over what lies below it (repeatable)', eachName)
    .option('--order <inks>', 'the printing order, first to last, with commas between', asNames)
    .option('--cxf-in <file>', 'let its measurements travel with the inks of the same names')
    .option('--cxf-out <file>', 'write the measurements that travel along as CxF')
    .option('--profile-in <file>', 'an ICC profile of a press: what the file is printed on')
    .option('--profile-out <file>', 'write the profile of the output intent')
    .option('--fresh', 'write a new file without what was there before, not an update behind the old one')
    .option('--json', 'one JSON value')
    .action(async (file: string, out: string | undefined, given: Given) => {
      const { rename = [], merge = [], swap = [], process = [], over = [], order, fresh, json } = given;
      const { cxfIn, cxfOut, profileIn, profileOut } = given;
      const all = [rename, merge, swap, process, over].flat().length;
      const changes = all + (order ? 1 : 0) + (cxfIn ? 1 : 0) + (profileIn ? 1 : 0);
      if (changes > 0 && out === undefined)
        throw wrongUsage('a change needs a file to write: name one behind the PDF.');
      if (changes === 0 && out !== undefined)
        throw wrongUsage(
          'nothing is to be changed. Add --rename, --merge, --swap, --process, --over, --order, --cxf-in or --profile-in.',
        );
      if (swap.length > 0 && !given.with) throw wrongUsage('--swap needs --with, the file of the swatches.');
      if (out === STREAM && json) throw wrongUsage('--json and a file on standard output cannot be combined');
      const { name, bytes } = await readInput(file, streams);
      const called = <T>(work: () => T | Promise<T>) => namedLater(name, work);
      const condition = await conditionHere();
      const wanted: PdfChange[] = [
        ...rename.map(([from, to]): PdfChange => ({ do: 'rename', from, to })),
        ...merge.map(([from, into]): PdfChange => ({ do: 'merge', from, into })),
      ];
      if (given.with) {
        const { library } = await open(given.with);
        for (const [from, asked] of swap) {
          const swatch = allSwatches(library).find((s) => s.name === asked || s.code === asked);
          if (!swatch) throw new FormatError(`${given.with}: no swatch is called “${asked}”.`);
          wanted.push({ do: 'swap', from, swatch });
        }
      }
      wanted.push(...process.map((ink): PdfChange => ({ do: 'process', name: ink })));
      wanted.push(...over.map((ink): PdfChange => ({ do: 'over', name: ink })));
      if (order) wanted.push({ do: 'order', names: order });
      if (profileIn) wanted.push(await intentOf(profileIn));
      const now = new Date().toISOString();
      const { pdf, warnings } = await called(() => changedPdf(bytes, wanted, condition, now));
      if (cxfIn) {
        const measured = await readMeasurements(await readWhole(cxfIn), cxfIn);
        const { inks, warnings: said } = inksOf([measured]);
        warnings.push(...said);
        const there = new Set(pdf.inks(condition).map((i) => i.name));
        const own = inks.filter((ink) => there.has(ink.name));
        if (own.length === 0)
          throw new FormatError(
            `${cxfIn}: none of its inks is in the PDF. It has ${listed(inks.map((i) => i.name))}; the PDF has ${listed([...there])}.`,
          );
        for (const ink of own) pdf.embed(ink.name, writeCxf([keptOf(ink)], now));
      }
      const inks = pdf.inks(condition);
      if (cxfOut) {
        const measured: MeasuredInk[] = [];
        for (const ink of inks) {
          const cxf = pdf.measurement(ink.name);
          if (cxf) measured.push(...inksOf([await readMeasurements(cxf, `${name}, “${ink.name}”`)]).inks);
        }
        if (measured.length === 0) throw new FormatError(`${name}: no measurement travels with its inks.`);
        await write(cxfOut, writeCxf(measured.map(keptOf), new Date().toISOString()), streams);
      }
      if (profileOut) {
        const profile = pdf.profile();
        if (!profile) throw new FormatError(`${name}: its output intent has no profile.`);
        await write(profileOut, profile, streams);
      }
      const facts = pdf.facts();
      const { pages, passed } = await pdf.coverage(condition);
      if (passed.length > 0)
        warnings.push(
          `Coverage leaves out or only estimates ${passed.join(', ')}: text by its letters, the others not at all.`,
        );
      if (out !== undefined) await write(out, await called(() => pdf.save(fresh)), streams);
      if (out === STREAM) return;
      const covered = (ink: PdfInk) => pages.map((page) => Math.round((page.get(ink.name) ?? 0) * 1e4) / 1e4);
      print(
        json,
        {
          version: facts.version,
          ...(facts.conformance ? { conformance: facts.conformance } : {}),
          pages: facts.pages,
          ...(facts.outputIntent ? { outputIntent: facts.outputIntent } : {}),
          missingFonts: facts.missingFonts,
          inks: inks.map((ink) => ({
            name: ink.name,
            kind: ink.kind,
            alternate: ink.alternate,
            lab: ink.lab,
            ...(ink.solidity === null ? {} : { solidity: ink.solidity }),
            spectral: ink.spectral,
            coverage: covered(ink),
          })),
          warnings: [...facts.warnings, ...warnings],
        },
        [
          `${name}: PDF ${facts.version}${facts.conformance ? `, ${facts.conformance}` : ''}, ${facts.pages.length} pages${facts.outputIntent ? `, for ${facts.outputIntent.name}` : ''}`,
          ...inks.map((ink, i) => {
            const mean = covered(ink).reduce((a, b) => a + b, 0) / Math.max(1, pages.length);
            return [
              String(i + 1).padStart(3),
              ink.name.padEnd(28),
              ink.kind.padEnd(10),
              (ink.alternate ? toHex(ink.alternate, condition) : '').padEnd(9),
              `${(100 * mean).toFixed(1)} %`.padStart(7),
              ink.spectral ? 'measured' : '',
            ].join('  ');
          }),
          ...(facts.missingFonts.length > 0 ? [`Fonts not embedded: ${facts.missingFonts.join(', ')}`] : []),
          '',
        ].join('\n'),
      );
      note(json, [...facts.warnings, ...warnings]);
    });
}

const keptOf = (ink: MeasuredInk) => ({ ink, facts: ink.conditions });
const listed = (names: readonly string[]) => names.map((n) => `“${n}”`).join(', ') || 'none';

/** Two names around an `=`; one inside a name is doubled. */
function asPair(text: string): Pair {
  const parts = text.split(/(?<!=)=(?!=)/).map((p) => p.replaceAll('==', '='));
  if (parts.length !== 2 || !parts[0] || !parts[1])
    throw new InvalidArgumentError('Use OLD=NEW; an “=” inside a name is written twice.');
  return [parts[0], parts[1]];
}

/** What a PDF is printed on, by a profile. */
async function intentOf(file: string): Promise<PdfChange> {
  const profile = await readWhole(file);
  const engine = await colorEngine();
  const { name, space } = named(file, () => {
    try {
      return engine.add(profile);
    } catch (error) {
      throw error instanceof ProfileError ? new FormatError(error.message) : error;
    }
  });
  if (space !== 'cmyk') throw new FormatError(`${file}: it is not the profile of a press.`);
  return { do: 'intent', name, profile };
}

function asNames(text: string): string[] {
  const names = text.split(',').map((n) => n.trim());
  if (names.some((n) => n === '')) throw new InvalidArgumentError('Use NAME,NAME,NAME.');
  return names;
}
