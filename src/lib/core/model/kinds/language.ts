import { z } from 'zod';
import type { SettingControl } from './kind';

const MOST = 35;

const isTag = (tag: string): boolean => {
  try {
    return Intl.getCanonicalLocales(tag).length === 1;
  } catch {
    return false;
  }
};

/** The language of a field's words where it is not that of the site: a tag of BCP 47 (RFC 5646), '' for the site's own. */
export const Language = z
  .string()
  .max(MOST)
  .refine((tag) => tag === '' || isTag(tag), {
    error: 'This is the short name of a language, such as ja, gd or pt-BR.',
  })
  .optional();

export const languageControl: SettingControl = {
  name: 'language',
  label: 'Language, where it is not the site’s',
  as: 'words',
  help: 'Its short name, such as ja or gd. Pages say so, for those who hear them.',
};

/** The language to be told beside the site's; undefined where it is the same, or not known. */
export function otherLanguage(settings: unknown, locale: string): string | undefined {
  const tag = (settings as { language?: string } | undefined)?.language;
  return tag && tag.toLowerCase() !== locale.toLowerCase() && !locale.toLowerCase().startsWith(`${tag.toLowerCase()}-`)
    ? tag
    : undefined;
}
