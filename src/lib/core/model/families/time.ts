import { minutesOf } from '../../base/write';
import { defineFamily, IN_WORDS } from '../family';

const clock = (minutes: number): string =>
  `${String(Math.floor(minutes / 60)).padStart(2, '0')}:${String(Math.round(minutes) % 60).padStart(2, '0')}`;

/** Times of day, compared by minutes since midnight. */
export const time = defineFamily<string>({
  name: 'time',
  columns: { number: (value) => minutesOf(value) },
  order: 'number',
  tests: ['order'],
  formats: ['clock'],
  slots: IN_WORDS,
  role: 'words',
  severalRole: 'words',
  operand: 'time',
  possible: { by: 'line', at: clock, whole: true, step: () => 1, within: (at) => at >= 0 && at < 24 * 60 },
  groups: true,
  told: (value) => value,
});
