import { Node } from '@tiptap/core';
import { attributesFor, embedOf, type Player } from '$lib/core/model/kinds/player';

/** A player among running text: one frame, as what is kept of it says. */
export const PlayerNode = Node.create({
  name: 'player',
  group: 'block',
  atom: true,
  addAttributes: () => ({ player: { default: null } }),
  parseHTML: () => [
    {
      tag: 'iframe[src]',
      getAttrs: (frame) => ({
        player: embedOf(new Map([...frame.attributes].map(({ name, value }) => [name, value]))),
      }),
    },
  ],
  renderHTML: ({ node }) => ['iframe', attributesFor(node.attrs.player as Player)],
  // No film plays where it is written; a click chooses it.
  addNodeView:
    () =>
    ({ node }) => {
      const dom = document.createElement('div');
      const { src, title } = node.attrs.player as Player;
      dom.className = 'rich-player';
      dom.textContent = `▸ ${title ?? 'Player'}`;
      const where = document.createElement('small');
      where.textContent = src;
      dom.append(where);
      return { dom };
    },
});
