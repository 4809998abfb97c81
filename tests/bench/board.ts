import { loadFont } from '../../cli/typesetting.ts';
import { layOut } from '../../core/board/index.ts';
import { emptyBoard, type LayoutId, type Library, layoutIds } from '../../core/swatch/index.ts';
import { coated } from '../../core/testing.ts';
import { Harness } from '../browser/harness.ts';
import { dragged } from './tune.ts';

// npm run bench -- board: what it takes to lay 100 objects out, beside the type engine that sets the same words (fontkit), and
// while a hand drags. Needs a build.

const OBJECTS = 100;
const RUNS = 25;
const median = (of: number[]) => [...of].sort((a, b) => a - b)[of.length >> 1]!;

/** As many swatches as a board of the issue has, named as people name them. */
const hundred: Library = {
  id: 'hundred',
  name: 'A hundred colours',
  groups: [
    {
      id: 'g',
      name: 'All',
      swatches: Array.from({ length: OBJECTS }, (_, i) => ({
        ...{ id: `s${i}`, name: `Harbour slate ${i + 1}`, kind: 'process' as const, code: `KW ${1000 + i}` },
        color: {
          space: 'lab' as const,
          components: [15 + ((i * 37) % 80), ((i * 53) % 90) - 45, ((i * 29) % 90) - 40],
        },
      })),
    },
  ],
};

function boardOf(library: Library, layout: LayoutId) {
  const swatches = library.groups.flatMap((g) => g.swatches).slice(0, OBJECTS);
  const board = emptyBoard(
    'bench-board',
    'A hundred colours',
    swatches.map((s, i) => ({
      ...{ id: `o${i}`, of: 'swatch' as const, refs: [s.id], name: s.name, weight: 1 + (i % 6) },
    })),
  );
  return { ...board, data: { ...board.data, layout, labels: ['name', 'code', 'hex', 'cmyk'] as const } };
}

async function inCore(): Promise<void> {
  const library = hundred;
  const sources = { library, condition: coated, pictures: [] };
  console.log(`${OBJECTS} objects laid out, ms (median of ${RUNS})`);
  const words: string[] = [];
  for (const layout of layoutIds) {
    const board = boardOf(library, layout);
    const times: number[] = [];
    for (let i = 0; i < RUNS; i++) {
      // a weight that is dragged: another board each time
      const objects = board.data.objects.map((o, k) => (k === 7 ? { ...o, weight: 1 + (i % 6) } : o));
      const next = { ...board, data: { ...board.data, labels: [...board.data.labels], objects } };
      const start = performance.now();
      const { pages } = layOut(next, sources);
      times.push(performance.now() - start);
      if (i === 0 && layout === 'blocks')
        words.push(...pages.flatMap((p) => p.marks.flatMap((m) => (m.is === 'text' ? [m.text] : []))));
    }
    console.log(`${layout.padEnd(44)}${median(times).toFixed(1).padStart(8)}`);
  }
  const fontkit = await import('fontkit');
  const font = fontkit.create((await loadFont('regular')) as Buffer) as import('fontkit').Font;
  const times = Array.from({ length: RUNS }, () => {
    const start = performance.now();
    for (const text of words) font.layout(text);
    return performance.now() - start;
  });
  console.log(
    `${'the words of blocks alone, set once by fontkit'.padEnd(44)}${median(times).toFixed(1).padStart(8)}`,
  );
}

async function inBrowser(): Promise<void> {
  const harness = await Harness.start();
  try {
    const library = hundred;
    const { labels, ...data } = boardOf(library, 'blocks').data;
    const board = { ...boardOf(library, 'blocks'), data: { ...data, labels: [...labels] } };
    const id = await harness.keep({ ...library, items: [board] });
    const screen = await harness.page(`/libraries/${id}/arrange?view=board`);
    await screen.page.waitForSelector('[role=img] rect[data-of]');
    await screen.page.click('[aria-label="On this board"] button');
    const waits = await dragged(screen, 'Weight');
    const late = waits.filter((w) => w > 20).length;
    console.log(
      `a weight dragged in the browser: ${waits.length} frames, median ${median(waits).toFixed(1)} ms, ${late} over 20 ms, longest ${Math.max(...waits).toFixed(1)} ms`,
    );
  } finally {
    await harness.stop();
  }
}

export async function benchBoard(): Promise<void> {
  await inCore();
  await inBrowser();
}
