import type { Color } from '../../color/index.ts';
import { calculator } from '../../pdf/functions.ts';
import { FormatError } from '../../text/error.ts';
import { plural } from '../../text/text.ts';
import { decoder } from '../draft.ts';
import type { PlainFormat } from '../format.ts';

// PostScript Language Reference, third edition: 3.2 (syntax), 4.8 (colour spaces), 8.2 (operators); Document Structuring
// Conventions 3.0, 5.4 (colour comments); Encapsulated PostScript File Format 3.0 (the binary header). It is not run: numbers
// right before an operator are its operands.

const BEGINNING = '%!PS';
/** An EPS with a preview begins so, and tells where its PostScript lies. */
const BINARY_HEADER = 0xc5d0d3c6;
const MAX_COLORS = 2000;
const MAX_OPERANDS = 40;
const MAX_COMMENT_CHARACTERS = 20_000;
/** A procedure that stands for an operator is short, and so is what says what a separation is. */
const MAX_PROCEDURE_CHARACTERS = 200;
const MAX_SPACE_CHARACTERS = 4000;

/** Operators that set a colour, and how many numbers each wants. */
const OPERATORS: Record<string, [count: number, color: (v: number[]) => Color]> = {
  setgray: [1, (v) => ({ space: 'gray', components: v })],
  setrgbcolor: [3, (v) => ({ space: 'rgb', components: v })],
  setcmykcolor: [4, (v) => ({ space: 'cmyk', components: v })],
  sethsbcolor: [3, ([h, s, v]) => ({ space: 'hsb', components: [(h ?? 0) * 360, s ?? 0, v ?? 0] })],
};
const DEVICES: Record<string, string> = {
  '/DeviceGray': 'setgray',
  '/DeviceRGB': 'setrgbcolor',
  '/DeviceCMYK': 'setcmykcolor',
};
/** Inks of a separation that are none of their own. */
const PROCESS = new Set(['All', 'None', 'Cyan', 'Magenta', 'Yellow', 'Black']);

const TOKEN =
  /%[^\r\n]*|\((?:[^()\\]|\\[\s\S]|\((?:[^()\\]|\\[\s\S])*\))*\)|<~[^~]*~>|<<|>>|<[\s\da-fA-F]*>|[[\]{}]|\/{0,2}[^\s()<>[\]{}/%]+|\/|\s+|[\s\S]/g;

/** The PostScript of a file, as text of one byte each. */
function textOf(bytes: Uint8Array): string {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let own = bytes;
  if (bytes.length >= 12 && view.getUint32(0) === BINARY_HEADER) {
    const [from, length] = [view.getUint32(4, true), view.getUint32(8, true)];
    if (from + length > bytes.length || length === 0)
      throw new FormatError('its PostScript is not where its header says. It is cut short; export it again.');
    own = bytes.subarray(from, from + length);
  }
  return withoutData(new TextDecoder('latin1').decode(own));
}

/** The text without what lies between the comments that enclose data (DSC 5.3). */
function withoutData(text: string): string {
  const kept: string[] = [];
  let from = 0;
  for (;;) {
    const begin = /%%Begin(Data|Binary):/g;
    begin.lastIndex = from;
    const found = begin.exec(text);
    const end = found ? text.indexOf(`%%End${found[1]}`, found.index) : -1;
    if (!found || end < 0) break;
    kept.push(text.slice(from, found.index));
    from = end;
  }
  return kept.join('') + text.slice(from);
}

const unescaped = (text: string) =>
  text
    .slice(1, -1)
    .replace(/\\([0-7]{1,3}|[\s\S])/g, (_, c) =>
      /^[0-7]/.test(c)
        ? String.fromCharCode(Number.parseInt(c, 8) & 255)
        : ({ n: '\n', r: '\r', t: '\t' }[c as string] ?? c),
    );

const inRange = (v: number[]) => v.every((n) => n >= 0 && n <= 1);

/** Colours while a file is read: its spot colours, and what is painted with, each once. */
class Found {
  readonly spots = new Map<string, Color | null>();
  readonly process = new Map<string, Color>();
  beyond = 0;

  spot(name: string, color: Color | null): void {
    if (name !== '' && !PROCESS.has(name) && this.spots.size < MAX_COLORS && !this.spots.get(name))
      this.spots.set(name, color);
  }

  paint(color: Color): void {
    const key = JSON.stringify(color);
    if (this.process.size < MAX_COLORS) this.process.set(key, color);
    else if (!this.process.has(key)) this.beyond++;
  }
}

/** The comments by which a file says its colours before anyone runs it. */
function readComments(text: string, found: Found): void {
  const COMMENT =
    /^%%(CMYKCustomColor|RGBCustomColor|DocumentCustomColors):([^\r\n]*(?:[\r\n]+%%\+[^\r\n]*)*)/gm;
  for (const [, kind, rest = ''] of text.matchAll(COMMENT)) {
    for (const [, numbers = '', name = ''] of rest
      .slice(0, MAX_COMMENT_CHARACTERS)
      .matchAll(/([-\d.\s+e]*)(\((?:[^()\\\r\n]|\\.|\([^()\r\n]*\))*\))/g)) {
      const values = numbers.trim().split(/\s+/).map(Number).filter(Number.isFinite);
      const space = kind === 'CMYKCustomColor' ? 'cmyk' : 'rgb';
      const wanted = space === 'cmyk' ? 4 : 3;
      const given = kind !== 'DocumentCustomColors' && values.length >= wanted;
      const components = values.slice(-wanted);
      found.spot(unescaped(name), given && inRange(components) ? { space, components } : null);
    }
  }
}

/** The operator that a procedure is another name of, and that name; null when it is more than one operator. */
function aliasIn(text: string, from: number, to: number): { name: string; stands: string } | null {
  if (to - from > MAX_PROCEDURE_CHARACTERS) return null;
  const words = text
    .slice(from + 1, to)
    .trim()
    .split(/\s+/)
    .filter((w) => w !== 'bind');
  const [, name] =
    /\/([^\s()<>[\]{}/%]+)\s*$/.exec(text.slice(Math.max(0, from - MAX_PROCEDURE_CHARACTERS), from)) ?? [];
  return name && words.length === 1 ? { name, stands: words[0]! } : null;
}

/** What the operators of a file set. */
class Operators {
  /** Names that stand for an operator, as prologues define them. */
  private readonly alias = new Map<string, string>();
  private operands: (number | string)[] = [];
  /** The operator that sets what `setcolor` sets. */
  private setter: string | null = null;

  constructor(
    private readonly text: string,
    private readonly found: Found,
  ) {}

  read(): void {
    const open: number[] = [];
    let before = '';
    for (const { 0: token, index } of this.text.matchAll(TOKEN)) {
      if (/^[\s%]/.test(token)) continue;
      if (token === '{') open.push(index);
      if (token === '}') {
        const from = open.pop();
        const alias = from === undefined ? null : aliasIn(this.text, from, index);
        if (alias) this.alias.set(alias.name, this.alias.get(alias.stands) ?? alias.stands);
        this.operands = [];
      } else if (/^[-+.\d]/.test(token) && Number.isFinite(Number(token))) this.push(Number(token));
      else if (token.startsWith('/') || token.startsWith('(')) this.push(token);
      else {
        this.operate(this.alias.get(token) ?? token, index, before);
        if (!/^[[\]{]$/.test(token)) this.operands = [];
      }
      before = token;
    }
  }

  private push(operand: number | string): void {
    this.operands.push(operand);
    if (this.operands.length > MAX_OPERANDS) this.operands.shift();
  }

  private operate(operator: string, index: number, before: string): void {
    const last = this.operands.at(-1);
    if (Object.hasOwn(OPERATORS, operator)) {
      this.paint(operator);
      this.setter = null;
    } else if (operator === 'setcolor' && this.setter) this.paint(this.setter);
    else if (operator === 'load' && typeof last === 'string' && this.operands.length > 1)
      this.alias.set(String(this.operands.at(-2)).slice(1), last.slice(1));
    else if (operator === 'findcmykcustomcolor' && typeof last === 'string') {
      const inks = this.operands.slice(-5, -1).filter((v) => typeof v === 'number');
      if (inks.length === 4 && inRange(inks))
        this.found.spot(unescaped(last), { space: 'cmyk', components: inks });
    } else if (operator === 'setcolorspace') {
      this.setter = (typeof last === 'string' && DEVICES[last]) || null;
      const spot =
        before === ']'
          ? separationIn(this.text.slice(Math.max(0, index - MAX_SPACE_CHARACTERS), index))
          : null;
      if (spot) this.found.spot(spot.name, spot.color);
    }
  }

  /** What an operator sets with the numbers right before it. */
  private paint(operator: string): void {
    const [count, color] = OPERATORS[operator]!;
    const values = this.operands.slice(-count).filter((v) => typeof v === 'number');
    if (values.length === count && inRange(values)) this.found.paint(clean(color(values)));
  }
}

/** The ink of a separation that an array names, right before the end of a text, and what stands for it (4.8.4). */
function separationIn(text: string): { name: string; color: Color | null } | null {
  const from = text.lastIndexOf('/Separation');
  const [, named, device, program] =
    (from >= 0 &&
      /^\/Separation\s*(\((?:[^()\\]|\\[\s\S])*\)|\/[^\s()<>[\]{}/%]+)\s*(?:cvn\s*)?\[?\s*(\/\w+)\s*\]?\s*([\s\S]*)\]\s*$/.exec(
        text.slice(from),
      )) ||
    [];
  if (!named || !device || !program) return null;
  const setter = OPERATORS[DEVICES[device] ?? ''];
  const values = calculator(program.replace(/\b(?:bind|cvx|exec)\b/g, ' '))?.([1]);
  return {
    name: named.startsWith('(') ? unescaped(named) : named.slice(1),
    color: setter && values?.length === setter[0] && inRange(values) ? clean(setter[1](values)) : null,
  };
}

/** Rounded to what people see of it: programs write what they have reckoned. */
const clean = ({ space, components }: Color): Color => ({
  space,
  components: components.map((v) => Number(v.toFixed(6))),
});

export const ps: PlainFormat = {
  id: 'ps',
  name: 'PostScript and EPS',
  about:
    'Drawings for print: spot colours by name with what stands for them, and the process colours set in it.',
  endings: ['eps', 'ps'],
  mime: 'application/postscript',
  traits: {
    ...{ read: true, write: false, names: true, groups: true, kinds: ['process', 'spot'] },
    ...{ spaces: ['cmyk', 'rgb', 'gray', 'hsb'], bits: 20 },
  },

  recognise(bytes) {
    const head = String.fromCharCode(...bytes.subarray(0, 4));
    return head === BEGINNING || head === '\xc5\xd0\xd3\xc6' ? 1 : 0;
  },

  decode: decoder((bytes, draft) => {
    const text = textOf(bytes);
    const found = new Found();
    readComments(text, found);
    new Operators(text, found).read();
    const spots = [...found.spots].filter(([, color]) => color);
    const without = [...found.spots].flatMap(([name, color]) => (color ? [] : [name]));
    if (spots.length > 0) {
      if (found.process.size > 0) draft.enter('Spot colours');
      for (const [name, color] of spots) draft.add({ name, kind: 'spot', color: color! });
    }
    if (found.process.size > 0) {
      if (spots.length > 0) draft.enter('Process colours');
      for (const color of found.process.values()) draft.add({ color });
    }
    if (without.length > 0)
      draft.warn(
        `Named without saying what stands for ${without.length === 1 ? 'it' : 'them'}, so left out: ${without.slice(0, 8).join(', ')}${without.length > 8 ? '…' : ''}.`,
      );
    if (found.beyond > 0)
      draft.warn(
        `It sets ${plural(MAX_COLORS + found.beyond, 'colour')}; the first ${MAX_COLORS} were read.`,
      );
    draft.name = /^%%Title:\s*\(?([^\r\n()]*)\)?/m.exec(text)?.[1]?.trim() ?? '';
    if (draft.isEmpty)
      throw new FormatError(
        'nothing in it sets a colour that can be read. It may be packed; save it as PDF or SVG, which are read whole.',
      );
  }),

  encode() {
    throw new Error('PostScript is only read.');
  },
};
