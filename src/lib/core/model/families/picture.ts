import { plainField } from '../field';
import { cardAddress, cardSize } from '../media';
import { defineFamily, PRESENCE } from '../family';

export const picture = defineFamily<number>({
  ...PRESENCE,
  name: 'picture',
  columns: { number: (value) => value },
  slots: ['url', 'picture', 'pictures'],
  role: 'picture',
  severalRole: 'pictures',
  groups: false,
  entries: {
    fields: () => [plainField('picture', 'Picture', 'picture'), plainField('alt', 'Alternative text', 'text')],
    row: (value, reader) => ({ picture: value, alt: reader.media(value as number)?.alt }),
  },
  told: (value, reader, origin) => {
    const media = reader.media(Number(value));
    if (!media) return undefined;
    const url = origin + cardAddress(media);
    const [width, height] = cardSize(media);
    const { alt } = media;
    return { '@type': 'ImageObject', contentUrl: url, url, width, height, ...(alt && { caption: alt }) };
  },
});
