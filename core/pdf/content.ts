import type * as Pdf from '@cantoo/pdf-lib';
import { type Edit, edited } from '../text/edit.ts';

// Content streams (ISO 32000-1, 7.8.2): operators with their places, so that some can be rewritten and all others keep their bytes.

/** An operator of a content stream. */
export interface Operator {
  name: string;
  /** As they are written; arrays and dictionaries without their brackets. */
  operands: string[];
  /** Where it begins with its operands, and where it ends. */
  from: number;
  to: number;
  /** Of a picture inside the stream (BI … EI): its bytes, a character for each. */
  data?: string;
}

/** A piece of the content of a page or form, as it stands in one object. */
interface Piece {
  ref: Pdf.PDFRef;
  from: number;
  to: number;
}

/** What a page or form draws. */
export interface Content {
  /** Unlike any other's of the file, and the same whenever it is opened. */
  key: string;
  /** All pieces together, a character for each byte. */
  text: string;
  pieces: Piece[];
  /** The page or form it is of. */
  owner: Pdf.PDFRef;
  resources: Pdf.PDFDict | null;
}

/** More operands than an operator has; a text with places between its letters has many. */
const MAX_OPERANDS = 100_000;

/** The operators of a content stream, one after the other. */
export function* operatorsOf(text: string): Generator<Operator> {
  const pattern = /%[^\r\n]*|<<|>>|<[^>]*>?|\[|\]|\(|\/[^\s/<>()[\]{}%]*|[^\s/<>()[\]{}%]+/g;
  let operands: string[] = [];
  let from = -1;
  for (let match = pattern.exec(text); match; match = pattern.exec(text)) {
    const token = match[0];
    if (token.startsWith('%')) continue;
    if (from < 0) from = match.index;
    if (token === '(') {
      pattern.lastIndex = endOfString(text, pattern.lastIndex);
      operands.push(text.slice(match.index, pattern.lastIndex));
    } else if (/^(?:<<|>>|[[\]])$/.test(token)) continue;
    else if (/^[<\-+.\d/]|^(?:true|false|null)$/.test(token)) operands.push(token);
    else if (token === 'ID') {
      // a picture in the stream ends with EI on its own; one white space stands before its data (8.9.7)
      const end = /\sEI(?=\s|$)/g;
      end.lastIndex = pattern.lastIndex;
      const found = end.exec(text);
      const to = found ? end.lastIndex : text.length;
      const data = text.slice(pattern.lastIndex + 1, found?.index ?? text.length);
      yield { name: 'EI', operands, from, to, data };
      pattern.lastIndex = to;
      [operands, from] = [[], -1];
    } else if (token !== 'BI') {
      yield { name: token, operands, from, to: pattern.lastIndex };
      [operands, from] = [[], -1];
    }
    if (operands.length > MAX_OPERANDS) operands = operands.slice(-64);
  }
}

/** Where a text in parentheses ends. @param at behind the first */
function endOfString(text: string, at: number): number {
  let depth = 1;
  for (; at < text.length && depth > 0; at++) {
    const c = text[at];
    if (c === '\\') at++;
    else if (c === '(') depth++;
    else if (c === ')') depth--;
  }
  return at;
}

/** The bytes of a text as it is written in a content stream (7.3.4). */
export function stringBytes(written: string): number[] {
  if (written.startsWith('<')) {
    const digits = written.replace(/[^\da-f]/gi, '');
    return Array.from({ length: Math.ceil(digits.length / 2) }, (_, i) =>
      Number.parseInt(digits.slice(2 * i, 2 * i + 2).padEnd(2, '0'), 16),
    );
  }
  const bytes: number[] = [];
  const inside = written.slice(1, written.endsWith(')') ? -1 : undefined);
  for (const [all, octal, other] of inside.matchAll(/\\([0-7]{1,3})|\\(\r\n|[\s\S])|[\s\S]/g)) {
    if (octal) bytes.push(Number.parseInt(octal, 8) & 255);
    else if (other === undefined) bytes.push(all.charCodeAt(0) & 255);
    else if (!/[\r\n]/.test(other)) bytes.push(ESCAPES[other] ?? other.charCodeAt(0) & 255);
  }
  return bytes;
}
const ESCAPES: Record<string, number> = { n: 10, r: 13, t: 9, b: 8, f: 12 };

/** The pieces of a content that edits change, each with its new text; pieces without any are not in it. */
export function editedPieces({ text, pieces }: Content, edits: readonly Edit[]): Map<Pdf.PDFRef, string> {
  const changed = new Map<Pdf.PDFRef, string>();
  for (const { ref, from, to } of pieces) {
    const own = edits.flatMap((edit): Edit[] => {
      const starts = edit.from >= from && (edit.from < to || (edit.from === to && edit.to === to));
      const a = Math.max(edit.from, from);
      const b = Math.min(edit.to, to);
      // an operator that goes on in the next piece is written in the one it begins in
      if (starts) return [{ from: a - from, to: b - from, text: edit.text }];
      return edit.from < from && edit.to > from ? [{ from: 0, to: b - from, text: '' }] : [];
    });
    if (own.length > 0) changed.set(ref, edited(text.slice(from, to), own));
  }
  return changed;
}
