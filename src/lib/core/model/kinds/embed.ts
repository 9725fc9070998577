import sign from 'lucide/dist/esm/icons/square-play.mjs';
import { z } from 'zod';
import { embed as family } from '../families/embed';
import { defineKind } from './kind';
import { embedFrom, framed, Hosts, hostsControl, playerSchema, playerValue } from './player';

export const embed = defineKind({
  name: 'embed',
  label: 'Embed',
  sign,
  family,
  outside: 'player',
  forFields: true,
  control: 'embed',
  settings: z.object({ hosts: Hosts }),
  settingControls: [hostsControl],
  value: ({ hosts }) => playerValue(hosts),
  isEmpty: (value) => value.src === '',
  text: (value) => value.title ?? value.src,
  url: (value) => value.src,
  blocks: (value, { hosts }) => framed(value, hosts),
  schema: ({ hosts }) => playerSchema(hosts),
  // The address alone, or all that is kept of it as JSON.
  fromCell: (cell) => {
    if (!cell.trim().startsWith('{')) return embedFrom(cell);
    try {
      return JSON.parse(cell) as unknown;
    } catch {
      return cell;
    }
  },
  toCell: (value) => (Object.keys(value).length > 1 ? JSON.stringify(value) : value.src),
  invent: (make) => ({
    src: `/player/${
      make
        .words(1)
        .toLowerCase()
        .replace(/[^a-z0-9]/g, '') || 'film'
    }`,
    title: make.words(3),
  }),
});
