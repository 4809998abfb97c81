import { beforeAll, describe, expect, it } from 'vitest';
import { localServices } from '../../cli/engine.ts';
import { loadFont } from '../../cli/typesetting.ts';
import { parseColor } from '../color/index.ts';
import { changes } from '../formats/changes.ts';
import { papillon } from '../formats/papillon/papillon.ts';
import {
  type Board,
  type BoardObject,
  boardAgain,
  boardsOf,
  countingIds,
  emptyBoard,
  isBoard,
  type LabelId,
  type Library,
  labelIds,
  layoutIds,
  type ObjectKind,
  pageSizeIds,
  paperIds,
  type Swatch,
  withNewIds,
} from '../swatch/index.ts';
import { coated, randomly, readBy, services } from '../testing.ts';
import { areasOf } from './areas.ts';
import { dateText, layOut, omittedText } from './lay-out.ts';
import type { BoardFont, BoardPage, Box, Mark } from './marks.ts';
import { proportions, sharesFrom } from './study.ts';
import { linesIn, MM_PER_POINT } from './text.ts';
import type { BoardPicture } from './things.ts';
import { thingsOf } from './things.ts';
import { widthOf } from './widths.ts';

// Layout is held against what a reader of the page sees: whether things lie over each other, are cut, or are as large as they say.

/** For thousands of boards on a machine that does other things beside, ms. */
const PATIENCE = 300_000;
const NAMES = [
  'Hull navy',
  'Signal white, for the funnel and all railings',
  '',
  'أزرق الميناء عند الفجر',
  'כחול נמל',
  '港の青',
  'x'.repeat(200),
  'A name of many words '.repeat(10).trim(),
];
const random = randomly(31);
const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)]!;

const swatches = Array.from(
  { length: 60 },
  (_, i): Swatch => ({
    id: `s${i}`,
    name: NAMES[i % NAMES.length]!,
    kind: i % 5 === 0 ? 'spot' : 'process',
    color: parseColor(`Lab ${5 + random() * 93} ${random() * 100 - 50} ${random() * 100 - 50}`),
    ...(i % 3 === 0 ? { code: `KW ${i}`, role: 'sky' } : {}),
  }),
);
const library: Library = {
  id: 'l',
  name: 'Kestrelmere',
  groups: [
    { id: 'g', name: 'Livery of the fleet', swatches: swatches.slice(0, 20) },
    { id: 'h', name: 'Season', swatches: swatches.slice(20) },
  ],
  items: [
    {
      ...{ id: 'gr', kind: 'gradient', name: 'Night into first light', refs: ['s0', 's5'] },
      data: {
        way: 'oklab',
        stops: [
          { ref: 0, color: swatches[0]!.color, at: 0 },
          { ref: 1, color: swatches[5]!.color, at: 1 },
        ],
      },
    },
    {
      ...{ id: 'w', kind: 'artwork', name: 'crew-scarf.svg', refs: [] },
      data: {
        asset: 'a'.repeat(64),
        form: 'drawing',
        parts: 4,
        colors: [],
        count: 4,
        width: 300,
        height: 200,
        unit: 'mm',
      },
    },
  ],
};
const pictures: BoardPicture[] = [
  {
    ...{ id: 'pic', name: 'harbour-at-first-light.png', width: 600, height: 400 },
    colors: swatches
      .slice(0, 9)
      .map((s, i) => ({ color: s.color, name: `Colour ${i}`, share: 0.4 / (i + 1) })),
  },
];
const sources = { library, condition: coated, pictures };

let n = 0;
const object = (of: ObjectKind, refs: string[], more: Partial<BoardObject> = {}): BoardObject => ({
  ...{ id: `o${n++}`, of, refs, name: `the ${of}`, weight: 2 },
  ...more,
});
const randomObject = (): BoardObject => {
  const of = pick([
    'swatch',
    'swatch',
    'swatch',
    'swatch',
    'group',
    'ribbon',
    'pair',
    'gradient',
    'picture',
    'work',
    'text',
  ] as const);
  const s = () => pick(swatches).id;
  const refs = {
    ...{ swatch: [s()], group: [pick(['g', 'h'])], ribbon: [s(), s(), s()], pair: [s(), s()] },
    ...{ gradient: ['gr'], picture: ['pic'], work: ['w'], text: [] },
  }[of];
  return object(of, refs, {
    weight: 1 + Math.floor(random() * 6),
    ...(of === 'text' ? { name: pick(NAMES.slice(6)) } : {}),
    ...(random() < 0.1 ? { share: random() * 0.2 } : {}),
    ...(random() < 0.2 ? { labels: ['hex'] satisfies LabelId[] } : {}),
  });
};
const randomBoard = (layout = pick(layoutIds)): Board => {
  const many = pick([1, 3, 8, 8, 20, 40]);
  const board = emptyBoard(
    'b',
    pick(NAMES.slice(0, 6)) || 'Board',
    Array.from({ length: many }, randomObject),
  );
  Object.assign(board.data, {
    layout,
    page: { size: pick(pageSizeIds), landscape: random() < 0.5, margin: pick([0, 5, 12, 20]) },
    paper: pick(paperIds),
    labels: labelIds.filter(() => random() < 0.4),
    note: random() < 0.3 ? NAMES[7]! : '',
    date: '2026-11-29',
  } satisfies Partial<Board['data']>);
  return board;
};

/** Where ink lies of a mark: letters stand between their heights and depths. */
function inked(mark: Mark): Box & { over: 'thing' | 'text'; of: string | undefined } {
  if (mark.is !== 'text') return { ...mark, over: 'thing', of: mark.of };
  const em = mark.size * MM_PER_POINT;
  const width = widthOf(mark.text, mark.font, mark.size) * MM_PER_POINT;
  const x = mark.align === 'left' ? mark.x : mark.x - width;
  return { x, y: mark.y - 0.72 * em, width, height: 0.92 * em, over: 'text', of: mark.of };
}
const HAIR = 0.06;
const meet = (a: Box, b: Box) =>
  a.x + a.width > b.x + HAIR &&
  b.x + b.width > a.x + HAIR &&
  a.y + a.height > b.y + HAIR &&
  b.y + b.height > a.y + HAIR;

/** What is wrong with a page, in words. */
function faults({ width, height, marks }: BoardPage): string[] {
  const found: string[] = [];
  const boxes = marks.filter((m) => m.is !== 'line').map(inked);
  for (const b of boxes) {
    if (b.width <= 0 || b.height <= 0) found.push(`nothing of ${b.of}`);
    if (b.x < -HAIR || b.y < -HAIR || b.x + b.width > width + HAIR || b.y + b.height > height + HAIR)
      found.push(`${b.over} of ${b.of} leaves the page: ${JSON.stringify(b)}`);
  }
  const sorted = [...boxes].sort((a, b) => a.y - b.y);
  sorted.forEach((a, i) => {
    for (const b of sorted.slice(i + 1)) {
      if (b.y >= a.y + a.height) break;
      // labels lie on what they belong to
      if (a.over !== b.over && a.of === b.of) continue;
      if (meet(a, b))
        found.push(`${a.over} of ${a.of} and ${b.over} of ${b.of} meet: ${JSON.stringify([a, b])}`);
    }
  });
  return found;
}

describe('any board', () => {
  it(
    'has nothing over anything else, nothing cut, and every name whole, on every page size',
    () => {
      for (let i = 0; i < 2000; i++) {
        const board = randomBoard(layoutIds[i % layoutIds.length]!);
        const laid = layOut(board, sources);
        const about = `board ${i}, ${board.data.layout} on ${board.data.page.size}`;
        for (const page of laid.pages) expect(faults(page), about).toEqual([]);
        // letter by letter, as lines divide words
        const all = laid.pages.flatMap((p) => p.marks.flatMap((m) => (m.is === 'text' ? [m] : [])));
        for (const o of board.data.objects) {
          if (o.of !== 'swatch' || !(o.labels ?? board.data.labels).includes('name')) continue;
          const name = swatches.find((s) => s.id === o.refs[0])!.name.replace(/\s/g, '');
          const said = all
            .filter((m) => m.of === o.id)
            .map((m) => m.text)
            .join('')
            .replace(/\s/g, '');
          expect(said, about).toContain(name);
        }
      }
    },
    PATIENCE,
  );

  it(
    'of 500 objects is laid out on every page size',
    () => {
      for (const size of pageSizeIds)
        for (const layout of layoutIds) {
          const board = emptyBoard(
            'b',
            'Many',
            Array.from({ length: 500 }, () => object('swatch', [pick(swatches).id])),
          );
          Object.assign(board.data, { layout, page: { size, landscape: true, margin: 10 } });
          const { pages } = layOut(board, sources);
          for (const page of pages) expect(faults(page), `${layout} on ${size}`).toEqual([]);
          const shown = new Set(
            pages.flatMap((p) => p.marks.flatMap((m) => (m.is === 'area' ? [m.of] : []))),
          );
          expect(shown.size).toBe(500);
        }
    },
    PATIENCE,
  );

  it('is the same each time', () => {
    for (let i = 0; i < 20; i++) {
      const board = randomBoard();
      expect(layOut(structuredClone(board), sources)).toEqual(layOut(board, sources));
    }
  });

  it.each(['blocks', 'bands', 'chips'] as const)(
    '%s: areas are as large as weights and shares say',
    (layout) => {
      for (let i = 0; i < 50; i++) {
        const board = randomBoard(layout);
        board.data.objects = board.data.objects.map((o) => ({
          ...o,
          of: 'swatch',
          refs: [pick(swatches).id],
        }));
        const { pages } = layOut(board, sources);
        const areas = new Map<string, number>();
        const { things } = thingsOf(board, sources, { space: 'rgb', components: [1, 1, 1] });
        // those of the key are small copies
        for (const { marks } of pages)
          for (const m of marks)
            if (m.is === 'area' && !areas.has(m.of!)) areas.set(m.of!, m.width * m.height);
        const sum = [...areas.values()].reduce((a, b) => a + b, 0);
        const wanted = areasOf(things);
        things.forEach((t, k) => {
          expect(areas.get(t.of)! / sum / wanted[k]!).toBeCloseTo(1, 4);
        });
      }
    },
  );
});

describe('a board of a library', () => {
  it('leaves out what was deleted, and reports it', () => {
    const board = emptyBoard('b', 'Board', [
      object('swatch', ['s1']),
      object('swatch', ['gone'], { name: 'Old red' }),
    ]);
    const { missing, pages } = layOut(board, sources);
    expect(missing.map((o) => o.name)).toEqual(['Old red']);
    expect(pages[0]!.marks.filter((m) => m.is === 'area').length).toBe(1);
  });

  it('of a group of 100,000 shows as many as a board holds, and says how many it leaves out', () => {
    const many = Array.from({ length: 100_000 }, (_, i) => ({
      ...swatches[i % 60]!,
      id: `m${i}`,
      name: `${i}`,
    }));
    const large = { ...library, groups: [{ id: 'g', name: 'All', swatches: many }] };
    const laid = layOut(emptyBoard('b', 'All', [object('group', ['g'])]), { ...sources, library: large });
    expect(laid.pages.flatMap((p) => p.marks).filter((m) => m.is === 'area').length).toBeLessThanOrEqual(
      1000,
    );
    expect(omittedText(laid)).toMatch(/up to 500 swatches; 99,500 more are left out/);
  });

  it('shows the picture of a story large, its colours by coverage beside it, and what was made of them below', () => {
    const board = emptyBoard('b', 'Story', [
      object('swatch', ['s1']),
      object('picture', ['pic']),
      object('gradient', ['gr']),
      object('swatch', ['s2']),
    ]);
    Object.assign(board.data, { layout: 'story', labels: ['name', 'coverage'] });
    const [{ marks }] = layOut(board, sources).pages as [BoardPage];
    const picture = marks.find((m) => m.is === 'picture')!;
    expect(picture.width * picture.height).toBeGreaterThan(0.15 * 297 * 210);
    const beside = marks.flatMap((m) => (m.is === 'area' && m.of === picture.of ? [m] : []));
    expect(beside.length).toBe(9);
    expect(beside.every((m) => m.x > picture.x + picture.width)).toBe(true);
    expect(beside.map((m) => m.y)).toEqual([...beside.map((m) => m.y)].sort((a, b) => a - b));
    expect(marks.filter((m) => m.is === 'text').map((m) => m.text)).toContain('40 %');
    for (const m of marks)
      if (m.is === 'area' && m.of !== picture.of) expect(m.y).toBeGreaterThan(picture.y + picture.height);
  });

  it('gives the areas of a picture to its colours', () => {
    const own = swatches.slice(0, 9).map((s) => object('swatch', [s.id]));
    const board = emptyBoard('b', 'Study', own);
    const { things } = thingsOf(board, sources, { space: 'rgb', components: [1, 1, 1] });
    const covered = pictures[0]!.colors;
    const { rows, rest } = proportions(things, covered, coated);
    expect(rest).toBe(0);
    expect(rows.map((r) => r.there)).toEqual(covered.map((c) => c.share));
    const shares = sharesFrom(board, rows);
    const sum = covered.reduce((a, c) => a + c.share, 0);
    for (const [i, o] of own.entries()) expect(shares.get(o.id)).toBeCloseTo(covered[i]!.share / sum, 10);
  });

  it('goes along into a copy with what it shows, and without what stays behind', () => {
    const board = emptyBoard('b', 'Board', [object('swatch', ['s1']), object('pair', ['s1', 's2'])]);
    const to = (id: string) => (id === 's1' ? 'new' : undefined);
    expect(boardAgain(board, to)!.data.objects.map((o) => o.refs)).toEqual([['new']]);
    expect(boardAgain(board, () => undefined)).toBeNull();
  });

  it('travels in Papillon’s own file, with what it shows there, and comes back in a copy of the library', async () => {
    const gradient = library.items!.find((i) => i.id === 'gr')!;
    const board = emptyBoard('b', 'Season sheet', [
      object('swatch', ['s3']),
      object('group', ['h']),
      object('gradient', ['gr']),
      object('text', [], { name: 'In brass.' }),
      object('picture', ['pic']),
    ]);
    const whole: Library = { ...library, items: [gradient, board] };
    const { library: read } = await readBy(papillon, papillon.encode(whole, services));
    const [own] = boardsOf(read);
    expect(own!.data.objects.map((o) => o.of)).toEqual(['swatch', 'group', 'gradient', 'text']);
    const { things, missing } = thingsOf(
      own!,
      { ...sources, library: read, pictures: [] },
      { space: 'rgb', components: [1, 1, 1] },
    );
    expect(missing).toEqual([]);
    expect(things.map((t) => t.is)).toEqual(['color', ...Array(40).fill('color'), 'gradient', 'text']);
    expect(things[0]!.is === 'color' && things[0]!.swatch.color).toEqual(swatches[3]!.color);
    // what the file does not hold is reported
    const { libraryLosses } = await changes(whole, papillon, await localServices());
    expect(libraryLosses).toContain('pictures and artwork on boards');
    // a copy has other ids, which it follows
    const copy = withNewIds(whole, countingIds('c-'));
    const again = thingsOf(
      boardsOf(copy)[0]!,
      { ...sources, library: copy },
      { space: 'rgb', components: [1, 1, 1] },
    );
    expect(again.missing).toEqual([]);
    expect(again.things.length).toBe(44);
  });

  it('that came from elsewhere damaged is none', () => {
    expect(isBoard(emptyBoard('b', 'Board'))).toBe(true);
    for (const data of [
      null,
      {},
      { ...emptyBoard('b', '').data, layout: 'wheel' },
      { ...emptyBoard('b', '').data, objects: [{}] },
    ])
      expect(isBoard({ id: 'b', kind: 'board', name: '', data })).toBe(false);
  });
});

describe('text', () => {
  it('is divided between words, and inside of one that is too wide', () => {
    const { lines, isBroken } = linesIn(`Harbour ${'m'.repeat(60)} slate`, 'regular', 8, 30);
    expect(isBroken).toBe(true);
    expect(lines[0]).toBe('Harbour');
    expect(lines.join('')).toBe(`Harbour${'m'.repeat(60)}slate`);
    for (const line of lines) expect(widthOf(line, 'regular', 8) * MM_PER_POINT).toBeLessThanOrEqual(30);
  });

  it('dates are written out', () => {
    expect(dateText('2026-11-29T10:00:00Z')).toBe('29 November 2026');
    expect(dateText('this autumn')).toBe('this autumn');
  });
});

describe('the widths of letters', () => {
  let fonts: Record<
    'regular' | 'semibold' | 'mono',
    { layout(text: string): { advanceWidth: number }; unitsPerEm: number }
  >;
  beforeAll(async () => {
    const fontkit = await import('fontkit');
    const font = async (id: BoardFont) => fontkit.create((await loadFont(id)) as never) as never;
    fonts = { regular: await font('regular'), semibold: await font('semibold'), mono: await font('mono') };
  });
  it('are those of the fonts, which set them no wider', () => {
    for (const [id, font] of Object.entries(fonts))
      for (const text of ['Harbour slate', '#1C3350 · KW 408', 'Übergrößenträger & AVATAR', 'fjord – 62 %']) {
        const set = font.layout(text).advanceWidth / font.unitsPerEm;
        const ours = widthOf(text, id as never, 1);
        expect(ours, `${id} ${text}`).toBeGreaterThanOrEqual(set - 0.02);
        expect(ours, `${id} ${text}`).toBeLessThan(set * 1.06 + 0.05);
      }
  });

  it.each([
    ['latin-ext', 'Kékfestő', 'Światło'],
    ['greek', 'Θάλασσα', 'ΩΜΕΓΑ'],
    ['cyrillic', 'Мокрый песок', 'ЖЕЛЕЗНЫЙ ЩИТ'],
    ['hebrew', 'כחול עמוק'],
    ['arabic', 'أزرق بحري', 'رصاص', 'شمس'],
    ['devanagari', 'नीला आसमान'],
    ['thai', 'สีฟ้าคราม'],
    ['japanese', '藍色の海'],
    ['chinese', '深蓝色'],
    ['korean', '파란 하늘'],
  ] as const)('are at most as assumed in %s', async (script, ...texts) => {
    const fontkit = await import('fontkit');
    const set = fontkit.create((await loadFont(script)) as never) as import('fontkit').Font;
    for (const text of texts)
      for (const word of text.split(' ')) {
        const letters = [...word].filter((c) => c > '\xff').join('');
        const wide = set.layout(letters).advanceWidth / set.unitsPerEm;
        expect(widthOf(letters, 'regular', 1), word).toBeGreaterThanOrEqual(wide);
        expect(widthOf(letters, 'regular', 1), word).toBeLessThan(wide * 2.4 + 0.5);
      }
  });
});
