import sign from 'lucide/dist/esm/icons/menu.mjs';
import { z } from 'zod';
import type { MenuEntry } from '../schema/menu';
import type { ModelIndex } from '../model/model-index';
import type { Env } from '../paths/env';
import { addressOf } from '../addresses/addresses';
import { addressOfArchive, titleOfArchive, type ArchiveOf } from '../addresses/archives';
import { escapeHtml, safeUrl } from '../base/text';
import { box, face, INLINE, PADDING, pointed, SURFACE } from '../styles/boxes';
import { defineElement, pick } from './element';

export const menu = defineElement({
  name: 'menu',
  label: 'Menu',
  about: 'Links to records, terms, archives and addresses, in the order of one of the site’s menus.',
  sign,
  group: 'Repeats and pieces',
  holds: false,
  props: z.object({
    menu: z.string().max(60).default(''),
    flow: z.enum(['row', 'stack']).default('row'),
    label: z.string().max(80).default(''),
    below: z.boolean().default(true),
  }),
  controls: [
    { name: 'menu', label: 'Menu', as: 'menu' },
    { name: 'flow', label: 'Arrange', as: 'pick', options: pick('row', 'In a row', 'stack', 'Below each other') },
    { name: 'below', label: 'With the levels below', as: 'switch' },
    { name: 'label', label: 'Name for those who hear it', as: 'words' },
  ],
  slots: {},
  boxes: [
    face('& > ul', ['gap']),
    pointed('link', 'Links', '& a', [...SURFACE, ...PADDING, ...INLINE]),
    box('current', 'Link of this page', '& a[aria-current]', [...SURFACE, ...INLINE]),
  ],
  draw: ({ props, attributes, studio, blank }) => {
    const open = (name: string) =>
      `<nav${attributes('menu', `menu-${props.flow}`)} aria-label="${escapeHtml(props.label || name)}">`;
    const none = studio ? blank(props.menu ? 'Menu without entries' : 'Choose a menu') : '';
    return (env) => {
      const chosen = env.model.menu(props.menu);
      const list = chosen && drawEntries(chosen.entries, env, props.below);
      return chosen && list ? `${open(chosen.name)}${list}</nav>` : none;
    };
  },
});

function drawEntries(entries: readonly MenuEntry[], env: Env, below: boolean): string {
  const items = entries.flatMap((entry) => {
    const led = destinationOf(entry, env);
    const url = led && safeUrl(led.url);
    if (!url) return [];
    const current = currentIn(entry, url, env);
    const inner = below ? drawEntries(entry.below, env, below) : '';
    return [
      `<li><a href="${escapeHtml(url)}"${current ? ` aria-current="${current}"` : ''}>${escapeHtml(entry.label || led.words)}</a>${inner}</li>`,
    ];
  });
  return items.length ? `<ul>${items.join('')}</ul>` : '';
}

/** Where an entry leads and what that is called; undefined where it is gone, or not to be seen. */
export function destinationOf(
  { leads }: Pick<MenuEntry, 'leads'>,
  env: Pick<Env, 'model' | 'pool' | 'still'>,
): { url: string; words: string } | undefined {
  const { model, pool } = env;
  if (leads.to === 'link') return { url: leads.url, words: leads.url };
  if (leads.to === 'record') {
    const record = pool.record(leads.recordId);
    return record && { url: addressOf(record, model), words: record.title };
  }
  if (leads.to === 'search' && env.still) return undefined;
  const of = archiveOf(leads, model);
  const url = of && addressOfArchive(of, model);
  return of && url ? { url, words: of.of === 'front' ? 'Home' : titleOfArchive(of, model) } : undefined;
}

function archiveOf(leads: MenuEntry['leads'], model: ModelIndex): ArchiveOf | undefined {
  switch (leads.to) {
    case 'front':
      return { of: 'front' };
    case 'search':
      return { of: 'search', words: '' };
    case 'type':
      return model.type(leads.typeId) && { of: 'type', typeId: leads.typeId };
    case 'term':
      return model.term(leads.termId) && { of: 'term', termId: leads.termId };
    case 'author':
      return model.author(leads.authorId) && { of: 'author', authorId: leads.authorId };
    default:
      return undefined;
  }
}

/** `page` where an entry leads to the page itself, `true` where the page belongs under what it leads to. */
function currentIn({ leads }: MenuEntry, url: string, { model, record, archive, address }: Env): 'page' | 'true' | '' {
  if (address !== undefined && address === url) return 'page';
  switch (leads.to) {
    case 'type': {
      const { typeId } = leads;
      return record?.typeId === typeId || (archive && 'typeId' in archive && archive.typeId === typeId) ? 'true' : '';
    }
    case 'term':
      return archive?.of === 'term' && model.above(archive.termId).includes(leads.termId) ? 'true' : '';
    case 'author':
      return archive?.of === 'author' && archive.authorId === leads.authorId ? 'true' : '';
    case 'search':
      return archive?.of === 'search' ? 'true' : '';
    default:
      return '';
  }
}
