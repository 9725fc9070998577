import { alternatives } from './alternatives';
import { author } from './author';
import { box } from './box';
import { breadcrumbs } from './breadcrumbs';
import { button } from './button';
import { chart } from './chart';
import { columns } from './columns';
import { divider } from './divider';
import type { ElementKind } from './element';
import { embed } from './embed';
import { filters } from './filters';
import { heading } from './heading';
import { icon } from './icon';
import { link } from './link';
import { list } from './list';
import { loop } from './loop';
import { map } from './map';
import { menu } from './menu';
import { pageSlot } from './page-slot';
import { part } from './part';
import { picture } from './picture';
import { pictures } from './pictures';
import { quote } from './quote';
import { rating } from './rating';
import { search } from './search';
import { section } from './section';
import { spacer } from './spacer';
import { table } from './table';
import { terms } from './terms';
import { text } from './text';
import { turn } from './turn';

/** Every element kind, in the order in which the palette offers them. A new kind is one file here and one line in this list. */
export const elements: ElementKind[] = [
  section,
  box,
  columns,
  divider,
  spacer,
  heading,
  text,
  quote,
  button,
  link,
  picture,
  pictures,
  icon,
  embed,
  list,
  table,
  chart,
  rating,
  map,
  terms,
  author,
  breadcrumbs,
  loop,
  turn,
  filters,
  search,
  menu,
  alternatives,
  part,
  pageSlot,
];

const byName = new Map(elements.map((kind) => [kind.name, kind]));

export const elementNamed = (name: string): ElementKind | undefined => byName.get(name);
