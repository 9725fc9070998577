import { writeList } from '../base/write';
import type { Env } from '../paths/env';
import type { ValueType } from '../paths/scopes';

/** A value as text, a list joined as the locale joins lists; '' where it is empty. */
export function writeValue(value: unknown, type: ValueType, env: Env): string {
  if (value === undefined) return '';
  const { kind, settings } = type;
  if (!Array.isArray(value)) return kind.text(value, settings, env.reader);
  const texts = value.map((one) => kind.text(one, settings, env.reader)).filter(Boolean);
  return texts.length > 1 ? writeList(texts, env.model.site.locale) : (texts[0] ?? '');
}
