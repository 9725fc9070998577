import type { Inventor } from '../model/kinds/kind';

const NOUNS =
  'ridge tarn larch bench lantern ford cairn slope meadow gable stove kettle ledger path terrace spring gate barn beacon hollow orchard bridge chapel mill quarry ferry island pasture signal thicket'.split(
    ' ',
  );
const ADJECTIVES =
  'upper quiet long grey windward early narrow open steep lower bright hidden northern old green wide small western far stony warm broken even mossy clear'.split(
    ' ',
  );
const VERBS = 'follows crosses overlooks reaches leaves shelters meets keeps joins passes'.split(' ');

/** Random numbers from 0 up to 1 that follow from a seed (mulberry32, by Tommy Ettinger; public domain). */
export function randomFrom(seed: number): () => number {
  let state = seed | 0;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

/** Words, sentences and names made up from a seed; the same seed gives the same ones in the same order. */
export function inventor(seed: number): Pick<Inventor, 'random' | 'words' | 'sentence' | 'name'> {
  const random = randomFrom(seed);
  const from = (list: string[]) => list[Math.floor(random() * list.length)] as string;
  return {
    random,
    words: (count) =>
      Array.from({ length: count }, (_, i) =>
        i === count - 1 ? capital(from(NOUNS)) : capital(from(ADJECTIVES)),
      ).join(' '),
    sentence: () =>
      `The ${from(ADJECTIVES)} ${from(NOUNS)} ${from(VERBS)} the ${from(ADJECTIVES)} ${from(NOUNS)}${random() < 0.5 ? ` beside the ${from(NOUNS)}` : ''}.`,
    name: () =>
      `${capital(from(ADJECTIVES))} ${capital(from(NOUNS))}${random() < 0.25 ? ` and ${capital(from(NOUNS))}` : ''}`,
  };
}
