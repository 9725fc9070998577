import type { FieldKind } from './kinds/kind';
import type { SlotShape } from './family';
import { isIcon } from '../base/icons';
import { colour } from './kinds/colour';
import { embed } from './kinds/embed';
import { mayEmbed } from './kinds/player';
import { icon } from './kinds/icon';
import { number } from './kinds/number';
import { picture } from './kinds/picture';
import { pictures } from './kinds/pictures';
import { text } from './kinds/text';

/** What slots of one shape take: what that is called, whether it may be several, and what stands there unbound. */
interface Shape {
  needs: string;
  several: boolean;
  /** The kind of what is written into it by hand. */
  fixedKind: FieldKind;
  /** Settings of that kind. */
  fixedSettings?: unknown;
  /** What is written by hand as a value of that kind; undefined where it is none. */
  fixed(given: string | number | number[], text: string): unknown;
}

const words = (needs: string, several = true): Shape => ({ needs, several, fixedKind: text, fixed: (given) => given });
/** These hold what only fields have. */
const bound = (needs: string): Shape => ({ needs, several: true, fixedKind: text, fixed: () => undefined });

const lines = (written: string): string[] | undefined => {
  const parts = written
    .split('\n')
    .map((line) => line.trim())
    .filter(Boolean);
  return parts.length ? parts : undefined;
};

export const SLOT_SHAPES: Record<SlotShape, Shape> = {
  inline: words('text'),
  blocks: words('text'),
  url: words('an address', false),
  picture: { needs: 'a picture', several: false, fixedKind: picture, fixed: (given) => given },
  pictures: {
    needs: 'pictures',
    several: true,
    fixedKind: pictures,
    fixed: (given) => (Array.isArray(given) || typeof given === 'number' ? given : undefined),
  },
  number: {
    needs: 'a number',
    several: false,
    fixedKind: number,
    fixed: (_, written) => (written !== '' && Number.isFinite(Number(written)) ? Number(written) : undefined),
  },
  icon: {
    needs: 'an icon',
    several: false,
    fixedKind: icon,
    fixed: (_, written) => (isIcon(written) ? written : undefined),
  },
  colour: {
    needs: 'a colour',
    several: false,
    fixedKind: colour,
    fixed: (_, written) =>
      colour.value({}).safeParse(written.toLowerCase()).success ? written.toLowerCase() : undefined,
  },
  embed: {
    needs: 'a player',
    several: false,
    fixedKind: embed,
    fixedSettings: { hosts: [] },
    fixed: (_, written) => (mayEmbed(written, []) ? { src: written } : undefined),
  },
  list: { ...words('a list of values'), fixed: (_, written) => lines(written) },
  places: bound('a place'),
  rows: bound('rows'),
  terms: bound('terms'),
};
