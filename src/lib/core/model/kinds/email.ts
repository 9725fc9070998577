import { isText } from './schema-node';
import sign from 'lucide/dist/esm/icons/at-sign.mjs';
import { z } from 'zod';
import { link as family } from '../families/link';
import { defineKind } from './kind';

/** An address as the HTML standard takes one (4.10.5.1.5, "valid e-mail address"). */
const EMAIL =
  "^[a-zA-Z0-9.!#$%&'*+\\/=?^_`{|}~-]+@[a-zA-Z0-9](?:[a-zA-Z0-9-]{0,61}[a-zA-Z0-9])?(?:\\.[a-zA-Z0-9](?:[a-zA-Z0-9-]{0,61}[a-zA-Z0-9])?)*$";

export const email = defineKind({
  name: 'email',
  label: 'E-mail address',
  sign,
  family,
  role: 'link',
  forFields: true,
  control: 'line',
  input: 'email',
  settings: z.object({}),
  settingControls: [],
  value: () =>
    z
      .string({ error: 'This is an e-mail address.' })
      .max(254, { error: 'An e-mail address takes 254 characters at most.' })
      .regex(new RegExp(EMAIL), { error: 'This is an e-mail address, such as hut@larkfell.example.' }),
  isEmpty: (value) => value.trim() === '',
  text: (value) => value,
  url: (value) => `mailto:${value}`,
  schema: () => ({ type: 'string', maxLength: 254, pattern: EMAIL }),
  fromSchema: (node) => (isText(node, 'email', 'idn-email') ? {} : undefined),
  fromCell: (cell) => cell.trim(),
  invent: (make) => `${make.words(1).toLowerCase()}@${make.words(1).toLowerCase()}.example`,
});
