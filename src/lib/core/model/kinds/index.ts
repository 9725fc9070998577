import { choice } from './choice';
import { date } from './date';
import { dateTime } from './date-time';
import type { FieldKind } from './kind';
import { link } from './link';
import { longText } from './long-text';
import { number } from './number';
import { picture } from './picture';
import { relation } from './relation';
import { terms } from './terms';
import { text } from './text';
import { yesNo } from './yes-no';

/** Every kind, in the order in which forms offer them. A new kind is one file here and one line in this list. */
export const kinds: FieldKind[] = [
  text,
  longText,
  number,
  yesNo,
  date,
  dateTime,
  choice,
  link,
  picture,
  relation,
  terms,
];

const byName = new Map(kinds.map((kind) => [kind.name, kind]));

export const kindNamed = (name: string): FieldKind | undefined => byName.get(name);
