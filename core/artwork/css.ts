import type { CssNode } from 'css-tree';
import parse from 'css-tree/parser';
import { tokenize, tokenTypes } from 'css-tree/tokenizer';
import { type Edit, edited } from '../text/edit.ts';
import { AT_RULES, FUNCTIONS, SVG, XLINK } from './allowed.ts';

/** A part of the same drawing, as `url()` names it. */
const INSIDE = /^url\(\s*#[^\s"'()\\<>]*\s*\)?$/i;
/** The same between quotes. */
const QUOTED_INSIDE = /^(["'])#[^\\<>]*\1$/;
const NAMESPACES = new Set([SVG, XLINK, 'http://www.w3.org/1999/xhtml']);

/** What may be something else than it seems, and has to be looked at. */
const NEEDS_LOOK = /[(\\@<]/;

/** More than any style sheet has that is not made to be gone through for ever. */
const MAX_TOKENS = 200_000;
const MAX_CHARACTERS = 4_000_000;

/** How most of what needs a look is written: transforms, colours and parts of the drawing. */
const USUAL =
  /^\s*(?:url\(#[\w-]+\)|(?:(?:matrix|translate|rotate|scale|skewX|skewY|rgba?|hsla?)\([\d\s.,eE%+-]*\)[\s,]*)+)$/;

const T = tokenTypes;

/** The types of tokens of which some are not allowed, or which say what others are. */
const LOOKED_AT = new Set([
  ...[
    T.BadString,
    T.BadUrl,
    T.CDC,
    T.CDO,
    T.AtKeyword,
    T.Semicolon,
    T.Url,
    T.String,
    T.Comment,
    T.Delim,
    T.Function,
  ],
]);

/** Ends the reading of tokens. */
class Enough extends Error {}

/**
 * Whether CSS needs nothing from elsewhere: by its tokens (CSS Syntax 3), of which all that could ask for something are in the lists
 * of what is allowed.
 *
 * @param sheet whether it is a style sheet; else declarations or a value, which may not hold at-rules
 */
export function isPlain(css: string, sheet = false): boolean {
  if (!NEEDS_LOOK.test(css) || USUAL.test(css)) return true;
  if (css.length > MAX_CHARACTERS) return false;
  /** Whether the tokens that follow are of a rule that only names namespaces. */
  let naming = false;
  /** What has to follow in a `url()` with quotes: a text, then its end. */
  let quoted: 'string' | 'end' | null = null;
  const isAllowed = (type: number, text: string): boolean => {
    if (quoted !== null) {
      if (type === T.WhiteSpace || type === T.Comment) return true;
      if (quoted === 'end') {
        quoted = null;
        return type === T.RightParenthesis;
      }
      quoted = 'end';
      if (type !== T.String) return false;
      return naming ? NAMESPACES.has(text.slice(1, -1)) : QUOTED_INSIDE.test(text);
    }
    switch (type) {
      case T.BadString:
      case T.BadUrl:
      case T.CDC:
      case T.CDO:
        return false;
      case T.AtKeyword:
        naming = /^@namespace$/i.test(text);
        return sheet && AT_RULES.has(text.slice(1).toLowerCase());
      case T.Semicolon:
        naming = false;
        return true;
      case T.Url:
        return naming ? NAMESPACES.has(text.slice(4, -1).trim()) : INSIDE.test(text);
      case T.String:
        return !text.includes('<') && (!naming || NAMESPACES.has(text.slice(1, -1)));
      case T.Comment:
        return !text.includes('</');
      case T.Delim:
        return text !== '<' && text !== '\\';
      case T.Function: {
        const name = text.slice(0, -1).toLowerCase();
        if (name === 'url') quoted = 'string';
        return name === 'url' || FUNCTIONS.has(name);
      }
      default:
        return true;
    }
  };
  try {
    tokenize(css, (type, start, end) => {
      if (quoted === null && !LOOKED_AT.has(type)) return;
      if (!isAllowed(type, css.slice(start, end))) throw new Enough();
    });
  } catch (error) {
    if (error instanceof Enough) return false;
    throw error;
  }
  return quoted === null;
}

function hasTooMuch(css: string): boolean {
  let tokens = 0;
  try {
    tokenize(css, () => {
      if (++tokens > MAX_TOKENS) throw new Enough();
    });
    return false;
  } catch {
    return true;
  }
}

const BEFORE_SEMICOLON = /\s*;/y;

/** Behind a declaration, with the semicolon that ends it. */
function pastSemicolon(css: string, from: number): number {
  BEFORE_SEMICOLON.lastIndex = from;
  return BEFORE_SEMICOLON.test(css) ? BEFORE_SEMICOLON.lastIndex : from;
}

/**
 * CSS without what needs something from elsewhere, everything else to the letter; empty where that cannot be told apart.
 *
 * @param sheet whether it is a style sheet; else declarations
 */
export function plainCss(css: string, sheet: boolean): string {
  if (isPlain(css, sheet)) return css;
  if (css.length > MAX_CHARACTERS || hasTooMuch(css)) return '';
  const cuts: Edit[] = [];
  const cut = (from: number, to: number) => cuts.push({ from, to, text: '' });
  try {
    const open: CssNode[] = [
      parse(css, {
        context: sheet ? 'stylesheet' : 'declarationList',
        positions: true,
        ...{ parseValue: false, parseCustomProperty: false },
        ...{ parseRulePrelude: false, parseAtrulePrelude: false },
        onParseError: () => {},
      }),
    ];
    for (let node = open.pop(); node; node = open.pop()) {
      const { loc } = node;
      if (node.type === 'StyleSheet' || node.type === 'Block' || node.type === 'DeclarationList') {
        open.push(...node.children);
        continue;
      }
      if (!loc) return '';
      const [from, to] = [loc.start.offset, loc.end.offset];
      const block = node.type === 'Rule' || node.type === 'Atrule' ? node.block : null;
      // what stands before the braces goes with everything in them
      const head = css.slice(from, block?.loc ? block.loc.start.offset : to);
      if (!isPlain(head, node.type === 'Atrule')) cut(from, pastSemicolon(css, to));
      else if (block) open.push(block);
    }
  } catch {
    // nested deeper than anything that styles a drawing
    return '';
  }
  const rest = edited(css, cuts);
  return isPlain(rest, sheet) ? rest : '';
}
