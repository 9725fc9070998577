/**
 * Does some work without what a library says of itself on standard output and error; whatever else is said stands.
 * @template T @param {() => T | Promise<T>} work @returns {Promise<T>}
 */
export async function quietly(work) {
  const { warn, info } = console;
  const unless =
    (/** @type {typeof warn} */ say) =>
    (/** @type {unknown[]} */ ...words) =>
      void (/oidc-provider (WARNING|NOTICE)/.test(String(words[0])) || say(...words));
  console.warn = unless(warn);
  console.info = unless(info);
  try {
    return await work();
  } finally {
    Object.assign(console, { warn, info });
  }
}
