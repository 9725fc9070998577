import sign from 'lucide/dist/esm/icons/tags.mjs';
import { z } from 'zod';
import { terms as family } from '../families/terms';
import { defineKind } from './kind';

/** The terms of one taxonomy that a record is filed under. Not a field of its own: every record has them. */
export const terms = defineKind({
  name: 'terms',
  label: 'Terms',
  sign,
  family,
  forFields: false,
  control: 'none',
  settings: z.object({ taxonomyId: z.string() }),
  settingControls: [],
  many: () => true,
  value: () => z.string(),
  isEmpty: (value) => value === '',
  gone: (value, reader) => !reader.model.term(value),
  schema: () => ({ type: 'string' }),
  invent: () => undefined,
  text: (value, _settings, reader) => reader.model.term(value)?.name ?? '',
});
