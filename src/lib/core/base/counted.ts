/** A number with the word for what it counts, such as “1 page” and “1,200 pages”. */
export const counted = (count: number, one: string, many = `${one}s`): string =>
  `${count.toLocaleString('en')} ${count === 1 ? one : many}`;
