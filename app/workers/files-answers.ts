import { nanoid } from 'nanoid';
import { conditionOf, deviceOf, USUAL_CONDITION, usualInkLimit } from '#core/color/index';
import {
  changesOf,
  fileName,
  formatById,
  isZip,
  makeKit,
  type Opened,
  pack,
  partsOf,
  type ReportRow,
  richerThan,
  type Services,
  shownReport,
  type Typesetting,
  takeIn,
  tooLarge,
  writeAs,
} from '#core/formats/index';
import { roundTrip } from '#core/formats/round-trip';
import type { PdfChange } from '#core/pdf/change';
import { pictureType } from '#core/picture/sniff';
import {
  inksOf,
  NoSpectraError,
  READING_FORMS,
  readMeasurements,
  writeCxf,
  writeReport,
} from '#core/reading/index';
import { allSwatches, type Library } from '#core/swatch/model';
import type { Colors } from '~/colors/colors';
import {
  type Came,
  type FileQueries,
  type ReadLibrary,
  ROWS_AT_ONCE,
  type WrittenFile,
} from '~/messages/files-messages';
import { Held } from './held';
import type { Answers } from './worker-client';

const newId = () => nanoid(12);
/** The page scrolls in the newest; others may be on their way to it. */
const MAX_REPORTS = 3;
const MAX_ARCHIVE_BYTES = 256 * 1024 * 1024;

const travelling = ({ format, ...read }: Opened): ReadLibrary => ({ format: format.id, ...read });

/** What the files worker does. @param services of the place it runs in */
export const fileAnswers = (
  typesetting: Typesetting,
  colors: Pick<Colors, 'condition' | 'bring' | 'bytesOf'>,
  fetched: Pick<Services, 'artwork' | 'pictures'> = {},
): Answers<FileQueries> => {
  const servicesFor = async (library: Library): Promise<Services> => ({
    ...typesetting,
    ...fetched,
    now: new Date().toISOString(),
    under: (profile) =>
      colors.condition({ ...conditionOf(library), profile, inkLimit: usualInkLimit(profile) }),
    usual: () => colors.condition(USUAL_CONDITION, []),
    profile: (hash) => colors.bytesOf(hash),
    condition: await colors.condition(
      conditionOf(library),
      allSwatches(library).map((s) => s.color),
    ),
  });
  const withChanges = async (
    file: Blob,
    changes: readonly PdfChange[],
    stage: (text: string) => void,
    breathe: () => Promise<void>,
  ) => {
    stage('Reading the inks');
    const { changedPdf } = await import('#core/pdf/changes');
    const bytes = new Uint8Array(await file.arrayBuffer());
    const condition = await colors.condition(conditionOf({}), []);
    const now = new Date().toISOString();
    return { ...(await changedPdf(bytes, changes, condition, now, breathe)), condition };
  };
  const held = new Held();
  const reports = new Map<string, ReportRow[]>();
  return {
    async read({ files, text, chips = {} }, { stage, breathe }) {
      const came: Came[] = [];
      const unpacked = { entries: 0, bytes: 0 };
      for (const [i, { file, path }] of files.entries()) {
        await breathe();
        if (files.length > 1) stage(`Reading ${i + 1} of ${files.length}: ${path}`);
        const problem = (why: string) => came.push({ kind: 'problem', path, message: `${path}: ${why}` });
        try {
          const head = new Uint8Array(await file.slice(0, 200).arrayBuffer());
          if (pictureType(head, file.size)) {
            came.push({ kind: 'picture', path, file });
            continue;
          }
          const large = !isZip(head)
            ? tooLarge(head, file.size)
            : file.size > MAX_ARCHIVE_BYTES
              ? `the archive has ${Math.round(file.size / 1e6)} MB; unpack it and drop the files that matter.`
              : null;
          if (large) {
            problem(large);
            continue;
          }
          const bytes = new Uint8Array(await file.arrayBuffer());
          const device = deviceOf(bytes);
          if (device) {
            problem(
              `it is the ICC profile of ${device}. Add those of presses on the page of print profiles, where print conditions are chosen.`,
            );
            continue;
          }
          for await (const found of takeIn(
            bytes,
            path,
            newId,
            (of) => ({ text, ...(chips[of] === undefined ? {} : { chips: chips[of] }) }),
            unpacked,
          )) {
            if (found.kind === 'swatches')
              came.push({ kind: 'swatches', path: found.path, read: travelling(found.opened) });
            else if (found.kind === 'picture' || found.kind === 'drawing')
              came.push({ ...found, file: new Blob([found.bytes as Uint8Array<ArrayBuffer>]) });
            else if (found.kind === 'problem') {
              const { sound, ...told } = found;
              came.push({ ...told, ...(sound ? { sound: travelling(sound) } : {}) });
            } else came.push(found);
          }
        } catch {
          // a file that went away under our hands
          problem('it cannot be read. Is it still there?');
        }
      }
      const read = came.filter((c) => c.kind === 'swatches');
      if (read.length < 2) return came;
      const [{ read: first }] = read as [(typeof read)[0]];
      await colors.bring(read.flatMap((c) => c.read.profiles ?? []));
      const condition = await colors.condition(
        conditionOf(first.library),
        read.flatMap((c) => allSwatches(c.read.library).map((s) => s.color)),
      );
      richerThan(
        read.map((c) => c.read),
        condition,
      ).forEach((rich, i) => {
        if (rich !== null) read[i]!.richer = read[rich]!.path;
      });
      return came;
    },

    async measure({ files, ramps }, { stage, breathe }) {
      const read: Awaited<ReturnType<typeof readMeasurements>>[] = [];
      const others: number[] = [];
      for (const [i, { file, path }] of files.entries()) {
        await breathe();
        if (files.length > 1) stage(`Reading ${i + 1} of ${files.length}: ${path}`);
        const head = new Uint8Array(await file.slice(0, 200).arrayBuffer());
        // pictures and archives are for whoever opens those
        if (pictureType(head, file.size) || isZip(head) || tooLarge(head, file.size)) others.push(i);
        else
          try {
            read.push(await readMeasurements(new Uint8Array(await file.arrayBuffer()), path));
          } catch (error) {
            if (!(error instanceof NoSpectraError)) throw error;
            others.push(i);
          }
      }
      return { ...inksOf(read, ramps), others };
    },

    async inks({ file, changes }, { stage, breathe }) {
      const { pdf, condition, isChanged, warnings } = await withChanges(file, changes, stage, breathe);
      const { pages, passed } = await pdf.coverage(condition, async (done, of) => {
        stage(`Counting the inks of page ${done + 1} of ${of}`);
        await breathe();
      });
      return {
        facts: { ...pdf.facts(), warnings: [...pdf.facts().warnings, ...warnings] },
        inks: pdf
          .inks(condition)
          .map((ink) => ({ ...ink, coverage: pages.map((p) => p.get(ink.name) ?? 0) })),
        passed,
        changed: isChanged ? new Blob([await pdf.save()], { type: 'application/pdf' }) : null,
      };
    },

    async inksFile({ file, name, changes, as }, { stage, breathe }) {
      const { pdf, condition } = await withChanges(file, changes, stage, breathe);
      if (as === 'pdf' || as === 'fresh')
        return {
          name: fileName(name, 'pdf'),
          bytes: await pdf.save(as === 'fresh'),
          mime: 'application/pdf',
        };
      if (as === 'profile') {
        const profile = pdf.profile();
        if (!profile) throw new Error('the output intent of this PDF has no profile.');
        return {
          name: fileName(name, 'icc'),
          bytes: profile.slice() as Uint8Array<ArrayBuffer>,
          mime: 'application/vnd.iccprofile',
        };
      }
      const read = await Promise.all(
        pdf.inks(condition).map(async (ink) => {
          const cxf = pdf.measurement(ink.name);
          return cxf ? inksOf([await readMeasurements(cxf, ink.name)]).inks : [];
        }),
      );
      const measured = read.flat();
      if (measured.length === 0) throw new Error('no measurement travels with the inks of this PDF.');
      const bytes = writeCxf(
        measured.map((ink) => ({ ink, facts: ink.conditions })),
        new Date().toISOString(),
      );
      return { name: fileName(name, 'cxf'), bytes, mime: 'application/xml' };
    },

    async readingFile({ readings, form, setting }) {
      const name = readings.map((r) => r.ink.name).join(', ');
      if (form === 'report') {
        const condition = await colors.condition(setting, []);
        const bytes = await writeReport(readings, { loadFont: typesetting.loadFont, condition });
        return { name: fileName(name, 'pdf'), bytes, mime: 'application/pdf' };
      }
      const { ending, mime, write } = READING_FORMS.find((f) => f.id === form)!;
      const [first, ...rest] = readings;
      if (!first) throw new Error('open a measured ink first.');
      return { name: fileName(name, ending), bytes: write([first, ...rest], new Date().toISOString()), mime };
    },

    ...held.answers,

    async changes({ choice, profiles }) {
      // another library may arrive while this one is compared
      const library = held.whole;
      await colors.bring(profiles);
      const services = await servicesFor(library);
      const { head, rows } = shownReport(await changesOf(library, choice, services), services.condition);
      const report = newId();
      reports.set(report, rows);
      const [oldest] = reports.keys();
      if (reports.size > MAX_REPORTS) reports.delete(oldest!);
      return { report, head, rows: rows.slice(0, ROWS_AT_ONCE) };
    },

    rows: ({ report, from }) => reports.get(report)?.slice(from, from + ROWS_AT_ONCE) ?? null,

    async write({ library, choice }) {
      const files = await written(library, choice, await servicesFor(library));
      return together(library.name, files);
    },

    async kit({ library, choices, revision, takenAt }, { stage, breathe }) {
      return makeKit(
        library,
        choices,
        { revision, takenAt },
        await servicesFor(library),
        async (done, of, path) => {
          stage(`${done + 1} of ${of}: ${path}`);
          await breathe();
        },
      );
    },

    async comeBack({ base, choice, path, returned }) {
      const format = formatById(choice.format);
      const parts = partsOf(base, format, choice.perGroup);
      // one of several files is known by its name
      const part = parts.find((p) => fileName(p.name, format.endings[0]) === path) ?? parts[0] ?? base;
      return roundTrip(part, choice, returned, await servicesFor(base));
    },

    async convert({ libraries, formats, profiles }, { stage, breathe }) {
      await colors.bring(profiles);
      const files: WrittenFile[] = [];
      for (const [i, library] of libraries.entries())
        for (const choice of formats) {
          await breathe();
          stage(`${i + 1} of ${libraries.length}: ${library.name}, ${formatById(choice.format).name}`);
          for (const file of await written(library, choice, await servicesFor(library))) {
            // many formats make a crowd: each has a folder then
            const folder = formats.length > 1 ? `${formatById(choice.format).name}/` : '';
            files.push({ ...file, name: folder + file.name });
          }
        }
      return together('converted', files);
    },
  };
};

async function written(
  library: Library,
  { format: id, perGroup, options }: FileQueries['write']['ask']['choice'],
  services: Services,
): Promise<WrittenFile[]> {
  const format = formatById(id);
  const files: WrittenFile[] = [];
  for (const part of partsOf(library, format, perGroup))
    files.push({
      name: fileName(part.name, format.endings[0]),
      bytes: await writeAs(format, part, services, options),
      mime: format.mime,
    });
  return files;
}

/** One file as it is, several as a zip. */
const together = (name: string, files: WrittenFile[]): WrittenFile =>
  files.length === 1 ? files[0]! : zipOf(name, files);

const zipOf = (name: string, files: WrittenFile[]): WrittenFile => ({
  name: fileName(name, 'zip'),
  bytes: pack(files.map((f) => ({ path: f.name, bytes: f.bytes }))),
  mime: 'application/zip',
});
