/** One drawing of the Lucide set, by itself. */
declare module 'lucide/dist/esm/icons/*.mjs' {
  const sign: readonly (readonly [string, Readonly<Record<string, string | number>>])[];
  export default sign;
}
