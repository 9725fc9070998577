import { choice } from './choice';
import { cut } from './cut';
import { date } from './date';
import { duration } from './duration';
import { email } from './email';
import type { Format } from './format';
import { letterCase } from './letter-case';
import { length } from './length';
import { link } from './link';
import { list } from './list';
import { money } from './money';
import { number } from './number';
import { phone } from './phone';
import { plain } from './plain';
import { time } from './time';
import { yesNo } from './yes-no';

/** Every format, in the order in which the picker offers them. A new format is one file here and one line in this list. */
export const formats: Format[] = [
  date,
  time,
  duration,
  number,
  money,
  yesNo,
  choice,
  link,
  phone,
  email,
  list,
  cut,
  plain,
  length,
  letterCase,
];

const byName = new Map(formats.map((format) => [format.name, format]));

export const formatNamed = (name: string): Format | undefined => byName.get(name);
