/** From where something is done. */
export const WAYS = ['screen', 'API', 'import', 'schedule', 'start'] as const;
export type Way = (typeof WAYS)[number];

export const WAY_WORDS: Record<Way, string> = {
  screen: 'the studio',
  API: 'a program',
  import: 'an import',
  schedule: 'a date that came',
  start: 'the first start',
};
