import {
  authored,
  type Color,
  type Condition,
  deltaE00,
  screenOnly,
  spaces,
  toCss,
  toHex,
  toLab,
} from '../color/index.ts';
import type { Options } from '../options.ts';
import type { Services } from '../services.ts';
import { BOARD, boardsOf } from '../swatch/board.ts';
import { same } from '../swatch/change.ts';
import { ARTWORK } from '../swatch/colorway.ts';
import { TEXT_FIELDS, type TextFieldId, textFieldIds } from '../swatch/fields.ts';
import { GRADIENT, gradientsOf, resolvedStops } from '../swatch/gradient.ts';
import { recipeText, tintText } from '../swatch/ink.ts';
import {
  allSwatches,
  countingIds,
  type Group,
  isLoose,
  type Library,
  type Swatch,
  swatchLabel,
} from '../swatch/model.ts';
import { READING } from '../swatch/reading.ts';
import { SURFACES } from '../swatch/surfaces.ts';
import { plural } from '../text/text.ts';
import type { Format } from './format.ts';
import { writeAs } from './write.ts';

/** What differs for one swatch at the other end of a file. */
export interface Change {
  /** The swatch's name here. */
  swatch: string;
  id: string;
  what:
    | 'missing'
    | 'name'
    | 'group'
    | 'merged'
    | 'kind'
    | 'global'
    | 'space'
    | 'numbers'
    | 'alpha'
    | 'order'
    | 'spectrum'
    | 'alternates'
    | 'tint'
    | 'recipe'
    | 'special'
    | 'gap'
    | TextFieldId;
  before: string;
  after: string;
  /** CIEDE2000 of here and there, where the colour itself is concerned. */
  deltaE00?: number;
  /** Papillon reads it back as it was; nobody else does. */
  papillonOnly?: true;
}

export interface ChangeReport {
  changes: Change[];
  /** Every swatch with its colour at the other end; null when it does not arrive. */
  arrivals: { swatch: Swatch; group: Group; there: Swatch | null; deltaE00: number }[];
  /** How many swatches differ in more than their group. */
  changed: number;
  largestDeltaE00: number;
  groupsLost: boolean;
  /** What becomes of groups that are not simply lost, each once, in words. */
  groupChanges: string[];
  /** The library's own name, columns and note that do not arrive. */
  libraryLosses: string[];
}

/** Component differences below this part of the channel's range are the noise of 32-bit floats. */
const FLOAT_NOISE = 1e-6;

/**
 * What will be different after the library has been written in a format, found by writing it and reading it
 * back as another reader would, who knows nothing of what Papillon writes for itself. No format keeps a list of its own losses.
 */
export async function changes(
  library: Library,
  format: Format,
  services: Services,
  options?: Options,
): Promise<ChangeReport> {
  const written = await writeAs(format, library, services, options);
  return compareWritten(library, written, format, services.condition);
}

/** {@link changes} where the file has been written already. */
export async function compareWritten(
  library: Library,
  written: Uint8Array<ArrayBuffer>,
  format: Format,
  condition: Condition,
): Promise<ChangeReport> {
  const { library: back } = await format.decode(written, countingIds());
  const own = compareLibraries(library, back, format, condition);
  if (!format.ownWords) return own;
  const { library: there } = await format.decode(written, countingIds(), { asOthers: true });
  const report = compareLibraries(library, there, format, condition);
  const told = new Map(own.changes.map((c) => [`${c.id} ${c.what}`, c]));
  report.changes = report.changes.map((c) => {
    const known = told.get(`${c.id} ${c.what}`);
    return known ? c : { ...c, papillonOnly: true as const };
  });
  report.libraryLosses = report.libraryLosses.map((l) =>
    own.libraryLosses.includes(l) ? l : `${l}${FOR_PAPILLON}`,
  );
  return report;
}

const FOR_PAPILLON = ' (kept for Papillon only)';

/**
 * {@link changes} of a library that goes out in several files, as one report. A file per group keeps the groups apart,
 * so that a group is then never lost.
 */
export async function changesInParts(
  parts: Library[],
  format: Format,
  services: Services,
  perGroup = false,
  options?: Options,
): Promise<ChangeReport> {
  const reports: ChangeReport[] = [];
  // one after the other, so that only one file is in memory
  for (const part of parts) reports.push(await changes(part, format, services, options));
  if (reports.length === 1 && !perGroup) return reports[0];
  const all = reports.flatMap((r) => r.changes);
  const losses = new Set(reports.flatMap((r) => r.libraryLosses));
  // each file is named after its group, which is not the library's own name
  if (perGroup) losses.delete(NAME_LOSS);
  return {
    changes: perGroup ? all.filter((c) => c.what !== 'group') : all,
    arrivals: reports.flatMap((r) => r.arrivals),
    changed: reports.reduce((n, r) => n + r.changed, 0),
    largestDeltaE00: Math.max(0, ...reports.map((r) => r.largestDeltaE00)),
    groupsLost: !perGroup && reports.some((r) => r.groupsLost),
    groupChanges: perGroup ? [] : [...new Set(reports.flatMap((r) => r.groupChanges))],
    libraryLosses: [...losses],
  };
}

/** What a library holds beside swatches, by kind. */
const ITEM_WORDS = [
  ['pairing', 'equivalents in books'],
  ['set', 'curated sets'],
  [GRADIENT, 'gradients'],
  [SURFACES, 'surfaces of materials'],
  [READING, 'measured inks'],
  [ARTWORK, 'artwork with its colourways'],
  [BOARD, 'boards'],
] as const;

const NAME_LOSS = 'the library’s name';

/** Changes that are of a swatch's group, and not of itself. */
const OF_GROUPS = new Set<Change['what']>(['group', 'merged']);

/** {@link changes} where the file has been written and read back already. */
export function compareLibraries(
  library: Library,
  there: Library,
  format: Format,
  condition: Condition,
): ChangeReport {
  condition.prepare([library, there].flatMap((l) => allSwatches(l).map((s) => s.color)));
  const { arrived, moved } = format.traits.gradientsOnly
    ? { arrived: [], moved: undefined }
    : pairUp(library, there, condition);
  const report: ChangeReport = {
    changes: [],
    arrivals: [],
    changed: 0,
    largestDeltaE00: 0,
    groupsLost: false,
    groupChanges: [],
    libraryLosses: [],
  };
  /** The first of our groups that came in each of theirs. */
  const cameIn = new Map<Group, Group>();
  const groupChanges = new Map<string, Change>();
  let place = 0;
  for (const group of library.groups) {
    const here = isLoose(library, group) ? null : group.name;
    for (const swatch of group.swatches) {
      const other = arrived[place++];
      const found = other ? compare(swatch, other.swatch, condition) : [missing(swatch, format, condition)];
      const thereGroup = other && (isLoose(there, other.group) ? null : other.group.name);
      if (moved && other && moved[place - 1] !== place - 1)
        found.push({
          swatch: swatch.name,
          id: swatch.id,
          what: 'order',
          before: String(place),
          after: String(moved[place - 1] + 1),
        });
      const ofGroup = (what: 'group' | 'merged', before: string, after: string) => {
        const change: Change = { swatch: swatch.name, id: swatch.id, what, before, after };
        found.push(change);
        if (after !== 'no group') groupChanges.set(`${what}\n${before}\n${after}`, change);
      };
      if (other && thereGroup !== here) {
        if (thereGroup === null) report.groupsLost = true;
        ofGroup('group', here ?? 'no group', thereGroup ?? 'no group');
      }
      if (other && thereGroup !== null && here !== null) {
        const first = cameIn.get(other.group);
        if (!first) cameIn.set(other.group, group);
        else if (first !== group) ofGroup('merged', here, first.name);
      }
      const dE = other ? deltaE00(toLab(swatch.color, condition), toLab(other.swatch.color, condition)) : 0;
      report.largestDeltaE00 = Math.max(report.largestDeltaE00, dE);
      if (found.some((c) => !OF_GROUPS.has(c.what))) report.changed++;
      report.changes.push(...found);
      report.arrivals.push({ swatch, group, there: other?.swatch ?? null, deltaE00: dE });
    }
  }
  report.groupChanges = [...groupChanges.values()].map(describeChange);
  const emptyGroups = (l: Library) =>
    l.groups.filter((g) => !isLoose(l, g) && g.swatches.length === 0).length;
  const lostEmpty = emptyGroups(library) - emptyGroups(there);
  if (lostEmpty > 0 && !report.groupsLost) report.libraryLosses.push(plural(lostEmpty, 'empty group'));
  // a format without a place for it leaves the name to the file's own
  if (there.name !== '' && there.name !== library.name) report.libraryLosses.push(NAME_LOSS);
  if (library.note && there.note !== library.note) report.libraryLosses.push('its note');
  if (library.columns && there.columns !== library.columns)
    report.libraryLosses.push('the number of columns');
  if (library.book && !there.book) report.libraryLosses.push('what makes it a book');
  for (const [kind, words] of ITEM_WORDS) {
    const count = (l: Library) => (l.items ?? []).filter((i) => i.kind === kind).length;
    if (kind === SURFACES && format.traits.surfaces) continue;
    if (count(library) > count(there)) report.libraryLosses.push(words);
    else if (kind === GRADIENT && gradientsDiffer(library, there))
      report.libraryLosses.push('midpoints and mixing of gradients');
    else if (kind === BOARD && objectsOf(library) > objectsOf(there))
      report.libraryLosses.push('pictures and artwork on boards');
  }
  return report;
}

const objectsOf = (library: Library) => boardsOf(library).reduce((n, b) => n + b.data.objects.length, 0);

/** Whether a gradient comes with other stops, or is mixed in another way, than it is here. */
function gradientsDiffer(here: Library, there: Library): boolean {
  const others = gradientsOf(there);
  return gradientsOf(here).some(({ data }, i) => {
    const other = others[i]?.data;
    return (
      !other ||
      other.way !== data.way ||
      other.steps !== data.steps ||
      other.stops.length !== data.stops.length ||
      data.stops.some((s, k) => (s.middle ?? 0.5) !== (other.stops[k]!.middle ?? 0.5))
    );
  });
}

/**
 * Which swatch of the file answers to which of ours: the one in the same place, unless every one of ours is
 * found as it is in some other order.
 */
export function pairUp(library: Library, there: Library, condition: Condition) {
  const arrived = there.groups.flatMap((group) => group.swatches.map((swatch) => ({ swatch, group })));
  const key = (s: Swatch) => `${toHex(s.color, condition)} ${s.name}`;
  const ours = library.groups.flatMap((g) => g.swatches.map(key));
  const theirs = arrived.map((a) => key(a.swatch));
  if (ours.length !== theirs.length || ours.every((k, i) => k === theirs[i])) return { arrived };
  const places = new Map<string, number[]>();
  // from the end, so that the first of equals is taken first
  for (let i = theirs.length - 1; i >= 0; i--) places.set(theirs[i], [...(places.get(theirs[i]) ?? []), i]);
  const moved = ours.map((k) => places.get(k)?.pop() ?? -1);
  return moved.includes(-1) ? { arrived } : { arrived: moved.map((i) => arrived[i]), moved };
}

function missing(swatch: Swatch, format: Format, condition: Condition): Change {
  return {
    swatch: swatch.name,
    id: swatch.id,
    what: 'missing',
    before: toHex(swatch.color, condition),
    after: format.traits.gradientsOnly
      ? `left out: ${format.name} holds gradients alone`
      : format.traits.most
        ? `left out: ${format.name} holds at most ${format.traits.most}`
        : 'left out',
  };
}

function compare(here: Swatch, there: Swatch, condition: Condition): Change[] {
  const found: Change[] = [];
  const note = (what: Change['what'], before: string, after: string, dE?: number) =>
    found.push({
      swatch: here.name,
      id: here.id,
      what,
      before,
      after,
      ...(dE === undefined ? {} : { deltaE00: dE }),
    });
  if (here.name !== there.name) note('name', here.name, there.name);
  if (here.kind !== there.kind) note('kind', here.kind, there.kind);
  else if (Boolean(here.global) !== Boolean(there.global)) note('global', 'global', 'not global');
  const dE = deltaE00(toLab(here.color, condition), toLab(there.color, condition));
  if (here.color.space !== there.color.space) note('space', authored(here.color), authored(there.color), dE);
  else if (!sameNumbers(here.color, there.color))
    note('numbers', numbers(here.color), numbers(there.color), dE);
  if ((here.alpha ?? 1) !== (there.alpha ?? 1)) note('alpha', percent(here.alpha), percent(there.alpha));
  if (here.spectrum && !there.spectrum) note('spectrum', 'measured', 'none');
  const lost = (here.alternates ?? []).filter(
    (a) => ![there.color, ...(there.alternates ?? [])].some((b) => a.space === b.space && sameNumbers(a, b)),
  );
  if (lost.length > 0)
    note(
      'alternates',
      lost.map(authored).join('; '),
      lost.length === here.alternates!.length && !there.alternates ? '' : 'others',
    );
  for (const field of ['tint', 'recipe', 'special'] as const)
    if (here[field] && !same(here[field], there[field])) note(field, inWords(here, field), '');
  if ((here.gap ?? 0) !== (there.gap ?? 0)) note('gap', String(here.gap ?? 0), String(there.gap ?? 0));
  for (const field of textFieldIds)
    if ((here[field] ?? '') !== (there[field] ?? '')) note(field, here[field] ?? '', there[field] ?? '');
  return found;
}

/** A swatch's field as it is shown. */
const inWords = ({ tint, recipe, special }: Swatch, field: 'tint' | 'recipe' | 'special'): string =>
  field === 'tint' ? tintText(tint!) : field === 'recipe' ? recipeText(recipe!) : special!;

const percent = (alpha = 1) => `${Math.round(alpha * 100)} %`;
const numbers = (color: Color) =>
  color.space === 'rgb' ? toCss(color, screenOnly) : color.components.join(' ');

function sameNumbers(a: Color, b: Color): boolean {
  return a.components.every((v, i) => {
    const { min, max } = spaces[a.space].channels[i];
    return Math.abs(v - b.components[i]) <= FLOAT_NOISE * (max - min);
  });
}

/** What a change means, in words. */
export const describeChange = (change: Change): string =>
  `${inPlainWords(change)}${change.papillonOnly ? FOR_PAPILLON : ''}`;

function inPlainWords(change: Change): string {
  switch (change.what) {
    case 'missing':
      return change.after;
    case 'name':
      return change.after === '' ? 'the name is not carried' : `the name becomes “${change.after}”`;
    case 'group':
      if (change.before === 'no group') return `it comes in a group “${change.after}”`;
      return change.after === 'no group'
        ? `the group “${change.before}” is not carried`
        : `the group “${change.before}” becomes “${change.after}”`;
    case 'order':
      return `it comes in place ${change.after} instead of ${change.before}`;
    case 'spectrum':
      return 'the measured spectrum is not carried';
    case 'merged':
      return change.before === change.after
        ? `two groups “${change.before}” become one`
        : `the group “${change.before}” becomes part of “${change.after}”`;
    case 'alternates':
      return change.after === ''
        ? 'its values in other colour spaces are not carried'
        : `${change.before} beside it is not carried as it is`;
    case 'tint':
      return `that it is ${change.before} is not carried`;
    case 'recipe':
      return 'the recipe is not carried';
    case 'special':
      return `that it is ${change.before} is not carried`;
    case 'gap':
      return 'the empty places before it are not kept';
    case 'kind':
      return change.before === 'technical' && change.after === 'spot'
        ? 'technical becomes spot; the exact name is kept'
        : `${change.before} becomes ${change.after}`;
    case 'global':
      return 'no longer global';
    case 'space':
      return `${change.before} becomes ${change.after}`;
    case 'numbers':
      return 'numbers are rounded';
    case 'alpha':
      return `opacity ${change.before} becomes ${change.after}`;
    default:
      if (change.before === '') return `it gets the ${change.what} “${change.after}”`;
      return change.after === ''
        ? `${change.what} “${change.before}” is not carried`
        : `${change.what} “${change.before}” becomes “${change.after}”`;
  }
}

/** A report as lines: each swatch with what changes of it; groups are reported once, by {@link summarize}. */
export const linesOfReport = ({ changes: all }: ChangeReport): string[] =>
  all.filter((c) => !OF_GROUPS.has(c.what)).map((c) => `${c.swatch || '(no name)'}: ${describeChange(c)}`);

/** Whether no colour differs by as much as is shown, a tenth of ΔE00. */
export const colorsStay = ({ largestDeltaE00 }: ChangeReport) => largestDeltaE00 < 0.05;

/** A swatch of a report as it is shown: here, there, and what changes in words. */
export interface ReportRow {
  id: string;
  /** Its name, or its hex code where it has none. */
  label: string;
  left: string;
  /** Null where it does not arrive. */
  right: string | null;
  deltaE00: number;
  /** Empty where it arrives exactly as it is. */
  what: string;
}

/** A report without its swatches. */
export interface ReportHead {
  title: string;
  detail: string;
  /** No colour changes, and every swatch arrives. */
  stay: boolean;
  /** Inks become other colours, or other colours inks. */
  inks: boolean;
  /** So many rows change; they come first. */
  changed: number;
  total: number;
}

/** A report as a screen shows it. */
export function shownReport(
  report: ChangeReport,
  condition: Condition,
): { head: ReportHead; rows: ReportRow[] } {
  const words = new Map<string, string[]>();
  for (const change of report.changes) {
    // what becomes of groups is reported once, above
    if (OF_GROUPS.has(change.what)) continue;
    const own = words.get(change.id);
    if (own) own.push(describeChange(change));
    else words.set(change.id, [describeChange(change)]);
  }
  const rows = report.arrivals.map(({ swatch, there, deltaE00 }): ReportRow => {
    const left = toHex(swatch.color, condition);
    return {
      id: swatch.id,
      label: swatchLabel(swatch, condition),
      left,
      right: there && toHex(there.color, condition),
      deltaE00,
      what: words.get(swatch.id)?.join('; ') ?? '',
    };
  });
  const changed = rows.filter((r) => r.what !== '');
  return {
    head: {
      ...summarize(report),
      stay: colorsStay(report) && report.arrivals.every((a) => a.there),
      inks: report.arrivals.some(
        ({ swatch, there }) => there && (swatch.color.space === 'cmyk') !== (there.color.space === 'cmyk'),
      ),
      changed: changed.length,
      total: rows.length,
    },
    rows: [...changed, ...rows.filter((r) => r.what === '')],
  };
}

/** The report in one sentence or two. */
export function summarize(report: ChangeReport): { title: string; detail: string } {
  const total = report.arrivals.length;
  const alone = report.changed === 0 && report.groupsLost && total > 0;
  const title = alone
    ? total === 1
      ? 'The swatch arrives; its group does not'
      : `All ${total} swatches arrive; their groups do not`
    : report.changed === 0
      ? total === 1
        ? 'The swatch arrives exactly as it is'
        : `All ${total} swatches arrive exactly as they are`
      : `${report.changed} of ${plural(total, 'swatch', 'swatches')} ${report.changed === 1 ? 'changes' : 'change'} on the way`;
  const left = report.changes.filter((c) => c.what === 'missing').length;
  const parts = [
    left > 0 && `${plural(left, 'swatch is', 'swatches are')} left out.`,
    colorsStay(report) ? 'Colours stay.' : `Largest difference ΔE00 ${report.largestDeltaE00.toFixed(1)}.`,
    report.groupsLost && !alone ? 'Groups are lost.' : '',
    ...report.groupChanges.slice(0, 3).map((g) => `${g[0]!.toUpperCase()}${g.slice(1)}.`),
    report.groupChanges.length > 3 ? `So do ${report.groupChanges.length - 3} more groups.` : '',
  ];
  const told = (only: boolean) =>
    (['name', 'kind', ...textFieldIds] as const).filter((what) => {
      const of = report.changes.filter((c) => c.what === what);
      return of.length > 0 && of.every((c) => c.papillonOnly) === only;
    });
  const lost = told(false);
  const words = (what: 'name' | 'kind' | TextFieldId) =>
    what === 'name' ? 'names' : what === 'kind' ? 'spot and technical kinds' : TEXT_FIELDS[what].many;
  if (lost.length > 0) {
    parts.push(`${sentence(lost.map(words))} do not arrive as they are.`);
  }
  const own = told(true);
  if (own.length > 0) parts.push(`${sentence(own.map(words))} are kept for Papillon only.`);
  const renamed = report.arrivals.find(
    (a) => a.swatch.kind === 'technical' && a.there && a.there.name !== a.swatch.name,
  );
  if (renamed)
    parts.push(
      `A machine that looks for “${renamed.swatch.name}” will not find it: it is written “${renamed.there!.name}”.`,
    );
  if (report.libraryLosses.length > 0) {
    parts.push(
      `${sentence(report.libraryLosses)} ${report.libraryLosses.length > 1 || /s$/.test(report.libraryLosses[0]!) ? 'stay' : 'stays'} behind.`,
    );
  }
  return { title, detail: parts.filter(Boolean).join(' ') };
}

/** `Names, roles and codes`, to begin a sentence with. */
function sentence(things: string[]): string {
  const list = things.length > 1 ? `${things.slice(0, -1).join(', ')} and ${things.at(-1)}` : things[0];
  return list[0].toUpperCase() + list.slice(1);
}

/** Every swatch of a library as a line of `inspect --json`. */
export function inspection(library: Library, format: Format, warnings: string[], condition: Condition) {
  const byId = new Map(allSwatches(library).map((s) => [s.id, s]));
  const gradient = (item: ReturnType<typeof gradientsOf>[number]) => ({
    name: item.name,
    way: item.data.way,
    ...(item.data.steps ? { steps: item.data.steps } : {}),
    stops: resolvedStops(item, (id) => byId.get(id)).map(({ color, at, middle, alpha, swatch }) => ({
      at,
      ...(swatch ? { swatch: swatch.name } : {}),
      hex: toHex(color, condition),
      ...(middle === 0.5 ? {} : { middle }),
      ...(alpha < 1 ? { alpha } : {}),
    })),
  });
  return {
    format: format.id,
    ...(library.note ? { note: library.note } : {}),
    name: library.name,
    ...(library.columns ? { columns: library.columns } : {}),
    groups: library.groups.map((g) => ({
      name: isLoose(library, g) ? null : g.name,
      swatches: g.swatches.map((s) => ({
        name: s.name,
        ...(s.code === undefined ? {} : { code: s.code }),
        kind: s.kind,
        ...(s.global ? { global: true } : {}),
        space: s.color.space,
        components: s.color.components,
        hex: toHex(s.color, condition),
        lab: toLab(s.color, condition),
        ...(s.role === undefined ? {} : { role: s.role }),
        ...(s.alpha === undefined ? {} : { alpha: s.alpha }),
        ...(s.note ? { note: s.note } : {}),
        ...(s.alternates
          ? { alternates: s.alternates.map(({ space, components }) => ({ space, components })) }
          : {}),
        ...(s.tint ? { tint: s.tint } : {}),
        ...(s.recipe ? { recipe: s.recipe } : {}),
        ...(s.spectrum ? { spectrum: s.spectrum } : {}),
      })),
    })),
    ...(gradientsOf(library).length > 0 ? { gradients: gradientsOf(library).map(gradient) } : {}),
    warnings,
  };
}
