import type { LabelId, LayoutId } from '../swatch/board.ts';
import { areasOf, paged } from './areas.ts';
import { area, type Drawing, fill, inkOnPage, inside, writingsOf } from './draw.ts';
import type { Box, Mark, TextInk } from './marks.ts';
import { inRows } from './rows.ts';
import { heightOfLines, MM_PER_POINT, written } from './text.ts';
import { headOf, type LabelText, type Thing } from './things.ts';
import { widthOf } from './widths.ts';

/** Lays things out in boxes of one size, as many as it takes: a list of marks for each. */
export type Layout = (
  things: readonly Thing[],
  body: Box,
  drawing: Drawing,
  labels: readonly LabelId[],
) => Mark[][];

/** The least that a block takes, square mm, and a band's least height, mm. */
const LEAST_BLOCK = 48;
const LEAST_BAND = 6;

export const blocks: Layout = (things, body, drawing) => {
  const areas = areasOf(things);
  const { pages, scale } = paged(areas, body.width * body.height, LEAST_BLOCK);
  return pages.map((page) =>
    inRows(
      page.map((i) => areas[i]! * scale),
      body,
    ).flatMap((box, n) => fill(box, things[page[n]!]!, drawing)),
  );
};

export const bands: Layout = (things, body, drawing) => {
  const areas = areasOf(things);
  const { pages, scale } = paged(areas, body.width * body.height, body.width * LEAST_BAND);
  return pages.map((page) => {
    let { y } = body;
    return page.flatMap((i) => {
      const height = (areas[i]! * scale) / body.width;
      const marks = fill({ ...body, y, height }, things[i]!, drawing);
      y += height;
      return marks;
    });
  });
};

// --- chips

/** Width to height of a chip, and its width where it is of middle weight. */
const CHIP = 1.5;
const CHIP_WIDTH = 34;
/** That a label below a small chip takes all the same, mm. */
const LABEL_WIDTH = 24;
const GAP = 5;
const LABEL_SIZES = [8, 6.5] as const;

/** How much larger than usual chips become where a page has room for all of them. */
const CHIP_SCALES = [2, 1.7, 1.45, 1.2, 1];

export const chips: Layout = (things, body, drawing) => {
  let pages: Mark[][] = [];
  for (const scale of CHIP_SCALES) {
    pages = chipsOf(things, body, drawing, CHIP_WIDTH * scale);
    if (pages.length <= 1) break;
  }
  return pages;
};

function chipsOf(things: readonly Thing[], body: Box, drawing: Drawing, chipWidth: number): Mark[][] {
  const flow = new Flow(body);
  const areas = areasOf(things);
  const sorted = [...areas].sort((a, b) => a - b);
  const middle = sorted[sorted.length >> 1] ?? 1;
  const largest = sorted.at(-1) ?? 1;
  // as wide as usual in the middle, and none wider than the page or half as high
  const most = Math.min(body.width, (body.height / 2) * CHIP);
  const perWhole = Math.min(chipWidth ** 2 / CHIP / middle, most ** 2 / CHIP / largest);
  const inks = inkOnPage(drawing);
  let row: {
    width: number;
    chip: number;
    height: number;
    thing: Thing;
    label: ReturnType<typeof written>;
  }[] = [];
  let used = 0;
  const end = () => {
    if (row.length === 0) return;
    const high = Math.max(...row.map((c) => c.chip));
    const height = Math.max(...row.map((c) => high + 1.5 + c.label.height)) + GAP;
    const y = flow.room(height);
    let { x } = body;
    for (const { thing, chip, width, label } of row) {
      const box = { x, y: y + high - chip, width: chip * CHIP, height: chip };
      flow.add(
        thing.is === 'color'
          ? area(box, thing.swatch, thing.of, drawing)
          : inside(box, unlabelled(thing), drawing),
      );
      flow.add(label.marks.map((m) => ({ ...m, x: m.x + x, y: m.y + y + high + 1.5 })));
      x += width + GAP;
    }
    row = [];
    used = 0;
  };
  things.forEach((thing, i) => {
    if (thing.is === 'text' || (thing.is === 'color' && thing.heading !== undefined)) {
      end();
      const text = thing.is === 'text' ? thing.text : thing.heading!;
      const size = thing.is === 'text' ? 11 : 9;
      const font = thing.is === 'text' ? 'regular' : 'semibold';
      const { marks, height } = written([{ text, font, size, ink: inks.first }], body.x, 0, body.width, {
        of: thing.of,
      });
      const y = flow.room(height + 3, thing.is === 'text' ? 0 : 30);
      flow.add(marks.map((m) => ({ ...m, y: m.y + y })));
      if (thing.is === 'text') return;
    }
    const chip = Math.sqrt((areas[i]! * perWhole) / CHIP);
    const width = Math.min(body.width, Math.max(chip * CHIP, LABEL_WIDTH));
    if (row.length > 0 && used + width > body.width + 1e-6) end();
    const label = labelBelow(thing, width, body.height, inks);
    row.push({ thing, chip, width, height: chip, label });
    used += width + GAP;
  });
  end();
  return flow.pages;
}

/** What stands below a chip, smaller where it would not fit on a page. */
function labelBelow(thing: Thing, width: number, room: number, inks: { first: TextInk; second: TextInk }) {
  const texts =
    thing.is === 'pair'
      ? thing.each.flatMap((labels) => writingsOf(labels, LABEL_SIZES, inks))
      : writingsOf(thing.labels, LABEL_SIZES, inks);
  const usual = written(texts, 0, 0, width, { of: thing.of });
  if (usual.height < room * 0.45) return usual;
  return written(
    texts.map((t) => ({ ...t, size: 5.5 })),
    0,
    0,
    width,
    { of: thing.of },
  );
}

const unlabelled = (thing: Thing): Thing => ({
  ...thing,
  labels: [],
  ...(thing.is === 'pair' ? { each: [[], []] } : {}),
});

/** Boxes that are filled from above, one after the other. */
class Flow {
  readonly pages: Mark[][] = [];
  private y = 0;

  constructor(private readonly body: Box) {}

  /** Where the next thing of a height begins. @param more what has to follow on the same page */
  room(height: number, more = 0): number {
    if (this.isFull(height + more)) this.turn();
    const { y } = this;
    this.y += height;
    return y;
  }

  /** Whether something of a height begins another page: never on one that is empty. */
  isFull(height: number): boolean {
    const { y } = this.body;
    return this.pages.length === 0 || (this.y + height > y + this.body.height + 1e-6 && this.y > y);
  }

  turn(): void {
    this.pages.push([]);
    this.y = this.body.y;
  }

  add(marks: readonly Mark[]): void {
    this.pages.at(-1)!.push(...marks);
  }
}

// --- ledger

const SIZE = 8;
const NUMBER_SIZE = 7;
const CHIP_COLUMN = 15;
const CHIP_HEIGHT = 4.4;
const BETWEEN = 4;
const LEAST_NAME = 34;
const ROW_PAD = 1.1;
/** The height of gradients and stripes is half of this, that of pictures and works up to 1.6 times, mm. */
const HIGH = 22;

interface Column {
  id: LabelId;
  width: number;
}

const fontOf = (id: LabelId) => (id === 'role' || id === 'nearest' || id === 'code' ? 'regular' : 'mono');

/** The columns that there is room for beside the name; what has none stands below it. */
function columnsOf(things: readonly Thing[], labels: readonly LabelId[], width: number): Column[] {
  const texts = new Map<LabelId, number>();
  const see = (own: readonly LabelText[]) => {
    for (const { id, text } of own) {
      const wide = Math.min(40, widthOf(text, fontOf(id), NUMBER_SIZE) * MM_PER_POINT);
      texts.set(id, Math.max(texts.get(id) ?? 0, wide));
    }
  };
  for (const thing of things) {
    if (thing.is === 'color') see(thing.labels);
    if (thing.is === 'pair') thing.each.forEach(see);
  }
  const columns: Column[] = [];
  let left = width - CHIP_COLUMN - BETWEEN - LEAST_NAME;
  for (const id of labels) {
    const wide = texts.get(id);
    if (id === 'name' || wide === undefined) continue;
    const column = Math.max(wide, widthOf(headOf(id), 'regular', 6) * MM_PER_POINT) + 0.5;
    if (left < column + BETWEEN) continue;
    left -= column + BETWEEN;
    columns.push({ id, width: column });
  }
  return columns;
}

interface Line {
  labels: readonly LabelText[];
  draw(box: Box): Mark[];
  of: string;
  number?: number;
}

function linesOfThing(thing: Thing, drawing: Drawing): Line[] {
  if (thing.is === 'color')
    return [
      { of: thing.of, labels: thing.labels, draw: (box) => area(box, thing.swatch, thing.of, drawing) },
    ];
  if (thing.is === 'pair')
    return thing.swatches.map((swatch, i) => ({
      of: thing.of,
      labels: thing.each[i]!,
      draw: (box) => area(box, swatch, thing.of, drawing),
    }));
  return [{ of: thing.of, labels: thing.labels, draw: (box) => inside(box, unlabelled(thing), drawing) }];
}

/** A line of a ledger: its height, and its marks from a place down. */
function ledgerLine(line: Line, columns: readonly Column[], x: number, width: number, drawing: Drawing) {
  const { first, second } = inkOnPage(drawing);
  const taken = columns.reduce((sum, c) => sum + c.width + BETWEEN, 0);
  const left = x + CHIP_COLUMN + BETWEEN;
  const room = width - CHIP_COLUMN - BETWEEN - taken;
  const name = line.labels.find((l) => l.id === 'name');
  const under = line.labels
    .filter((l) => l.id !== 'name' && !columns.some((c) => c.id === l.id))
    .map((l) => l.text)
    .join(' · ');
  const number = line.number === undefined ? '' : `${line.number}  `;
  const words = written(
    [
      { text: `${number}${name?.text ?? ''}`, font: 'regular', size: SIZE, ink: first },
      { text: under, font: 'regular', size: NUMBER_SIZE, ink: second },
    ],
    left,
    ROW_PAD,
    room,
    { of: line.of },
  );
  const marks: Mark[] = [...words.marks];
  let height = Math.max(words.height, CHIP_HEIGHT);
  let right = x + width;
  for (const { id, width: wide } of [...columns].reverse()) {
    const text = line.labels.find((l) => l.id === id)?.text ?? '';
    const cell = written(
      [{ text, font: fontOf(id), size: NUMBER_SIZE, ink: second }],
      right - wide,
      ROW_PAD + 0.35,
      wide,
      { of: line.of, align: fontOf(id) === 'mono' ? 'right' : 'left' },
    );
    marks.push(...cell.marks);
    height = Math.max(height, cell.height);
    right -= wide + BETWEEN;
  }
  return {
    height: height + 2 * ROW_PAD,
    at: (y: number): Mark[] => [
      ...line.draw({ x, y: y + ROW_PAD, width: CHIP_COLUMN, height: CHIP_HEIGHT }),
      ...marks.map((m) => ({ ...m, y: (m as { y: number }).y + y })),
      { is: 'line', of: line.of, ink: 'pale', x, y: y + height + 2 * ROW_PAD, width, height: 0 },
    ],
  };
}

function ledgerHead(
  columns: readonly Column[],
  x: number,
  y: number,
  width: number,
  drawing: Drawing,
): Mark[] {
  const { second } = inkOnPage(drawing);
  let right = x + width;
  return [...columns].reverse().flatMap(({ id, width: wide }) => {
    const { marks } = written(
      [{ text: headOf(id), font: 'regular', size: 6, ink: second }],
      right - wide,
      y,
      wide,
      {
        align: fontOf(id) === 'mono' ? 'right' : 'left',
      },
    );
    right -= wide + BETWEEN;
    return marks;
  });
}

const HEAD = heightOfLines(1, 6) + 1;

export const ledger: Layout = (things, body, drawing, labels) => {
  const flow = new Flow(body);
  const columns = columnsOf(things, labels, body.width);
  const head = () => {
    if (columns.length > 0) flow.add(ledgerHead(columns, body.x, flow.room(HEAD), body.width, drawing));
  };
  /** Room for a line, on a page that says what its columns are. */
  const room = (height: number, more = 0) => {
    if (flow.isFull(height + more)) {
      flow.turn();
      head();
    }
    return flow.room(height);
  };
  for (const thing of things) {
    if (thing.is === 'text' || (thing.is === 'color' && thing.heading !== undefined)) {
      const isText = thing.is === 'text';
      const text = isText ? thing.text : thing.heading!;
      const ink = inkOnPage(drawing).first;
      const { marks, height } = written(
        [{ text, font: isText ? 'regular' : 'semibold', size: isText ? 10 : 9, ink }],
        body.x,
        0,
        body.width,
        { of: thing.of },
      );
      const y = room(height + 4, isText ? 0 : 8) + 2.5;
      flow.add(marks.map((m) => ({ ...m, y: m.y + y })));
      if (isText) continue;
    }
    if (thing.is === 'picture' || thing.is === 'work' || thing.is === 'gradient' || thing.is === 'stripes') {
      const aspect =
        thing.is === 'work'
          ? thing.aspect
          : thing.is === 'picture'
            ? thing.picture.width / thing.picture.height
            : 0;
      const high = aspect > 0 ? Math.min(HIGH * 1.6, body.width / 2.4 / aspect) : HIGH / 2;
      const caption = written(
        writingsOf(thing.labels, [SIZE, NUMBER_SIZE], inkOnPage(drawing)),
        body.x,
        0,
        body.width,
        {
          of: thing.of,
        },
      );
      const y = room(high + caption.height + 4);
      const width = aspect > 0 ? high * aspect : body.width;
      flow.add(inside({ x: body.x, y: y + 1, width, height: high }, unlabelled(thing), drawing));
      flow.add(caption.marks.map((m) => ({ ...m, y: m.y + y + high + 1.5 })));
      continue;
    }
    for (const line of linesOfThing(thing, drawing)) {
      const laid = ledgerLine(line, columns, body.x, body.width, drawing);
      flow.add(laid.at(room(laid.height)));
    }
  }
  return flow.pages;
};

/** What stands in the key, on pages of its own. */
export const key: Layout = (things, body, drawing, labels) => {
  const flow = new Flow(body);
  const columns = columnsOf(things, labels, body.width);
  things.forEach((thing, i) => {
    if (thing.is === 'text') {
      const { marks, height } = written(
        [{ text: `${i + 1}  ${thing.text}`, font: 'regular', size: SIZE, ink: inkOnPage(drawing).first }],
        body.x,
        0,
        body.width,
        { of: thing.of },
      );
      const y = flow.room(height + 2);
      flow.add(marks.map((m) => ({ ...m, y: m.y + y })));
      return;
    }
    linesOfThing(thing, drawing).forEach((line, n) => {
      const laid = ledgerLine(
        n === 0 ? { ...line, number: i + 1 } : line,
        columns,
        body.x,
        body.width,
        drawing,
      );
      const y = flow.room(laid.height);
      flow.add(laid.at(y));
    });
  });
  return flow.pages;
};

// --- story

/** Of the page's width for the picture, and of its height at most. */
const HERO = 0.49;
const HERO_HEIGHT = 0.5;
const COLUMN_GAP = 6;

/** Colours as blocks, and at their right works and pictures in their own shape, as high as the room. */
const besideWorks: Layout = (things, room, drawing, labels) => {
  const shaped = things.flatMap((thing) => {
    const aspect =
      thing.is === 'work'
        ? thing.aspect
        : thing.is === 'picture'
          ? thing.picture.width / thing.picture.height
          : null;
    return aspect === null ? [] : [{ thing, aspect }];
  });
  const others = things.filter((t) => !shaped.some((s) => s.thing === t));
  if (shaped.length === 0 || others.length === 0) return blocks(things, room, drawing, labels);
  const high = room.height - 5;
  const wanted = shaped.reduce((sum, s) => sum + s.aspect * high, 0) + COLUMN_GAP * (shaped.length - 1);
  const scale = Math.min(1, (room.width * 0.45) / wanted);
  const taken = wanted * scale + COLUMN_GAP;
  const left = { ...room, width: room.width - taken };
  const laid = blocks(others, left, drawing, labels);
  let x = left.x + left.width + COLUMN_GAP;
  for (const { thing, aspect } of shaped) {
    const box = { x, y: room.y, width: aspect * high * scale, height: high * scale };
    const caption = written(
      writingsOf(thing.labels, [7.5, 7], inkOnPage(drawing)),
      x,
      box.y + box.height + 0.6,
      box.width,
      {
        of: thing.of,
      },
    );
    // one that says more than there is room for is in the key
    const fits = caption.height <= room.height - box.height - 0.5;
    laid[0]?.push(...inside(box, unlabelled(thing), drawing), ...(fits ? caption.marks : []));
    if (!fits) drawing.keyed.push(thing);
    x += box.width + COLUMN_GAP * scale;
  }
  return laid;
};

export const story: Layout = (things, body, drawing, labels) => {
  const hero = things.find((t) => t.is === 'picture') ?? things.find((t) => t.is === 'work');
  if (!hero) return blocks(things, body, drawing, labels);
  const rest = things.filter((t) => t !== hero);
  const gradients = rest.filter((t) => t.is === 'gradient').slice(0, 2);
  const after = rest.filter((t) => !gradients.some((g) => g === t));
  const isPicture = hero.is === 'picture';
  const aspect = isPicture ? hero.picture.width / hero.picture.height : hero.is === 'work' ? hero.aspect : 1;
  const width = body.width * HERO;
  const most = after.length > 0 ? body.height * HERO_HEIGHT : body.height - 8;
  const box = { x: body.x, y: body.y, width, height: Math.min(most, width / aspect) };
  const caption = written(
    writingsOf(hero.labels, [7.5, 7], inkOnPage(drawing)),
    box.x,
    box.y + box.height + 1,
    width,
    {
      of: hero.of,
    },
  );
  const first: Mark[] = [...inside(box, unlabelled(hero), drawing), ...caption.marks];
  const down = box.y + box.height + 1 + caption.height;

  const side = { x: body.x + width + COLUMN_GAP, y: body.y, width: body.width - width - COLUMN_GAP };
  let { y } = side;
  for (const gradient of gradients) {
    const text = written(
      writingsOf(gradient.labels, [7.5, 7], inkOnPage(drawing)),
      side.x,
      y + 13,
      side.width,
      {
        of: gradient.of,
      },
    );
    first.push(...inside({ ...side, y, height: 12 }, unlabelled(gradient), drawing), ...text.marks);
    y += 13 + text.height + 2;
  }
  const colors: Thing[] = isPicture ? hero.colors : [];
  const columns = columnsOf(colors, labels, side.width);
  const over: Thing[] = [];
  // the colours stand beside it as far as it goes, and all that is on the page where nothing follows
  const end = after.length > 0 ? Math.max(down, body.y + body.height * 0.4) : body.y + body.height;
  if (columns.length > 0 && y + HEAD + 6 < end) {
    first.push(...ledgerHead(columns, side.x, y, side.width, drawing));
    y += HEAD;
  }
  for (const color of colors) {
    const [line] = linesOfThing(color, drawing);
    const laid = ledgerLine(line!, columns, side.x, side.width, drawing);
    if (over.length > 0 || y + laid.height > end) {
      over.push(color);
      continue;
    }
    first.push(...laid.at(y));
    y += laid.height;
  }
  const top = Math.max(down, y) + COLUMN_GAP;
  const room = { ...body, y: top, height: body.y + body.height - top };
  const pages: Mark[][] = [first];
  // what was made of them fills what is left of the page, or pages of its own where that is little
  if (after.length > 0) {
    const isRoomy = room.height > 24 && room.width * room.height >= after.length * LEAST_BLOCK * 3;
    const laid = isRoomy ? besideWorks(after, room, drawing, labels) : [];
    if (laid.length === 1) first.push(...laid[0]!);
    else pages.push(...blocks(after, body, drawing, labels));
  }
  if (over.length > 0) pages.push(...ledger(over, body, drawing, labels));
  return pages;
};

export const layouts: Record<LayoutId, Layout> = { blocks, story, ledger, bands, chips };
