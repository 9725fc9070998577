import sign from 'lucide/dist/esm/icons/images.mjs';
import { z } from 'zod';
import { mediaAddress } from '../model/media';
import { altOf, drawImage, imagePlace, GAP_BROUGHT, SHAPE, PICTURE_SHAPES } from './common';
import { columnsWidth, GAPS, gridWidth } from '../styles/available-width';
import { CAPTION, CUT, face, SURFACE, WORDS } from '../styles/boxes';
import { defineElement, pick } from './element';

export const pictures = defineElement({
  name: 'pictures',
  label: 'Picture set',
  about: 'Several pictures side by side or in a grid; each may lead to its full size.',
  sign,
  group: 'Pictures',
  holds: false,
  fills: true,
  props: z.object({
    arrange: z.enum(['grid', 'row']).default('grid'),
    columns: z.number().int().min(1).max(6).default(3),
    gap: z.enum(['none', 's', 'm', 'l']).default('s'),
    shape: z.enum(PICTURE_SHAPES).default('landscape'),
    most: z.number().int().min(0).max(200).default(0),
    full: z.boolean().default(true),
    captions: z.boolean().default(false),
  }),
  controls: [
    { name: 'arrange', label: 'Arrange', as: 'pick', options: pick('grid', 'In a grid', 'row', 'Side by side') },
    {
      name: 'columns',
      label: 'Columns',
      as: 'pick',
      options: [1, 2, 3, 4, 5, 6].map((value) => ({ value, label: String(value) })),
      when: { name: 'arrange', is: ['grid'] },
    },
    SHAPE,
    { name: 'most', label: 'At most (0: all)', as: 'number', min: 0, max: 200 },
    { name: 'full', label: 'Each leads to its full size', as: 'switch' },
    { name: 'captions', label: 'With the alternative text below', as: 'switch' },
  ],
  slots: { source: { label: 'Pictures', shape: 'pictures', required: true } },
  brings: { roles: ['pictures'], slot: 'source' },
  boxes: [face('& img', [...SURFACE, 'ratio'], { css: CUT }), face('&', ['gap']), CAPTION],
  never: [...WORDS, 'text', 'hyphens', 'wrap'],
  brought: GAP_BROUGHT,
  draw: ({ props, slot, attributes, studio, blank, room }) => {
    const source = slot('source');
    const across = props.arrange === 'grid' ? `grid columns-${props.columns}` : 'side-by-side';
    const open = `<ul${attributes('pictures', ...across.split(' '), `gap-${props.gap}`, `shape-${props.shape}`)}>`;
    const none = studio && !source.bound ? blank('Picture set without pictures') : '';
    const grid = imagePlace(gridWidth(room, props.columns, GAPS[props.gap]));
    const beside = new Map<number, typeof grid>();
    const placeOf = (count: number) => {
      if (props.arrange === 'grid') return grid;
      const place = beside.get(count) ?? imagePlace(columnsWidth(room, [{ from: 37.5, of: count }], GAPS[props.gap]));
      beside.set(count, place);
      return place;
    };
    return (env) => {
      const value = source.found(env)?.value;
      const ids = (Array.isArray(value) ? value : value === undefined ? [] : [value]) as number[];
      const shown = ids.map((id) => env.pool.media(id)).filter((media) => media !== undefined);
      if (!shown.length) return none;
      let out = '';
      const some = props.most ? shown.slice(0, props.most) : shown;
      const place = placeOf(some.length);
      for (const media of some) {
        const image = drawImage(media, env, { alt: altOf(media), ...place, cut: true });
        const inner = props.full ? `<a href="${mediaAddress(media)}">${image}</a>` : image;
        const words = props.captions && media.alt ? `<figcaption>${altOf(media)}</figcaption>` : '';
        out += `<li>${words ? `<figure>${inner}${words}</figure>` : inner}</li>`;
      }
      return `${open}${out}</ul>`;
    };
  },
});
