import { type Color, type Condition, toLab } from '../color/index.ts';
import { type Board, type BoardObject, MAX_OBJECTS, type PaperId } from '../swatch/board.ts';
import { sidesOf } from '../swatch/page.ts';
import { type Drawing, inkOnPage } from './draw.ts';
import { key, layouts } from './layouts.ts';
import type { BoardPage, Box, Mark } from './marks.ts';
import { written } from './text.ts';
import { type BoardSources, thingsOf } from './things.ts';

/** The neutral grounds that colours are looked at on, as L*. */
const SURROUNDS = { light: 82, mid: 50, dark: 18 };
const WHITE: Color = { space: 'rgb', components: [1, 1, 1] };
/** Between what is shown and what is written below it, mm. */
const ABOVE_FOOT = 5;

/** The color of a page. */
export function groundOf(paper: PaperId, condition: Condition): Color {
  if (paper === 'white') return WHITE;
  if (paper === 'condition') {
    const bare: Color = { space: 'cmyk', components: [0, 0, 0, 0] };
    return { space: 'lab', components: toLab(bare, condition) };
  }
  return { space: 'lab', components: [SURROUNDS[paper], 0, 0] };
}

export interface LaidBoard {
  pages: BoardPage[];
  ground: Color;
  /** Whether a press prints the ground: a tint is, paper is not. */
  printsGround: boolean;
  /** Objects whose swatches, pictures, works are not in the library any more. */
  missing: BoardObject[];
  /** Swatches of groups beyond what a board shows. */
  omitted: number;
}

/** How much of its groups a board leaves out, as a warning; null where it shows all. */
export const omittedText = ({ omitted }: Pick<LaidBoard, 'omitted'>): string | null =>
  omitted > 0
    ? `A board shows up to ${MAX_OBJECTS} swatches; ${omitted.toLocaleString('en-GB')} more ${omitted === 1 ? 'is' : 'are'} left out. Divide the groups.`
    : null;

/** What stands at the foot of each page: title and note, and to the right what the colours are for. */
function foot(board: Board, body: Box, right: string, drawing: Drawing): { marks: Mark[]; height: number } {
  const { first, second } = inkOnPage(drawing);
  const half = body.width * 0.55;
  const title = written(
    [{ text: board.name, font: 'semibold', size: 13, ink: first }],
    body.x,
    0,
    right ? half : body.width,
  );
  const facts = written(
    [{ text: right, font: 'regular', size: 7.5, ink: second }],
    body.x + half + 4,
    1.6,
    body.width - half - 4,
    { align: 'right' },
  );
  const line = Math.max(title.height, facts.height + (right ? 1.6 : 0));
  const note = written(
    [{ text: board.data.note, font: 'regular', size: 8, ink: second }],
    body.x,
    line + 1,
    body.width,
  );
  const height = line + (note.height > 0 ? note.height + 1 : 0);
  const down = body.y + body.height - height;
  return {
    marks: [...title.marks, ...facts.marks, ...note.marks].map((m) => ({ ...m, y: m.y + down })),
    height: height > 0 ? height + ABOVE_FOOT : 0,
  };
}

/** A date as it is read, such as `29 November 2026`; what is none stays as it is. */
export function dateText(iso: string): string {
  const [, year, month, day] = /^(\d{4})-(\d\d)-(\d\d)/.exec(iso) ?? [];
  const names = 'January February March April May June July August September October November December'.split(
    ' ',
  );
  const name = names[Number(month) - 1];
  return name ? `${Number(day)} ${name} ${year}` : iso;
}

/**
 * A board as pages: the same for the same board and sources, wherever it is computed. Nothing lies over anything else, no name is
 * cut, and what has no room on the first page goes on on others.
 */
export function layOut(board: Board, sources: BoardSources): LaidBoard {
  const { data } = board;
  const { width, height } = sidesOf(data.page);
  // what hangs on a wall is read from further away
  const usual = Math.max(1, Math.sqrt(Math.min(width, height) / A4_WIDTH));
  // lines that leave most of a page free become larger as long as they stay on it
  const scales = data.layout === 'ledger' ? LARGER.map((by) => usual * by) : [];
  for (const scale of scales) {
    const laid = layOutIn(board, sources, { width, height }, scale);
    if (laid.pages.length === 1) return laid;
  }
  return layOutIn(board, sources, { width, height }, usual);
}

/** A board laid out on a page that is smaller by a scale, and made larger by it as a whole. */
function layOutIn(
  board: Board,
  sources: BoardSources,
  { width, height }: { width: number; height: number },
  scale: number,
): LaidBoard {
  const { data } = board;
  const page = {
    ...{ size: 'custom' as const, landscape: data.page.landscape, margin: data.page.margin / scale },
    ...{ width: width / scale, height: height / scale },
  };
  const laid = layOutPlainly({ ...board, data: { ...data, page } }, sources);
  return scale === 1 ? laid : { ...laid, pages: laid.pages.map((p) => enlarged(p, scale)) };
}

const LARGER = [1.7, 1.45, 1.2];
const A4_WIDTH = 210;

const enlarged = ({ width, height, marks }: BoardPage, by: number): BoardPage => ({
  width: width * by,
  height: height * by,
  marks: marks.map((mark) => {
    const larger = { ...mark };
    larger.x *= by;
    larger.y *= by;
    larger.width *= by;
    if (larger.is === 'text') larger.size *= by;
    else larger.height *= by;
    return larger;
  }),
});

function layOutPlainly(board: Board, sources: BoardSources): LaidBoard {
  const { data } = board;
  const { condition } = sources;
  const ground = groundOf(data.paper, condition);
  const { things, missing, omitted } = thingsOf(board, sources, ground);
  const { width, height } = sidesOf(data.page);
  const margin = Math.min(data.page.margin, width / 4, height / 4);
  const whole: Box = { x: margin, y: margin, width: width - 2 * margin, height: height - 2 * margin };
  const drawing: Drawing = { condition, ground, keyed: [] };
  const facts = [data.showsCondition ? condition.name : '', dateText(data.date)].filter(Boolean).join(' · ');
  // a page number takes no more room than is left for it
  const { height: below } = foot(board, whole, facts ? `${facts} · 00 / 00` : '', drawing);
  const body = { ...whole, height: Math.max(whole.height * 0.4, whole.height - below) };
  const laid = things.length === 0 ? [[]] : layouts[data.layout](things, body, drawing, data.labels);
  if (drawing.keyed.length > 0) laid.push(...key(drawing.keyed, body, drawing, data.labels));
  const pages = laid.map((marks, i) => {
    const number = laid.length > 1 ? `${i + 1} / ${laid.length}` : '';
    const right = [facts, number].filter(Boolean).join(' · ');
    return { width, height, marks: [...marks, ...foot(board, whole, right, drawing).marks] };
  });
  const printsGround = data.paper !== 'white' && data.paper !== 'condition';
  return { pages, ground, printsGround, missing, omitted };
}
