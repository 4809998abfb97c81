// The parts of css-tree that are used, without its tables of properties; the types are those of the whole.
declare module 'css-tree/parser' {
  import { parse } from 'css-tree';
  export default parse;
}
declare module 'css-tree/generator' {
  import { generate } from 'css-tree';
  export default generate;
}
