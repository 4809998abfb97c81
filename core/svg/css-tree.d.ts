// The parts of css-tree that are used, without its tables of properties; the types are those of the whole.
declare module 'css-tree/parser' {
  import { parse } from 'css-tree';
  export default parse;
}
declare module 'css-tree/generator' {
  import { generate } from 'css-tree';
  export default generate;
}
declare module 'css-tree/tokenizer' {
  /** Calls back with each token: its type, where it begins, and where it ends. */
  export function tokenize(source: string, onToken: (type: number, start: number, end: number) => void): void;
  /** The types by the names of CSS Syntax 3, such as `AtKeyword`. */
  export const tokenTypes: Readonly<Record<string, number>>;
}
