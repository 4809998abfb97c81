import type { Color } from '../../color/index.ts';
import { FormatError } from '../../text/error.ts';
import type { Draft } from '../draft.ts';

/** Of what has to be known of a colour space. */
const MAX_OBJECT_CHARACTERS = 10_000;
const LIST = '/ColorSpace <<';

/**
 * Reads a sheet that Papillon wrote: what is painted on the chips, and the exact text marked behind the names.
 * It is not a reader of other PDF files.
 */
export function readSheet(bytes: Uint8Array, draft: Draft): void {
  const file = new TextDecoder('latin1').decode(bytes);
  if (!file.startsWith('%PDF')) throw new FormatError('it is no PDF.');
  const objects = new Map<string, string>();
  for (const { 0: head, 1: id, index } of file.matchAll(/^(\d+) 0 obj\n/gm)) {
    const from = index + head.length;
    const end = file.indexOf('\nendobj', from);
    if (end < 0) break;
    if (end - from <= MAX_OBJECT_CHARACTERS) objects.set(id, file.slice(from, end));
  }
  // ids of colour spaces mean the same on every page
  const spaces = new Map<string, string>();
  for (let at = file.indexOf(LIST); at >= 0; at = file.indexOf(LIST, at)) {
    const end = file.indexOf('>>', at);
    if (end < 0) break;
    for (const [, id, ref] of file.slice(at, end).matchAll(/\/(\w+) (\d+) 0 R/g))
      spaces.set(id, objects.get(ref) ?? '');
    at = end;
  }

  let chip: Parameters<Draft['add']>[0] | null = null;
  const finish = () => {
    if (chip) draft.add(chip);
    chip = null;
  };
  const line =
    /^q (.+) \S+ \S+ \S+ \S+ re f Q$|^\/(H1|H2|Span|Code|Role) <<\/ActualText <FEFF([0-9A-F]*)>>> BDC$/gm;
  for (const [, paint, tag, units = ''] of file.matchAll(line)) {
    if (paint) {
      finish();
      chip = painted(paint, spaces);
      continue;
    }
    const text = String.fromCharCode(...(units.match(/.{4}/g) ?? []).map((u) => Number.parseInt(u, 16)));
    if (tag === 'H1') draft.name = text;
    else if (tag === 'H2') {
      finish();
      draft.enter(text);
    } else if (tag === 'Span' && chip?.kind === 'spot' && !chip.tint) {
      // a plate is called what it is called, whatever stands beside its chip
    } else if (chip) chip = { ...chip, [tag === 'Span' ? 'name' : tag!.toLowerCase()]: text };
  }
  finish();
}

/** The text of a PDF name. */
const nameIn = (name: string) =>
  new TextDecoder().decode(
    Uint8Array.from(
      [...name.matchAll(/#([0-9a-f]{2})|([^#])/g)].map(([, hex, letter]) =>
        hex ? Number.parseInt(hex, 16) : letter!.charCodeAt(0),
      ),
    ),
  );

function painted(operators: string, spaces: Map<string, string>): Parameters<Draft['add']>[0] {
  const words = operators.split(' ');
  const values = words.map(Number).filter(Number.isFinite);
  if (words.at(-1) === 'k') return { color: { space: 'cmyk', components: values } };
  if (words.at(-1) === 'g') return { color: { space: 'gray', components: values } };
  const id = words[0].slice(1);
  if (!id.startsWith('Ink')) return { color: { space: id === 'Lab' ? 'lab' : 'rgb', components: values } };
  const definition = spaces.get(id) ?? '';
  const components = /\/C1 \[([^\]]*)\]/.exec(definition)?.[1].trim().split(/\s+/).map(Number) ?? [];
  const lab = /\/C0 \[100 0 0\]/.test(definition);
  const part = values.at(-1) ?? 1;
  const name = /\/?Separation \/(\S+)/.exec(definition)?.[1];
  const byCount: Record<number, Color['space']> = { 1: 'gray', 3: lab ? 'lab' : 'rgb', 4: 'cmyk' };
  const space = byCount[components.length] ?? 'rgb';
  const called = name === undefined ? '' : nameIn(name);
  if (!(part < 1)) return { name: called, kind: 'spot', color: { space, components } };
  const paper = /\/C0 \[([^\]]*)\]/.exec(definition)?.[1].trim().split(/\s+/).map(Number) ?? [];
  return {
    kind: 'spot',
    color: { space, components: components.map((v, i) => (paper[i] ?? 0) + (v - (paper[i] ?? 0)) * part) },
    tint: { of: called, percent: Math.round(part * 1e4) / 100 },
  };
}
