/** JSON with the keys of objects in order, and nothing for what is undefined. */
export const canonical = (value: unknown): string =>
  JSON.stringify(value, (_, v: unknown) =>
    v && typeof v === 'object' && !Array.isArray(v)
      ? Object.fromEntries(Object.entries(v).sort(([a], [b]) => (a < b ? -1 : a > b ? 1 : 0)))
      : v,
  ) ?? '';

/** Whether two values say the same as plain data. */
export const same = (a: unknown, b: unknown): boolean => canonical(a) === canonical(b);
