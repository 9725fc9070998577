import sign from 'lucide/dist/esm/icons/hourglass.mjs';
import { z } from 'zod';
import { DURATION_PATTERN, LONGEST_DURATION, parseDuration, writeIso } from '../../base/duration';
import { writeDuration } from '../../base/write-duration';
import { duration as family } from '../families/duration';
import { defineKind } from './kind';
import { isText } from './schema-node';

const EXAMPLE = 'such as PT2H30M for two and a half hours, or P3D for three days';
/** "2:30" and "2 h 30 min" in the cells of tables; hours and minutes. */
const CLOCK = /^(\d{1,4}):([0-5]\d)$/;
const WORDS = /^(?:(\d{1,4})\s*h)?\s*(?:(\d{1,4})\s*(?:m|min)\.?)?$/i;

function fromCell(cell: string): string {
  const text = cell.trim();
  const [, hours, minutes] = CLOCK.exec(text) ?? WORDS.exec(text) ?? [];
  return hours || minutes ? writeIso([0, 0, 0, 0, Number(hours ?? 0), Number(minutes ?? 0), 0]) : text.toUpperCase();
}

/** A span of time by ISO 8601-1, such as how long a walk takes. */
export const duration = defineKind({
  name: 'duration',
  label: 'Duration',
  sign,
  family,
  forFields: true,
  control: 'line',
  example: 'PT2H30M, 2:30 or 2 h 30 min',
  settings: z.object({}),
  settingControls: [],
  value: () =>
    z
      .string({ error: `This is a duration, ${EXAMPLE}.` })
      .max(LONGEST_DURATION, { error: `A duration is written in ${LONGEST_DURATION} characters at most.` })
      .refine((text) => parseDuration(text) !== undefined, { error: `This is a duration, ${EXAMPLE}.` }),
  isEmpty: (value) => value === '',
  text: (value, _settings, reader) => writeDuration(value, reader.model.site.locale),
  schema: () => ({ type: 'string', format: 'duration', maxLength: LONGEST_DURATION, pattern: DURATION_PATTERN }),
  fromSchema: (node) => (isText(node, 'duration') ? {} : undefined),
  fromCell,
  invent: (make) => writeIso([0, 0, 0, 0, 1 + Math.floor(make.random() * 7), Math.floor(make.random() * 4) * 15, 0]),
});
