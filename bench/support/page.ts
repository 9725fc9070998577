import { boundTo, treeFrom, type Nested } from '../../src/lib/core/templates/build';
import { createTemplate } from '../../src/lib/server/services/templates';

/** A template for the pages of `fillOne('many', …)`: values, and a list of so many others, each with `more` below its title. */
export const pagesWithList = (limit: number, more: readonly Nested[] = []) =>
  createTemplate({
    name: 'Thing',
    purpose: 'record',
    typeId: 'many',
    tree: treeFrom({
      kind: 'box',
      children: [
        { kind: 'breadcrumbs' },
        { kind: 'heading', props: { level: 1 }, slots: { text: boundTo('record', ['@title']) } },
        { kind: 'text', slots: { text: boundTo('record', ['many_height'], { before: 'Height: ' }) } },
        { kind: 'text', slots: { text: boundTo('record', ['many_line']) } },
        {
          kind: 'loop',
          id: 'others',
          props: {
            source: { from: 'query', typeIds: ['many'] },
            order: [{ steps: ['many_height'], down: true }],
            limit,
            leaveOut: { current: true, above: false },
          },
          children: [
            {
              kind: 'heading',
              props: { level: 2, size: 's' },
              slots: { text: boundTo('loop:others', ['@title']), link: boundTo('loop:others', ['@address']) },
            },
            ...more,
          ],
        },
      ],
    }),
  });
