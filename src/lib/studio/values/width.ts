import type { Control } from '$lib/core/model/kinds/kind';
import { kindOf } from '$lib/core/model/field';
import type { Field } from '$lib/core/schema/field';

/** Inputs of which two stand side by side in a form, and those that need the whole width of a row. */
const WIDTHS: Record<Control, 'half' | 'normal' | 'whole'> = {
  line: 'normal',
  area: 'whole',
  rich: 'whole',
  number: 'half',
  money: 'half',
  yesno: 'half',
  date: 'half',
  time: 'half',
  datetime: 'half',
  choice: 'half',
  choices: 'normal',
  link: 'whole',
  media: 'normal',
  embed: 'whole',
  icon: 'half',
  colour: 'half',
  place: 'whole',
  records: 'whole',
  rows: 'whole',
  none: 'normal',
};

/** How much room the input of a field wants. */
export function widthOf(field: Field): 'half' | 'normal' | 'whole' {
  const known = kindOf(field);
  if (!known) return 'normal';
  if (known.kind.input) return 'half';
  return known.many && WIDTHS[known.kind.control] === 'normal' && known.kind.pointsAt
    ? 'whole'
    : WIDTHS[known.kind.control];
}
