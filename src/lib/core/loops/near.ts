/** The pages of a list that are named while one of them is open: the first, the last, and two to each side; in order. */
export const pagesNear = (page: number, pages: number): number[] =>
  [...new Set([1, ...[-2, -1, 0, 1, 2].map((d) => page + d), pages])]
    .filter((n) => n >= 1 && n <= pages)
    .sort((a, b) => a - b);
