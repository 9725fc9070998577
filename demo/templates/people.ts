import { treeFrom } from '../../src/lib/core/templates/build';
import type { Tree } from '../../src/lib/core/templates/template';
import { all, chapter, date, field, filled, heading, text } from './short';

export const wardenPage = (): Tree =>
  treeFrom({
    kind: 'box',
    name: 'Page',
    props: { as: 'article', gap: 'l' },
    children: [
      {
        kind: 'box',
        name: 'Portrait and name',
        props: { flow: 'row', gap: 'l', as: 'header' },
        style: { wide: { items: 'center' } },
        children: [
          {
            kind: 'picture',
            name: 'Portrait',
            props: { shape: 'round', width: 'fifth' },
            slots: { source: field('warden_portrait') },
            // Common practice: a round portrait at about a sixth of the width, with a border of 8 px.
            style: {
              wide: { width: 'sixth', radius: 'round', border: '8px', borderColour: 'tint' },
              narrow: { width: 'third' },
            },
          },
          {
            kind: 'box',
            name: 'Name',
            props: { gap: 's' },
            children: [
              heading(1, field('@title')),
              text(field('warden_since', { before: 'Warden since ', formats: date('MMMM y') }), { tone: 'quiet' }),
            ],
          },
        ],
      },
      text(field('warden_about'), { size: 'l' }),
      {
        kind: 'box',
        name: 'Languages',
        props: { gap: 's' },
        rule: all(filled('warden_languages')),
        children: [
          heading(2, 'Speaks', { props: { size: 's' } }),
          { kind: 'list', props: { marks: 'inline' }, slots: { items: field('warden_languages') } },
        ],
      },
      chapter('Keeps', 'warden_huts', {
        kind: 'loop',
        id: 'warden-huts',
        name: 'Hut',
        props: { source: { from: 'relation', path: { from: 'record', steps: ['warden_huts'] } }, columns: 3, gap: 'l' },
        children: [{ kind: 'part', name: 'Hut card', props: { part: 'hut-card' } }],
      }),
    ],
  });

/** A story: its picture is the ground of the band that bears the title, dark enough to read on. */
export const entryPage = (): Tree =>
  treeFrom({
    kind: 'box',
    name: 'Page',
    props: { as: 'article', gap: 'l' },
    children: [
      {
        kind: 'section',
        name: 'Band with the title',
        props: { pad: 'l', inner: 'page', ground: 'deep', tint: 'dark', gap: 'm' },
        slots: { background: field('entry_picture') },
        style: { wide: { minHeight: '24rem' }, narrow: { minHeight: '16rem' } },
        css: '& > .stack {\n  min-height: 18rem;\n  justify-content: end;\n}',
        children: [
          text(field('@terms:topic'), { size: 's', tone: 'strong' }),
          heading(1, field('@title')),
          text(field('entry_minutes', { after: ' to read' }), { size: 's' }),
        ],
      },
      {
        kind: 'author',
        slots: {
          name: field('@author'),
          picture: field('@author_picture'),
          date: field('@published', { formats: date('d MMMM y') }),
        },
      },
      text(field('entry_body'), { size: 'l' }),
      chapter('The film', 'entry_film', {
        kind: 'embed',
        slots: { source: field('entry_film'), title: field('@title', { before: 'Film: ' }) },
        style: { wide: { maxWidth: '50rem' } },
      }),
      chapter('Huts in this story', 'entry_huts', {
        kind: 'loop',
        id: 'entry-huts',
        name: 'Hut',
        props: { source: { from: 'relation', path: { from: 'record', steps: ['entry_huts'] } }, columns: 3, gap: 'l' },
        children: [{ kind: 'part', name: 'Hut card', props: { part: 'hut-card' } }],
      }),
    ],
  });
