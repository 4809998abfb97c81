import { createHash } from 'node:crypto';
import { promisify } from 'node:util';
import { gzip } from 'node:zlib';
import { shownWork } from '../core/artwork/kit.ts';
import { boardSvg, layOut, workKey } from '../core/board/index.ts';
import { type Condition, conditionOf, notations, toHex } from '../core/color/index.ts';
import type { FormatFacts } from '../core/formats/format.ts';
import { writableFacts } from '../core/formats/plan.ts';
import { allows, type Level } from '../core/level.ts';
import { libraryPicture } from '../core/picture/take.ts';
import {
  allSwatches,
  artworksOf,
  boardsOf,
  type Comment,
  type CommentMark,
  choicesIn,
  colorwaysOf,
  type Item,
  isBoard,
  isColorway,
  isLoose,
  type Library,
  type Swatch,
  swatchIndex,
  threadsOf,
} from '../core/swatch/index.ts';
import { FormatError } from '../core/text/error.ts';
import { readArtworkBytes } from './artworks.ts';
import { asksHere } from './comments.ts';
import { conditionFor } from './conditions.ts';
import type { Db } from './db.ts';
import { readLibrary } from './libraries.ts';
import type { OpenLink, PageLink } from './links.ts';
import { listPictures } from './pictures.ts';

/** A swatch as whoever has a link sees it. */
export interface SharedSwatch {
  id: string;
  name: string;
  /** What stands below the name: number and kind. */
  about: string;
  hex: string;
  /** Label and text of each notation, the most asked for first. */
  values: [label: string, text: string][];
}

/** A comment as whoever has a link sees it. */
export interface ShownComment {
  id: string;
  /** Who wrote it, under a mark that nobody can act by. */
  by: string;
  author: string;
  at: number;
  text: string;
  mark: CommentMark | null;
}

/** A comment with its answers. */
export interface ShownThread extends ShownComment {
  /** The id of what it is on. */
  on: string;
  isResolved: boolean;
  answers: ShownComment[];
}

/** Something that can be picked, as whoever has a link sees it. */
export interface ShownOption {
  id: string;
  name: string;
  /** Of a swatch. */
  hex: string | null;
  /** Of a colourway: the address of its drawing. */
  work: string | null;
  /** Of a board: its first page as SVG. */
  svg: string | null;
}

/** A choice as whoever has a link sees it. */
export interface ShownChoice {
  id: string;
  question: string;
  author: string;
  closed: boolean;
  options: ShownOption[];
  /** What each has picked, under the marks of their authors. */
  picks: { by: string; option: string }[];
}

/** What a link shows. */
export interface SharedView {
  /** Another whenever something else is shown. */
  version: string;
  title: string;
  /** The library that a board is from. */
  from: string | null;
  /** To whom the link was given, and what it allows. */
  name: string;
  access: Level;
  /** The library, which may be opened where editing is allowed; null elsewhere. */
  library: string | null;
  /** The board that is shown; null for a library. */
  board: string | null;
  /** Null where the link takes none. */
  threads: ShownThread[] | null;
  /** Those that are asked of whoever has the link, the latest first. */
  choices: ShownChoice[];
  /** ISO 8601. */
  changedAt: string;
  condition: string;
  groups: { name: string; swatches: SharedSwatch[] }[];
  /** The swatch that is looked at first. */
  first: string | null;
  /** Swatches of the library that are not among these. */
  left: number;
  /** Swatches that the page has still to ask for. */
  later: number;
  /** The pages of the board as SVG, and their proportion. */
  pages: { svg: string; ratio: number }[] | null;
  downloads: { format: string; name: string; about: string }[];
}

/** What the page of a link has at most of a library; the files have all of it. */
export const MAX_SHOWN = 3000;
/** Swatches that are read before others have their turn. */
const AT_ONCE = 100;
/** The notations of the page, in its order. */
const SHOWN = ['lab', 'hex', 'rgb', 'cmyk', 'lch', 'oklch'];

const swatchOf = (swatch: Swatch, condition: Condition): SharedSwatch => {
  const known = new Map(
    notations(swatch.color, condition).map(({ id, label, text }) => [id as string, [label, text]]),
  );
  return {
    ...{ id: swatch.id, name: swatch.name || toHex(swatch.color, condition).toUpperCase() },
    about: [swatch.code, swatch.kind === 'process' ? '' : swatch.kind, swatch.role]
      .filter(Boolean)
      .join(' · '),
    hex: toHex(swatch.color, condition),
    values: SHOWN.flatMap((id) => {
      const value = known.get(id);
      return value ? [value as [string, string]] : [];
    }),
  };
};

/**
 * A part of a library to be given away: these swatches, and of all else only what is named here. The library's note, and items that
 * belong to no swatch of it, stay behind.
 */
export function partToShare(
  library: Library,
  ids: ReadonlySet<string>,
  items: readonly Item[],
  name: string,
): Library {
  const groups = library.groups
    .map(({ id, name, swatches }) => ({ id, name, swatches: swatches.filter((s) => ids.has(s.id)) }))
    .filter((g) => g.swatches.length > 0);
  const { id, condition } = library;
  return { id, name, ...(condition ? { condition } : {}), groups, items: [...items] };
}

/** What a link gives of its library: all of it, or what is on its board. Null when the board is gone. */
function partOf(library: Library, { board: id }: PageLink): Library | null {
  if (id === null) return library;
  const board = boardsOf(library).find((b) => b.id === id);
  if (!board) return null;
  const refs = new Set(board.data.objects.flatMap((o) => o.refs));
  const items = (library.items ?? []).filter((i) => refs.has(i.id));
  for (const ref of items.flatMap((i) => i.refs ?? [])) refs.add(ref);
  const shown = library.groups.flatMap((g) => g.swatches.filter((s) => refs.has(s.id) || refs.has(g.id)));
  return partToShare(library, new Set(shown.map((s) => s.id)), [board, ...items], board.name);
}

/** What a download of a link holds; null when its board is gone. */
export async function sharedLibrary(db: Db, link: OpenLink<PageLink>): Promise<Library | null> {
  const library = await readLibrary(db, link.library.id);
  return library && partOf(library, link.data);
}

/** The formats that a link allows. */
export const allowedFormats = ({ formats }: PageLink): FormatFacts[] =>
  writableFacts.filter((f) => formats === null || formats.includes(f.id));

/** What was shown lately, by address and version: many who look at one link see the same. */
const views = new Map<string, Promise<SharedView | null>>();
const MAX_VIEWS = 50;

/** What the page of a link shows; null when its board is not there any more. @param base the address of the link */
export function sharedView(db: Db, link: OpenLink<PageLink>, base: string): Promise<SharedView | null> {
  const key = `${base} ${link.id} ${link.version}`;
  const known = views.get(key);
  const view = known ?? viewOf(db, link, base);
  views.delete(key);
  views.set(key, view);
  if (known === undefined) view.catch(() => views.delete(key));
  for (const oldest of views.keys()) {
    if (views.size <= MAX_VIEWS) break;
    views.delete(oldest);
  }
  return view;
}

/** The most swatches that a page of a link begins with; it asks for the others itself, so that many who look at a large library keep nobody waiting. */
const MAX_FIRST = 240;

/** What a page begins with. */
export function beginningOf(view: SharedView): SharedView {
  let room = MAX_FIRST;
  const groups = view.groups.flatMap(({ name, swatches }) => {
    const shown = swatches.slice(0, room);
    room -= shown.length;
    return shown.length > 0 ? [{ name, swatches: shown }] : [];
  });
  const all = (of: SharedView['groups']) => of.reduce((n, g) => n + g.swatches.length, 0);
  return { ...view, groups, later: all(view.groups) - all(groups) };
}

/** A view as JSON, plain and packed, made once for all who ask. */
const texts = new WeakMap<SharedView, { plain: Buffer; packed: Promise<Buffer> }>();
export async function viewBytes(view: SharedView, asPacked: boolean): Promise<Buffer> {
  const known = texts.get(view);
  if (known) return asPacked ? known.packed : known.plain;
  const plain = Buffer.from(JSON.stringify(view));
  const packed = promisify(gzip)(plain);
  texts.set(view, { plain, packed });
  return asPacked ? packed : plain;
}

async function viewOf(db: Db, link: OpenLink<PageLink>, base: string): Promise<SharedView | null> {
  const whole = await readLibrary(db, link.library.id);
  const part = whole && partOf(whole, link.data);
  if (!whole || !part) return null;
  const condition = await conditionFor(
    db,
    conditionOf(whole),
    allSwatches(whole).map((s) => s.color),
  );
  let room = MAX_SHOWN;
  const groups: SharedView['groups'] = [];
  for (const g of part.groups) {
    const shown = g.swatches.slice(0, room);
    room -= shown.length;
    if (shown.length === 0) continue;
    const swatches: SharedSwatch[] = [];
    for (const swatch of shown) {
      swatches.push(swatchOf(swatch, condition));
      // thousands of conversions keep nobody else waiting
      if (swatches.length % AT_ONCE === 0) await new Promise((resolve) => setImmediate(resolve));
    }
    groups.push({ name: isLoose(whole, g) ? '' : g.name, swatches });
  }
  const { data, library } = link;
  return {
    ...{ version: link.version, title: part.name, name: data.name, condition: condition.name, groups },
    first: firstOf(whole, part, data.board),
    access: data.access,
    board: data.board,
    library: allows(data.access, 'edit') ? library.id : null,
    threads: allows(data.access, 'comment')
      ? threadsShown(
          whole,
          new Set([...groups.flatMap((g) => g.swatches.map((s) => s.id)), data.board ?? '']),
        )
      : null,
    choices: allows(data.access, 'comment') ? await choicesShown(db, link, whole, condition, base) : [],
    from: data.board === null ? null : library.name,
    changedAt: library.changedAt.toISOString(),
    left: allSwatches(part).length - (MAX_SHOWN - room),
    later: 0,
    pages: data.board === null ? null : await pagesOf(db, whole, data.board, condition, base),
    downloads: allowedFormats(data).map(({ id, name, about }) => ({ format: id, name, about })),
  };
}

/** A mark of an author that is the same everywhere and tells nobody their id. */
export const authorMark = (by: string) =>
  createHash('sha256').update(`author ${by}`).digest('base64url').slice(0, 10);

const shownComment = ({ id, data: { by, author, at, text, mark } }: Comment): ShownComment => ({
  ...{ id, by: authorMark(by), author, at, text, mark: mark ?? null },
});

/** The choices that lie in what a link shows. */
async function choicesShown(
  db: Db,
  link: OpenLink<PageLink>,
  library: Library,
  condition: Condition,
  base: string,
): Promise<ShownChoice[]> {
  const index = swatchIndex(library);
  const option = async (id: string): Promise<ShownOption> => {
    const nothing = { id, name: 'deleted', hex: null, work: null, svg: null };
    const swatch = index.get(id)?.swatch;
    if (swatch) return { ...nothing, name: swatch.name, hex: toHex(swatch.color, condition) };
    const item = library.items?.find((i) => i.id === id);
    if (!item) return nothing;
    const named = { ...nothing, name: item.name || item.kind };
    if (isColorway(item)) return { ...named, work: `${base}/works/${item.data.artwork}?colorway=${id}` };
    if (isBoard(item))
      return { ...named, svg: (await pagesOf(db, library, id, condition, base))[0]?.svg ?? null };
    return named;
  };
  const shown: ShownChoice[] = [];
  for (const { choice, picks } of choicesIn(library)) {
    if (!(await asksHere(db, link, choice))) continue;
    shown.push({
      ...{
        id: choice.id,
        question: choice.name,
        author: choice.data.author,
        closed: choice.data.closed === true,
      },
      options: await Promise.all(choice.refs.map(option)),
      picks: picks.map(({ data }) => ({ by: authorMark(data.by), option: data.option })),
    });
  }
  return shown;
}

/** The threads on what a page shows, the oldest first. */
function threadsShown(library: Library, shown: ReadonlySet<string>): ShownThread[] {
  return [...threadsOf(library)].flatMap(([on, threads]) =>
    shown.has(on)
      ? threads.map(({ first, answers, isResolved }) => ({
          ...shownComment(first),
          ...{ on, isResolved, answers: answers.map(shownComment) },
        }))
      : [],
  );
}

/** Of a board the first swatch in its order, else the first there is. */
function firstOf(library: Library, part: Library, id: string | null): string | null {
  const board = boardsOf(library).find((b) => b.id === id);
  const known = new Set(allSwatches(part).map((s) => s.id));
  const inOrder = board?.data.objects.flatMap((o) =>
    o.of === 'group'
      ? (part.groups.find((g) => g.id === o.refs[0])?.swatches.map((s) => s.id) ?? [])
      : o.refs,
  );
  return inOrder?.find((ref) => known.has(ref)) ?? allSwatches(part)[0]?.id ?? null;
}

async function pagesOf(db: Db, library: Library, id: string, condition: Condition, base: string) {
  const board = boardsOf(library).find((b) => b.id === id)!;
  const kept = await listPictures(db, library.id);
  const pictures = kept.map(libraryPicture);
  const { pages, ground } = layOut(board, { library, condition, pictures });
  const addressed = {
    pictures: new Map(kept.map((p) => [p.id, `${base}/pictures/${p.id}`])),
    works: new Map(
      pages.flatMap((p) =>
        p.marks.flatMap((m) =>
          m.is === 'work'
            ? [[workKey(m.work, m.colorway), `${base}/works/${m.work}?colorway=${m.colorway ?? ''}`] as const]
            : [],
        ),
      ),
    ),
  };
  return pages.map((page) => ({
    svg: boardSvg(page, {
      ...{ library, condition, ground, title: board.name, isPointedAt: true },
      ...addressed,
    }),
    ratio: page.width / page.height,
  }));
}

/** What the page of a link shows beside swatches: what lies on its boards, and the colourways it asks about. */
async function partsShown(db: Db, link: OpenLink<PageLink>, library: Library) {
  const asked = new Set<string>();
  for (const { choice } of allows(link.data.access, 'comment') ? choicesIn(library) : [])
    if (await asksHere(db, link, choice)) for (const ref of choice.refs) asked.add(ref);
  const isShown = (board: { id: string }) => board.id === link.data.board || asked.has(board.id);
  const objects = boardsOf(library).flatMap((b) => (isShown(b) ? b.data.objects.map((o) => o.refs) : []));
  return { asked, objects };
}

/** Whether the page of a link shows a kept picture, by its id. */
export async function showsPicture(db: Db, link: OpenLink<PageLink>, picture: string): Promise<boolean> {
  const library = await readLibrary(db, link.library.id);
  return (
    library !== null && (await partsShown(db, link, library)).objects.some((refs) => refs.includes(picture))
  );
}

/** A work that a link shows in this colourway, as SVG, empty for none; null when it does not, or it is not a drawing. */
export async function sharedWork(
  db: Db,
  link: OpenLink<PageLink>,
  work: string,
  colorway: string,
): Promise<string | null> {
  const library = await readLibrary(db, link.library.id);
  const item = library && artworksOf(library).find((a) => a.id === work);
  if (!library || !item) return null;
  const way = colorwaysOf(library, work).find((c) => c.id === colorway) ?? null;
  if (colorway !== '' && !way) return null;
  const { asked, objects } = await partsShown(db, link, library);
  const isShown =
    (way && asked.has(way.id)) ||
    objects.some(([first, second = '']) => first === work && second === colorway);
  const bytes = isShown && (await readArtworkBytes(db, item.data.asset));
  if (!bytes) return null;
  const condition = await conditionFor(
    db,
    conditionOf(library),
    allSwatches(library).map((s) => s.color),
  );
  try {
    return await shownWork(library, item, way, bytes, condition);
  } catch (error) {
    if (error instanceof FormatError) return null;
    throw error;
  }
}
