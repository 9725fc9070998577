import sign from 'lucide/dist/esm/icons/chevrons-right.mjs';
import { z } from 'zod';
import { addressOf } from '../addresses/addresses';
import { addressOfArchive, periodWords, titleOfArchive, type ArchiveOf } from '../addresses/archives';
import type { ModelIndex } from '../model/model-index';
import { escapeHtml } from '../base/text';
import { box, face, INLINE, pointed } from '../styles/boxes';
import { defineElement } from './element';

export const breadcrumbs = defineElement({
  name: 'breadcrumbs',
  label: 'Breadcrumbs',
  about: 'The way from the front page to this one.',
  sign,
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
  boxes: [
    face('& > ol', ['size', 'gap']),
    pointed('link', 'Links', '& a'),
    box('current', 'This page', '& [aria-current]', INLINE),
    box('sign', 'Signs between', '& li + li::before', ['colour', 'weight']),
  ],
  draw: ({ props, attributes }) => {
    const open = `<nav${attributes('breadcrumbs')} aria-label="Breadcrumbs"><ol>`;
    return (env) => {
      const { model, record, archive } = env;
      const steps: { words: string; url: string }[] = [{ words: props.home || model.site.name, url: '/' }];
      const step = (of: ArchiveOf, words = titleOfArchive(of, model)) =>
        steps.push({ words, url: addressOfArchive(of, model) });
      if (archive) for (const { of, words } of stepsTo(archive, model)) step(of, words);
      else if (record) {
        step({ of: 'type', typeId: record.typeId });
        steps.push({ words: record.title, url: addressOf(record, model) });
      }
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

/** The archives on the way to one, with itself: the terms above a term, the year of a month. */
function stepsTo(of: ArchiveOf, model: ModelIndex): { of: ArchiveOf; words?: string }[] {
  if (of.of === 'term') return [...model.above(of.termId)].reverse().map((termId) => ({ of: { of: 'term', termId } }));
  if (of.of === 'front') return [];
  if (of.of !== 'date') return [{ of }];
  const { typeId, year, month } = of;
  return [
    { of: { of: 'type', typeId } },
    { of: { of: 'date', typeId, year }, words: periodWords({ year }, model) },
    ...(month ? [{ of, words: periodWords({ year, month }, model) }] : []),
  ];
}
