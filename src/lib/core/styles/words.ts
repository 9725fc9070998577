import type { StyleValue } from '../schema/style';
import type { Theme } from '../schema/theme';
import type { StyleProperty } from './property';

/** What a property is set to as the panel calls it: the name of a token, a choice, or a length as it is. */
export function valueWords({ control }: StyleProperty, value: StyleValue, theme: Theme): string {
  if (control.as === 'token') return theme[control.of].find(({ key }) => key === value)?.name ?? String(value);
  const named = control.as === 'pick' ? control.options : control.as === 'length' ? control.steps : [];
  return named.find((option) => option.value === value)?.label ?? String(value);
}
