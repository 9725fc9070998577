import { choice } from './choice';
import { choices } from './choices';
import { colour } from './colour';
import { date } from './date';
import { dateTime } from './date-time';
import { duration } from './duration';
import { email } from './email';
import { embed } from './embed';
import { file } from './file';
import { icon } from './icon';
import type { FieldKind } from './kind';
import { link } from './link';
import { longText } from './long-text';
import { money } from './money';
import { number } from './number';
import { phone } from './phone';
import { picture } from './picture';
import { pictures } from './pictures';
import { place } from './place';
import { register } from './registry';
import { relation } from './relation';
import { richText } from './rich-text';
import { rows } from './rows';
import { terms } from './terms';
import { text } from './text';
import { time } from './time';
import { yesNo } from './yes-no';

export { kindNamed } from './registry';

/** Every kind, in the order in which forms offer them. A new kind is one file here and one line in this list. */
export const kinds: FieldKind[] = [
  text,
  longText,
  richText,
  number,
  money,
  yesNo,
  date,
  time,
  dateTime,
  duration,
  choice,
  choices,
  link,
  email,
  phone,
  picture,
  pictures,
  file,
  embed,
  icon,
  colour,
  place,
  relation,
  rows,
  terms,
];

register(kinds);
