import type { Thing } from './things.ts';

/** So much is left for weights where exact shares would take all. */
const LEAST_REST = 0.02;

/** The part of the whole that each thing takes, by exact shares first and by weights of what is left; their sum is 1. */
export function areasOf(things: readonly Pick<Thing, 'weight' | 'share'>[]): number[] {
  const shares = things.reduce((sum, t) => sum + (t.share ?? 0), 0);
  const weights = things.reduce((sum, t) => sum + (t.share === undefined ? t.weight : 0), 0);
  const most = weights > 0 ? 1 - LEAST_REST : 1;
  // shares alone fill the whole, and more than the whole is brought down to it
  const scale = shares === 0 ? 1 : weights === 0 ? 1 / shares : Math.min(1, most / shares);
  const rest = 1 - shares * scale;
  return things.map(({ weight, share }) =>
    share === undefined ? (rest * weight) / weights : Math.max(1e-6, share * scale),
  );
}

/**
 * Things in order on as few pages as let every one be as large as it has to be, in one scale on all pages.
 * @param areas of each, of the whole
 * @param room of a page, square mm
 * @param least that anything takes, square mm
 * @returns the things of each page, and how many square mm the whole takes
 */
export function paged(
  areas: readonly number[],
  room: number,
  least: number,
): { pages: number[][]; scale: number } {
  if (areas.length === 0) return { pages: [], scale: 0 };
  const smallest = Math.min(...areas);
  const wanted = Math.max(room, least / smallest);
  let pages = Math.min(areas.length, Math.ceil(wanted / room - 1e-9));
  // what fills a page ends it, and one more may be needed where things do not break evenly
  for (; pages < areas.length; pages++) {
    const scale = scaleFor(areas, pages, room);
    if (scale * smallest >= least * 0.999 || pages >= wanted / room + 8) break;
  }
  const scale = scaleFor(areas, pages, room);
  return { pages: broken(areas, (room * 1.000001) / scale), scale };
}

/** Runs of no more than a part of the whole each. */
function broken(areas: readonly number[], most: number): number[][] {
  const pages: number[][] = [[]];
  let sum = 0;
  areas.forEach((area, i) => {
    if (sum + area > most && pages.at(-1)!.length > 0) {
      pages.push([]);
      sum = 0;
    }
    pages.at(-1)!.push(i);
    sum += area;
  });
  return pages;
}

/** The largest scale in which things in order fit on a number of pages. */
function scaleFor(areas: readonly number[], pages: number, room: number): number {
  if (pages === 1) return room / areas.reduce((a, b) => a + b, 0);
  let [low, high] = [Math.max(1 / pages, ...areas), 1];
  // 30 halvings are finer than a hair
  for (let n = 0; n < 30; n++) {
    const middle = (low + high) / 2;
    if (broken(areas, middle * 1.000001).length <= pages) high = middle;
    else low = middle;
  }
  return room / high;
}
