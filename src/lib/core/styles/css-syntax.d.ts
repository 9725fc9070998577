/** The parts of css-tree that are needed, without its data of every property, which are most of it. */
declare module 'css-tree/parser' {
  import type { parse } from 'css-tree';
  const parser: typeof parse;
  export default parser;
}
declare module 'css-tree/generator' {
  import type { generate } from 'css-tree';
  const generator: typeof generate;
  export default generator;
}
declare module 'css-tree/walker' {
  import type { walk } from 'css-tree';
  const walker: typeof walk;
  export default walker;
}
declare module 'css-tree/utils' {
  export { ident } from 'css-tree';
}
