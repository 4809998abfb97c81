import { type Command, InvalidArgumentError } from 'commander';
import {
  type BoardSources,
  boardPdf,
  boardSvg,
  fontCss,
  layOut,
  omittedText,
  outlinesOf,
  textsOf,
} from '../../core/board/index.ts';
import { FormatError } from '../../core/formats/index.ts';
import {
  allSwatches,
  type Board,
  type BoardObject,
  boardsOf,
  countingIds,
  emptyBoard,
  isLoose,
  LAYOUTS,
  type LayoutId,
  type Library,
  layoutIds,
  MAX_OBJECTS,
  MAX_WEIGHT,
  PAGE_SIZES,
  type PageSizeId,
  pageSizeIds,
  pageText,
} from '../../core/swatch/index.ts';
import { asNumber, oneOf, wrongUsage } from '../args.ts';
import { pictureOf } from '../drawing.ts';
import { conditionHere, localServices } from '../engine.ts';
import { STREAM, write } from '../files.ts';
import { libraryNamed } from '../libraries.ts';
import type { Shell } from '../shell.ts';

const ENDINGS = ['pdf', 'png', 'svg'] as const;

interface Given {
  board?: string;
  group?: string;
  layout?: LayoutId;
  page?: PageSizeId;
  landscape?: boolean;
  weight: [name: string, weight: number][];
  number?: number;
  dpi: number;
  bleed?: boolean;
  marks?: boolean;
  x4?: boolean;
  json?: boolean;
}

/** `board`: colours on a page that lays itself out, as PDF, PNG or SVG. */
export function addBoard(program: Command, { streams, report }: Shell): void {
  program
    .command('board')
    .description('colours on a page that lays itself out')
    .argument('<library>', 'a swatch file, or a book by its name')
    .argument('<out>', 'a PDF with separations, a PNG or an SVG, by its ending')
    .option('--board <name>', 'a board that the file has')
    .option('--group <name>', 'a board of this group')
    .option('--layout <id>', `how it lays itself out: ${layoutIds.join(', ')}`, oneOf(layoutIds))
    .option('--page <size>', `the paper: ${pageSizeIds.join(', ')}`, asPage)
    .option('--landscape', 'wider than high')
    .option(
      '--weight <swatch=n>',
      `how much of the page a swatch takes, 1–${MAX_WEIGHT} (repeatable)`,
      asWeight,
      [],
    )
    .option('--number <n>', 'of an SVG or PNG, which of several pages', asNumber({ min: 1, whole: true }), 1)
    .option('--dpi <n>', 'of a PNG, pixels an inch', asNumber({ min: 10, max: 2400 }), 150)
    .option('--bleed', 'of a PDF, 3 mm around what is cut')
    .option('--marks', 'of a PDF, marks where it is cut')
    .option('--x4', 'a PDF/X-4, with the profile it is printed on')
    .option('--json', 'one JSON value')
    .action(async (place: string, out: string, given: Given) => {
      const ending =
        ENDINGS.find((e) => out.toLowerCase().endsWith(`.${e}`)) ?? (out === STREAM ? 'svg' : null);
      if (!ending) throw wrongUsage(`the ending of ${out} is none of .pdf, .png and .svg`);
      if (given.board !== undefined && given.group !== undefined)
        throw wrongUsage('--board and --group cannot be combined');
      const library = await libraryNamed(place);
      const on = await conditionHere(library);
      const board = boardIn(library, given, place);
      const sources: BoardSources = { library, condition: on, pictures: [] };
      const laid = layOut(board, sources);
      const { pages, ground, printsGround, missing } = laid;
      const tooMany = omittedText(laid);
      const warnings = [
        ...(tooMany ? [tooMany] : []),
        ...missing.map(({ name }) => `“${name}” is not in the library any more; it is left out.`),
        ...(pages.some((p) => p.marks.some((m) => m.is === 'work'))
          ? ['Artwork is not in the file; its places are left empty.']
          : []),
      ];
      const title = board.name;
      const services = await localServices(library);
      if (ending === 'pdf') {
        const parts = { pictures: new Map(), works: new Map() };
        const { bleed = false, marks = false, x4 = false } = given;
        const made = await boardPdf(pages, {
          ...{ library, title, parts, services, bleed, marks, x4 },
          ground: printsGround ? ground : null,
        });
        warnings.push(...made.warnings);
        await write(out, made.bytes, streams);
      } else {
        const number = given.number ?? 1;
        const page = pages[number - 1];
        if (!page)
          throw wrongUsage(`the board has ${pages.length} pages; --number ${number} is none of them`);
        if (pages.length > 1) warnings.push(`Page ${number} of ${pages.length}; --number takes another.`);
        const drawing = { library, condition: on, ground, title, pictures: new Map(), works: new Map() };
        const { loadFont } = services;
        if (ending === 'svg') {
          const css = await fontCss(
            loadFont,
            async (bytes) => `data:font/woff;base64,${Buffer.from(bytes).toString('base64')}`,
          );
          await write(out, new TextEncoder().encode(boardSvg(page, { ...drawing, fontCss: css })), streams);
        } else {
          const svg = boardSvg(page, { ...drawing, outline: await outlinesOf(loadFont, textsOf([page])) });
          await write(out, await pictureOf(svg, { ...page, unit: 'mm' }, given.dpi), streams);
        }
      }
      const { width, height } = pages[0]!;
      const found = {
        board: title,
        layout: board.data.layout,
        page: { width, height, unit: 'mm' },
        pages: pages.length,
        colors: new Set(pages.flatMap((p) => p.marks.flatMap((m) => (m.is === 'area' ? [m.swatch] : []))))
          .size,
        warnings,
      };
      const said = [
        `${title} · ${LAYOUTS[board.data.layout].label} · ${pageText(board.data.page)} · ${found.pages} ${found.pages === 1 ? 'page' : 'pages'}`,
        ...warnings.map((w) => `Note: ${w}`),
        '',
      ].join('\n');
      report(out, given.json, found, said);
    });
}

/** The board that is asked for: one of the file, or one of a group or all of it. @throws FormatError that says what there is */
function boardIn(
  library: Library,
  { board: name, group: groupName, layout, page, landscape, weight }: Given,
  file: string,
): Board {
  const newId = countingIds('board-');
  const listed = (names: string[]) => names.map((n) => `“${n}”`).join(', ');
  let board: Board;
  if (name !== undefined) {
    const known = boardsOf(library);
    const found = known.find((b) => b.name === name);
    if (!found)
      throw new FormatError(
        known.length > 0
          ? `${file} has no board “${name}”. It has ${listed(known.map((b) => b.name))}.`
          : `${file} has no boards. Give --group, or leave both out for all of it.`,
      );
    board = found;
  } else {
    const groups = library.groups.filter(
      (g) => g.swatches.length > 0 && (groupName === undefined || g.name === groupName),
    );
    if (groups.length === 0)
      throw new FormatError(
        groupName === undefined
          ? `${file} has no swatches.`
          : `${file} has no group “${groupName}”. It has ${listed(library.groups.flatMap((g) => g.name || []))}.`,
      );
    const count = groups.reduce((n, g) => n + g.swatches.length, 0);
    if (count > MAX_OBJECTS)
      throw new FormatError(
        `${file} has ${count} swatches; a board shows up to ${MAX_OBJECTS}. Give a --group.`,
      );
    const weights = new Map(weight);
    // a swatch with a weight of its own stands for itself
    const objects = groups.flatMap((g): BoardObject[] => {
      const own = g.swatches.some((s) => weights.has(s.name));
      const plain = { id: newId(), weight: 1 };
      if (!own) return [{ ...plain, of: 'group', refs: [g.id], name: isLoose(library, g) ? '' : g.name }];
      return g.swatches.map((s) => ({
        ...{ id: newId(), of: 'swatch' as const, refs: [s.id], name: s.name },
        weight: weights.get(s.name) ?? 1,
      }));
    });
    board = emptyBoard(newId(), groupName ?? library.name, objects);
  }
  const swatches = new Map(allSwatches(library).map((s) => [s.id, s]));
  const strange = weight.find(([n]) => ![...swatches.values()].some((s) => s.name === n));
  if (strange) throw new FormatError(`${file} has no swatch “${strange[0]}”, which --weight names.`);
  const weights = new Map(weight);
  const { data } = board;
  return {
    ...board,
    data: {
      ...data,
      ...(layout ? { layout } : {}),
      page: {
        ...data.page,
        ...(page ? { size: page } : {}),
        ...(landscape ? { landscape } : name === undefined ? { landscape: false } : {}),
      },
      objects: data.objects.map((o) => {
        const own = o.of === 'swatch' ? weights.get(swatches.get(o.refs[0] ?? '')?.name ?? '') : undefined;
        return own === undefined ? o : { ...o, weight: own };
      }),
    },
  };
}

const asPage = (text: string): PageSizeId => {
  const id = pageSizeIds.find(
    (p) => p === text.toLowerCase() || PAGE_SIZES[p].label.toLowerCase() === text.toLowerCase(),
  );
  if (!id) throw new InvalidArgumentError(`It is one of ${pageSizeIds.join(', ')}.`);
  return id;
};
const asWeight = (text: string, before: [string, number][]): [string, number][] => {
  const [, name = '', n = ''] = /^(.*)=(\d+)$/.exec(text) ?? [];
  const weight = Number(n);
  if (!name || weight < 1 || weight > MAX_WEIGHT)
    throw new InvalidArgumentError(`It is a name, = and a whole number from 1 to ${MAX_WEIGHT}.`);
  return [...before, [name, weight]];
};
