import { cut } from './cut';
import { date } from './date';
import type { Format } from './format';
import { letterCase } from './letter-case';
import { number } from './number';

/** Every format, in the order in which the picker offers them. A new format is one file here and one line in this list. */
export const formats: Format[] = [date, number, cut, letterCase];

const byName = new Map(formats.map((format) => [format.name, format]));

export const formatNamed = (name: string): Format | undefined => byName.get(name);
