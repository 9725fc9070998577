import { z } from 'zod';
import { addressOf, archiveAddress } from '../serving/addresses';
import { escapeHtml } from '../text';
import { defineElement } from './element';

export const breadcrumbs = defineElement({
  name: 'breadcrumbs',
  label: 'Breadcrumbs',
  about: 'The way from the front page to this one.',
  glyph: '›',
  group: 'Values',
  holds: false,
  props: z.object({
    home: z.string().max(60).default(''),
    current: z.boolean().default(true),
  }),
  controls: [
    { name: 'home', label: 'Words for the front page', as: 'words' },
    { name: 'current', label: 'With this page itself', as: 'switch' },
  ],
  slots: {},
  draw: ({ props, attributes }) => {
    const open = `<nav${attributes('breadcrumbs')} aria-label="Breadcrumbs"><ol>`;
    return (env) => {
      const { model, record, archive } = env;
      const steps: { words: string; url: string }[] = [{ words: props.home || model.site.name, url: '/' }];
      const type = archive?.type ?? (record && model.type(record.typeId));
      if (type) steps.push({ words: type.plural, url: archiveAddress(type.base) });
      if (record) steps.push({ words: record.title, url: addressOf(record, model) });
      const shown = props.current ? steps : steps.slice(0, -1);
      const items = shown.map(({ words, url }, i) =>
        props.current && i === shown.length - 1
          ? `<li><span aria-current="page">${escapeHtml(words)}</span></li>`
          : `<li><a href="${escapeHtml(url)}">${escapeHtml(words)}</a></li>`,
      );
      return items.length ? `${open}${items.join('')}</ol></nav>` : '';
    };
  },
});
