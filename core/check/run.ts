import type { Condition } from '../color/index.ts';
import { optionOf } from '../options.ts';
import {
  addSwatches,
  type Draft,
  type Item,
  type Library,
  type LibraryRows,
  type NewId,
  type Op,
  setFields,
} from '../swatch/index.ts';
import { firstKeys, keysAt } from '../swatch/order-keys.ts';
import type { Asked, Check, Finding, Fix, Found } from './check.ts';

/** What was chosen for each check, by its id. */
export type Chosen = Readonly<Record<string, Asked['options']>>;

/** The profiles that chosen options name. */
export const profilesNamed = (checks: readonly Check[], chosen: Chosen): string[] =>
  checks.flatMap((check) =>
    check.options.flatMap((o) => {
      const value = o.type === 'profile' ? String(optionOf(check, chosen[check.id], o.id)) : '';
      return value ? [value] : [];
    }),
  );

/** Runs one check on a library. */
export function runCheck(
  check: Check,
  library: Library,
  chosen: Chosen,
  about: {
    condition: Condition;
    beside?: ReadonlyMap<string, Condition>;
    against?: Library | null;
    breathe?: Asked['breathe'];
  },
): Promise<Found> {
  return check.find({
    library,
    condition: about.condition,
    options: chosen[check.id] ?? {},
    beside: about.beside ?? new Map(),
    against: about.against ?? null,
    alone: leftAlone(library, check.id),
    breathe: about.breathe ?? (async () => undefined),
  });
}

// --- what is to be left alone: an item each, beside the swatches it is about

const LEFT = 'left-alone';
interface Left {
  check: string;
  key: string;
}
const isLeft = (item: Item): item is Item & { data: Left } => item.kind === LEFT;

/** The findings of a check that the user has left alone. */
export const leftAlone = (library: Library, check: string): ReadonlySet<string> =>
  new Set(
    (library.items ?? []).filter(isLeft).flatMap(({ data }) => (data.check === check ? [data.key] : [])),
  );

/** Leaves a finding alone, in this library and from now on. */
export function leaveAlone(rows: LibraryRows, check: Check, finding: Finding, newId: NewId): Draft {
  const places = rows.itemPlaces();
  const { keys } = keysAt(places, places.length, 1);
  const data: Left = { check: check.id, key: finding.key };
  return {
    label: `leave “${finding.name}” as it is (${check.title})`,
    ops: [
      {
        op: 'put',
        of: 'item',
        id: newId(),
        fields: { order: keys[0]!, kind: LEFT, name: finding.name, refs: finding.swatches, data },
      },
    ],
  };
}

/** Looks again at everything of a check that was left alone. */
export function lookAgain(rows: LibraryRows, check: Check): Draft {
  const left = (rows.library.items ?? []).filter((i) => isLeft(i) && i.data.check === check.id);
  return {
    label: `look again at what was left (${check.title})`,
    ops: left.map((i): Op => ({ op: 'drop', of: 'item', id: i.id })),
  };
}

/** A fix as one edit of the library. */
export function fix(rows: LibraryRows, { name }: Finding, { label, steps }: Fix, newId: NewId): Draft {
  const ops: Op[] = [];
  for (const step of steps) {
    if ('set' in step) ops.push(...setFields([step.set], step.fields).ops);
    else if ('ops' in step) ops.push(...step.ops);
    else if ('drop' in step) ops.push({ op: 'drop', of: 'swatch', id: step.drop });
    else {
      const { library } = rows;
      const swatch = { ...step.add, id: newId() };
      const home = library.groups.find((g) => g.name === step.group) ?? library.groups[0];
      if (home) ops.push(...addSwatches(rows, home.id, [swatch]).ops);
      else {
        const group = newId();
        const [order] = firstKeys(1);
        ops.push({ op: 'put', of: 'group', id: group, fields: { order: order!, name: step.group } });
        ops.push({
          op: 'put',
          of: 'swatch',
          id: swatch.id,
          fields: { ...swatch, id: undefined, group, order: order! },
        });
      }
    }
  }
  return { label: `${label.charAt(0).toLocaleLowerCase('en')}${label.slice(1)} (${name})`, ops };
}
