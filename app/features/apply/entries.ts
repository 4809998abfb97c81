import type { PartFacts, Row } from '#core/artwork/index';

/** How the list stands: colours by how much there is of them or as they are drawn, parts by name, or one by one. */
export const ORDERS = [
  ['area', 'by area'],
  ['place', 'as drawn'],
  ['name', 'by name'],
  ['part', 'part by part'],
] as const;
export type ListOrder = (typeof ORDERS)[number][0];

/** A line of the list: what is coloured together. */
export interface Entry {
  id: string;
  /** The keys under which what becomes of it is kept. */
  keys: string[];
  rows: Row[];
  parts: readonly PartFacts[];
  /** What its parts are called. */
  name: string;
  share: number;
}

const calledOf = (names: readonly string[]) => names[0] ?? '';
/** Of a work that has more, single parts are found by pointing. */
const MAX_ENTRIES = 5000;

/** The lines of the list. */
export function entriesOf(rows: readonly Row[], order: ListOrder): Entry[] {
  const byRow = rows.map(
    (row): Entry => ({
      id: row.key,
      keys: [row.key],
      rows: [row],
      parts: row.parts,
      name: calledOf(row.names),
      share: row.share,
    }),
  );
  if (order === 'area') return byRow;
  const first = ({ parts }: Entry) => parts[0]?.id ?? 0;
  if (order === 'place') return byRow.sort((a, b) => first(a) - first(b));
  const parts = rows.flatMap((row) => row.parts.map((part) => ({ row, part })));
  if (order === 'part')
    return parts
      .slice(0, MAX_ENTRIES)
      .map(
        ({ row, part }): Entry => ({
          id: `part ${part.key}`,
          keys: [part.key],
          rows: [row],
          parts: [part],
          name: part.name,
          share: part.share,
        }),
      )
      .sort((a, b) => first(a) - first(b));
  const byName = new Map<string, Entry>();
  for (const { row, part } of parts) {
    const known = byName.get(part.name);
    if (!known) {
      byName.set(part.name, {
        ...{ id: `name ${part.name}`, keys: [part.key], rows: [row], parts: [part] },
        ...{ name: part.name, share: part.share },
      });
      continue;
    }
    known.keys.push(part.key);
    (known.parts as PartFacts[]).push(part);
    if (!known.rows.includes(row)) known.rows.push(row);
    known.share += part.share;
  }
  return [...byName.values()].sort((a, b) => a.name.localeCompare(b.name, 'en-GB')).slice(0, MAX_ENTRIES);
}

/** The numbers of the parts of something, those of the first of their gradients for stops. */
export const idsOf = (parts: readonly PartFacts[]): Set<number> =>
  new Set(parts.map((p) => p.gradient ?? p.id));

/** The part and the row at a number of the drawing; of a gradient the stop that is the nearest in colour to what is seen there. */
export function partWith(
  rows: readonly Row[],
  id: number,
  seen?: readonly [number, number, number],
): { row: Row; part: PartFacts } | null {
  const found: { row: Row; part: PartFacts }[] = [];
  for (const row of rows)
    for (const part of row.parts) if ((part.gradient ?? part.id) === id) found.push({ row, part });
  if (!seen || found.length < 2) return found[0] ?? null;
  const distance = ({ row: { to } }: { row: Row }) => {
    const n = Number.parseInt(to.slice(1), 16);
    return Math.hypot((n >> 16) - seen[0], ((n >> 8) & 255) - seen[1], (n & 255) - seen[2]);
  };
  return found.sort((a, b) => distance(a) - distance(b))[0]!;
}

/** A size in words. */
export function sizeText({
  width,
  height,
  unit,
}: {
  width: number;
  height: number;
  unit: 'mm' | 'px';
}): string {
  const said = (v: number) => String(Number(v.toFixed(unit === 'mm' ? 1 : 0)));
  return `${said(width)} × ${said(height)} ${unit}`;
}
