import type { Draft, Op } from './change.ts';
import { itemOps } from './item-ops.ts';
import type { Item, Library } from './model.ts';
import { MAX_MARGIN, MAX_SIDE, MIN_SIDE, type PageSetting, pageSizeIds } from './page.ts';
import type { LibraryRows } from './rows.ts';

export const BOARD = 'board';

/** How a board lays itself out. */
export const LAYOUTS = {
  blocks: { label: 'Blocks', about: 'areas in proportion, in order' },
  story: { label: 'Story', about: 'a picture, its colours, and what was made of them' },
  ledger: { label: 'Ledger', about: 'a line each, with its values in columns' },
  bands: { label: 'Bands', about: 'stripes as wide as the page' },
  chips: { label: 'Chips', about: 'flat chips, the label below' },
} as const;
export type LayoutId = keyof typeof LAYOUTS;
export const layoutIds = Object.keys(LAYOUTS) as LayoutId[];

/** What can stand with each colour. */
export const LABELS = {
  name: 'name',
  code: 'number or code',
  hex: 'hex',
  rgb: 'RGB',
  cmyk: 'CMYK',
  lab: 'Lab D50',
  lch: 'LCh',
  role: 'role',
  coverage: 'coverage',
  nearest: 'nearest in a book',
  contrast: 'contrast',
} as const;
export type LabelId = keyof typeof LABELS;
export const labelIds = Object.keys(LABELS) as LabelId[];

export const PAPERS = {
  white: 'white',
  condition: 'as printed',
  light: 'light surround',
  mid: 'mid surround',
  dark: 'dark surround',
} as const;
export type PaperId = keyof typeof PAPERS;
export const paperIds = Object.keys(PAPERS) as PaperId[];

/** What kinds of objects a board holds, and how many things of the library each refers to. */
export const OBJECTS = {
  swatch: { label: 'swatch', refs: 1 },
  group: { label: 'group', refs: 1 },
  ribbon: { label: 'ribbon', refs: 500 },
  pair: { label: 'pair', refs: 2 },
  gradient: { label: 'gradient', refs: 1 },
  picture: { label: 'picture', refs: 1 },
  work: { label: 'artwork', refs: 2 },
  reading: { label: 'reading', refs: 1 },
  text: { label: 'text', refs: 0 },
} as const;
export type ObjectKind = keyof typeof OBJECTS;

/** Something on a board. */
export interface BoardObject {
  id: string;
  of: ObjectKind;
  /** The swatches, the group, gradient, picture, reading, or artwork and colourway that it shows, by their ids. */
  refs: string[];
  /** What it was called last, for when it is gone; a text says it itself. */
  name: string;
  /** How much of the board it takes, 1–6. */
  weight: number;
  /** Exactly that part of the area, 0–1, in place of a weight. */
  share?: number;
  /** Labels of its own. */
  labels?: LabelId[];
}

export interface BoardData {
  layout: LayoutId;
  page: PageSetting;
  paper: PaperId;
  note: string;
  /** ISO 8601; empty where none is shown. */
  date: string;
  showsCondition: boolean;
  labels: LabelId[];
  objects: BoardObject[];
}

/** A page of colours that lays itself out. It shows what the library holds; what is deleted there is shown no more. */
export type Board = Item & { kind: typeof BOARD; data: BoardData };

export const MAX_OBJECTS = 500;
export const MAX_WEIGHT = 6;
export const USUAL_WEIGHT = 2;

const isText = (v: unknown, most: number): v is string => typeof v === 'string' && v.length <= most;
const areLabels = (v: unknown): boolean => Array.isArray(v) && v.every((l) => l in LABELS);
const within = (v: unknown, least: number, most: number): boolean =>
  typeof v === 'number' && v >= least && v <= most;

const isObject = (o: Partial<BoardObject> | null): boolean =>
  !!o &&
  isText(o.id, 64) &&
  typeof o.of === 'string' &&
  o.of in OBJECTS &&
  Array.isArray(o.refs) &&
  o.refs.length <= OBJECTS[o.of].refs &&
  o.refs.every((id) => isText(id, 64)) &&
  isText(o.name, 100_000) &&
  within(o.weight, 1, MAX_WEIGHT) &&
  (o.share === undefined || within(o.share, 0, 1)) &&
  (o.labels === undefined || areLabels(o.labels));

const isPage = (page: Partial<PageSetting> | undefined): boolean =>
  !!page &&
  (page.size === 'custom' || pageSizeIds.some((id) => id === page.size)) &&
  typeof page.landscape === 'boolean' &&
  within(page.margin, 0, MAX_MARGIN) &&
  [page.width, page.height].every((v) => v === undefined || within(v, MIN_SIDE, MAX_SIDE));

/** What may come from another program or version is looked into before it is laid out. */
export function isBoard(item: Item): item is Board {
  if (item.kind !== BOARD) return false;
  const d = (item.data ?? {}) as Partial<BoardData>;
  return (
    typeof d.layout === 'string' &&
    d.layout in LAYOUTS &&
    isPage(d.page) &&
    typeof d.paper === 'string' &&
    d.paper in PAPERS &&
    isText(d.note, 100_000) &&
    isText(d.date, 40) &&
    typeof d.showsCondition === 'boolean' &&
    areLabels(d.labels) &&
    Array.isArray(d.objects) &&
    d.objects.length <= MAX_OBJECTS &&
    d.objects.every(isObject)
  );
}

export const boardsOf = ({ items = [] }: Pick<Library, 'items'>): Board[] => items.filter(isBoard);

/** A board without objects: A4, with names and codes. */
export const emptyBoard = (id: string, name: string, objects: BoardObject[] = []): Board => ({
  ...{ id, kind: BOARD, name },
  data: {
    layout: 'blocks',
    page: { size: 'a4', landscape: true, margin: 12 },
    paper: 'white',
    ...{ note: '', date: '', showsCondition: true },
    labels: ['name', 'code', 'hex'],
    objects,
  },
});

/** A copy under other ids: what leads nowhere is not on it any more; null where nothing is left. */
export function boardAgain(board: Board, to: (id: string) => string | undefined): Board | null {
  const objects = board.data.objects.flatMap((o): BoardObject[] => {
    const refs = o.refs.flatMap((id) => to(id) ?? []);
    // half a pair is none, and a colourway is nothing without its artwork
    const isWhole = o.of === 'ribbon' ? refs.length > 0 : refs.length === o.refs.length;
    return isWhole ? [{ ...o, refs }] : [];
  });
  if (objects.length === 0 && board.data.objects.length > 0) return null;
  return { ...board, data: { ...board.data, objects } };
}

// --- edits

const put = ({ id }: Board, fields: { name?: string; data?: BoardData }): Op => ({
  ...{ op: 'set', of: 'item', id, fields },
});

export const addBoard = (rows: LibraryRows, board: Board): Draft => ({
  label: `add the board “${board.name}”`,
  ops: itemOps(rows, [board]),
});

export const renameBoard = (board: Board, name: string): Draft => ({
  label: `rename the board “${name}”`,
  ops: [put(board, { name })],
});

export const removeBoard = (board: Board): Draft => ({
  label: `delete the board “${board.name}”`,
  ops: [{ op: 'drop', of: 'item', id: board.id }],
});

/** Sets what a board is. @param what was done, for the history */
export const setBoard = (board: Board, data: Partial<BoardData>, what = 'change'): Draft => ({
  label: `${what} the board “${board.name}”`,
  ops: [put(board, { data: { ...board.data, ...data } })],
});

/** Adds objects before a place; at the end where none is given. Those beyond what a board holds are left out. */
export function addToBoard(board: Board, objects: readonly BoardObject[], index?: number): Draft {
  const { objects: were } = board.data;
  const room = objects.slice(0, Math.max(0, MAX_OBJECTS - were.length));
  const at = index ?? were.length;
  return {
    ...setBoard(board, { objects: [...were.slice(0, at), ...room, ...were.slice(at)] }),
    label: `put ${objects.length === 1 ? `“${objects[0]!.name}”` : `${objects.length} objects`} on the board “${board.name}”`,
  };
}

/** What is set of an object; null takes away what is its own. */
export type ObjectChange = Partial<Pick<BoardObject, 'weight' | 'name'>> & {
  share?: number | null;
  labels?: LabelId[] | null;
};

/** Objects with something else set of some. */
export const withSet = (
  objects: readonly BoardObject[],
  ids: ReadonlySet<string>,
  to: ObjectChange,
): BoardObject[] =>
  objects.map((o) => {
    if (!ids.has(o.id)) return o;
    const { share = o.share ?? null, labels = o.labels ?? null, ...rest } = to;
    const { share: _, labels: __, ...plain } = o;
    return {
      ...{ ...plain, ...rest },
      ...(share === null ? {} : { share }),
      ...(labels === null ? {} : { labels }),
    };
  });

export const setObjects = (board: Board, ids: ReadonlySet<string>, to: ObjectChange): Draft =>
  setBoard(board, { objects: withSet(board.data.objects, ids, to) });

export const removeObjects = (board: Board, ids: ReadonlySet<string>): Draft =>
  setBoard(
    board,
    { objects: board.data.objects.filter((o) => !ids.has(o.id)) },
    ids.size === 1 ? 'remove an object from' : `remove ${ids.size} objects from`,
  );

/** Puts an object at another place of the order. */
export function moveObject(board: Board, id: string, to: number): Draft | null {
  const { objects } = board.data;
  const from = objects.findIndex((o) => o.id === id);
  if (from < 0 || from === to || to < 0 || to >= objects.length) return null;
  const rest = objects.filter((o) => o.id !== id);
  return setBoard(board, { objects: [...rest.slice(0, to), objects[from]!, ...rest.slice(to)] }, 'reorder');
}
