import type { Family } from '../family';
import { choice } from './choice';
import { colour } from './colour';
import { date } from './date';
import { dateTime } from './date-time';
import { duration } from './duration';
import { embed } from './embed';
import { file } from './file';
import { icon } from './icon';
import { link } from './link';
import { number } from './number';
import { picture } from './picture';
import { place } from './place';
import { relation } from './relation';
import { rich } from './rich';
import { rows } from './rows';
import { terms } from './terms';
import { text } from './text';
import { time } from './time';
import { yesNo } from './yes-no';

/** Every family. */
export const families: readonly Family[] = [
  text,
  rich,
  number,
  yesNo,
  date,
  time,
  dateTime,
  duration,
  choice,
  link,
  picture,
  file,
  embed,
  icon,
  colour,
  place,
  relation,
  rows,
  terms,
];
