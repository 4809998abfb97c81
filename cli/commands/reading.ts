import type { Command } from 'commander';
import {
  type Compared,
  compareInks,
  conditionText,
  figuresOf,
  type InkFigures,
  inksOf,
  type MeasuredInk,
  missingForX4,
  READING_FORMS,
  type ReadingData,
  readMeasurements,
  toleranceOf,
  writeReport,
} from '../../core/reading/index.ts';
import { ILLUMINANTS, type Illuminant, type Observer } from '../../core/spectral/index.ts';
import { FormatError } from '../../core/text/error.ts';
import { lastPart } from '../../core/text/names.ts';
import { oneOf, wrongUsage } from '../args.ts';
import { localServices } from '../engine.ts';
import { readChecked, readInput, STREAM, write } from '../files.ts';
import type { Shell } from '../shell.ts';

interface Given {
  compare?: string;
  light: Illuminant;
  observer: Observer;
  report?: string;
  to?: string;
  out?: string;
  json?: boolean;
}

const upper = (text: string) => text.trim().toUpperCase();
const formNames = READING_FORMS.map((f) => f.id).join(', ');

/** The command `reading`: measured inks in figures. */
export function addReading(program: Command, { streams, print, note }: Shell): void {
  program
    .command('reading')
    .description('read measured inks: Lab, spot colour tone value, density and opacity of every step')
    .argument(
      '<file...>',
      'files of measurements with spectra: CGATS, CxF or CSV; several for one ink are put together',
    )
    .option('--compare <file>', 'how far each step is from that of another measurement')
    .option(
      '--light <name>',
      `under another light: ${ILLUMINANTS.join(', ')}`,
      oneOf(ILLUMINANTS, upper),
      'D50',
    )
    .option('--observer <degrees>', 'seen by the observer of 2 or 10 degrees', oneOf(['2', '10']), '2')
    .option('--report <file>', 'write a report of all inks as PDF')
    .option('--to <format>', `write the inks as ${formNames}, to --out or standard output`)
    .option('--out <file>', 'where --to goes')
    .option('--json', 'one JSON value')
    .action(async (paths: string[], { compare, light, observer, report, to, out, json }: Given) => {
      const form = to === undefined ? null : READING_FORMS.find((f) => f.id === to.toLowerCase());
      if (form === undefined) throw wrongUsage(`--to ${to} is not known. It is one of ${formNames}.`);
      if (out !== undefined && !form) throw wrongUsage('--out needs --to, which says what is written.');
      if (form && json && (out === undefined || out === STREAM))
        throw wrongUsage('--json and --to both go to standard output. Name a file with --out.');
      const read = async (path: string) => {
        const { name, bytes } = await readInput(path, streams, readChecked);
        return readMeasurements(bytes, name);
      };
      const { inks, warnings } = inksOf(await Promise.all(paths.map(read)));
      const other = compare ? inksOf([await read(compare)]) : null;
      const said = [...warnings, ...(other?.warnings ?? [])];
      const found = inks.map((ink) => {
        const twin = other?.inks.find((o) => o.name === ink.name);
        return {
          ink,
          figures: figuresOf(ink, light, observer),
          compared: twin ? compareInks(ink, twin, light, observer, toleranceOf(ink.conditions)) : null,
          twin,
        };
      });
      for (const { ink, compared } of found)
        if (other && !compared)
          said.push(
            `${compare} has no “${ink.name}”; it has ${other.inks.map((o) => `“${o.name}”`).join(', ')}.`,
          );
      const kept = (ink: MeasuredInk, from = paths): ReadingData => ({
        ink,
        facts: ink.conditions,
        from: from.map(lastPart).join(', '),
      });
      if (report !== undefined) {
        const { loadFont, condition } = await localServices();
        const bytes = await writeReport(
          found.map(({ ink, twin }) => ({
            ...kept(ink),
            ...(twin ? { against: kept(twin, [compare!]) } : {}),
          })),
          { loadFont, condition },
        );
        await write(report, bytes, streams);
      }
      if (form) {
        const [first, ...rest] = inks.map((ink) => kept(ink));
        if (form.id === 'cgats' && rest.length > 0)
          throw new FormatError(
            `${paths.join(', ')}: a CGATS file takes one ink, and here are ${inks.length}. Write CxF or CSV.`,
          );
        if (form.id === 'cxf')
          for (const ink of inks) {
            const missing = missingForX4(kept(ink));
            if (missing.length > 0) said.push(`CxF/X-4 of “${ink.name}” lacks: ${missing.join(', ')}.`);
          }
        if (first)
          await write(out ?? STREAM, form.write([first, ...rest], new Date().toISOString()), streams);
      }
      const isData = form && (out === undefined || out === STREAM);
      if (!isData)
        print(
          json,
          {
            inks: found.map(({ ink, figures, compared }) => ({
              name: ink.name,
              condition: conditionText(ink.conditions),
              light,
              observer: Number(observer),
              steps: figures.steps.map(({ step, xyz, lab, toneValue, density }) => ({
                percent: step.percent,
                backing: step.backing,
                xyz,
                lab,
                toneValue,
                density,
              })),
              ...(figures.opacity === null ? {} : { opacity: figures.opacity }),
              ...(compared ? { compared } : {}),
            })),
            warnings: said,
          },
          `${found.map((f) => described(f.ink, f.figures, f.compared)).join('\n')}`,
        );
      note(json, said);
    });
}

function described(ink: MeasuredInk, { steps, opacity }: InkFigures, compared: Compared[] | null): string {
  const condition = conditionText(ink.conditions);
  const band = steps[0]?.density.band;
  const head = `${ink.name}${condition ? ` (${condition})` : ''}\n`;
  const columns = `    %  over        L*      a*      b*  tone value  density at ${band} nm${compared ? '   ΔE00' : ''}\n`;
  const lines = steps.map(({ step, lab, toneValue, density }) => {
    const twin = compared?.find((c) => c.percent === step.percent && c.backing === step.backing);
    return [
      String(Number(step.percent.toFixed(2))).padStart(5),
      `  ${step.backing}`,
      ...lab.map((v) => v.toFixed(2).padStart(8)),
      (toneValue === null ? '–' : toneValue.toFixed(1)).padStart(12),
      density.value.toFixed(2).padStart(19),
      ...(compared ? [(twin ? twin.deltaE00.toFixed(2) : '–').padStart(7)] : []),
    ].join('');
  });
  return `${head}${columns}${lines.join('\n')}\n${opacity === null ? '' : `Opacity ${opacity.toFixed(2)}\n`}`;
}
