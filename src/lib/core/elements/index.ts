import { box } from './box';
import { columns } from './columns';
import type { ElementKind } from './element';
import { heading } from './heading';
import { link } from './link';
import { loop } from './loop';
import { picture } from './picture';
import { text } from './text';

/** Every element kind, in the order in which the palette offers them. A new kind is one file here and one line in this list. */
export const elements: ElementKind[] = [box, columns, heading, text, picture, link, loop];

const byName = new Map(elements.map((kind) => [kind.name, kind]));

export const elementNamed = (name: string): ElementKind | undefined => byName.get(name);
