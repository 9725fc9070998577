import { elements } from '../src/lib/core/elements';
import type { ElementKind } from '../src/lib/core/elements/element';
import type { Element, Tree } from '../src/lib/core/schema/element';
import { fits, keyFor } from '../src/lib/core/styles/boxes';
import { properties } from '../src/lib/core/styles/properties';
import type { StyleProperty } from '../src/lib/core/styles/property';
import { boundTo, treeFrom, type Nested } from '../src/lib/core/templates/build';
import { applyEdit } from '../src/lib/core/templates/edits';
import { lookEdit } from '../src/lib/core/templates/looks';
import { BUILT_IN } from '../src/lib/core/theme/theme';
import { SCREENS, type Case, type Cases, type Width } from './looks-case';

/**
 * The elements that `looks-matrix.spec.ts` looks at, written as JSON: for a menu and two parts that are there, the trees of
 * a page and of a part with an element for every property of every box of every kind, each set through the edits that the
 * panel makes. What a property comes to is written here as CSS 2.2 and its successors name it, and so is where each box is.
 */

const bound = (...steps: string[]) => boundTo('record', steps);
const around = (...steps: string[]) => boundTo('record', steps, { before: 'Before: ', after: ' after' });
const words = (name: string): Nested => ({ kind: 'text', name, slots: { text: { fixed: 'Words in it' } } });
const link = { fixed: '/huts/' };

/** What each kind shows, with everything it has; `props` by the box that needs others. */
const SHOWN: Record<string, Partial<Nested> & { byBox?: Record<string, object> }> = {
  section: { children: [words('held'), words('more')] },
  box: { children: [words('held'), words('more')] },
  columns: { children: [words('held'), words('more')] },
  divider: {},
  spacer: {},
  heading: { slots: { text: around('@title'), link } },
  text: { slots: { text: around('@title') }, byBox: { link: {} } },
  quote: { slots: { words: { fixed: 'Said.' }, source: { fixed: 'Somebody' }, link } },
  link: { slots: { label: around('@title'), link } },
  button: { slots: { label: around('@title'), link, icon: { fixed: 'tent' } } },
  icon: { slots: { icon: { fixed: 'tent' }, label: around('@title'), link } },
  picture: { slots: { source: bound('hut_picture'), caption: { fixed: 'A caption' } } },
  pictures: { slots: { source: bound('hut_gallery') }, props: { captions: true } },
  embed: { slots: { source: bound('hut_film'), caption: { fixed: 'A film' } } },
  map: { slots: { place: bound('hut_place'), caption: { fixed: 'A map' } } },
  chart: { slots: { rows: bound('hut_seasons'), caption: { fixed: 'A chart' } } },
  table: { slots: { rows: bound('hut_seasons'), caption: { fixed: 'A table' } } },
  list: { slots: { items: bound('hut_trails') } },
  terms: { slots: { terms: bound('@terms:region'), label: around('@title') } },
  author: { slots: { name: around('@title'), picture: bound('hut_picture'), date: { fixed: 'A day' }, link } },
  rating: { slots: { value: bound('hut_comfort'), label: { fixed: 'Comfort' } } },
  breadcrumbs: {},
  menu: { props: { menu: 'MENU', flow: 'row' } },
  search: { props: { shown: true } },
  loop: {
    props: { source: { from: 'values', path: { from: 'record', steps: ['hut_gallery'] } }, arrange: 'list' },
    children: [words('held')],
    slots: { between: { fixed: '·' } },
    byBox: { head: { arrange: 'table' }, pages: { perPage: 1 } },
  },
  part: { props: { part: 'PART' } },
  alternatives: { children: [words('branch')] },
  filters: { props: { loop: 'LOOP' } },
  turn: { props: { as: 'first' }, children: [words('held')] },
};
/** What stands only in the frame. */
const ELSEWHERE = new Set(['slot']);
/** Where an element of a kind stands that is nothing anywhere else. */
const WITHIN: Record<string, (one: Nested) => Nested> = {
  turn: (one) => ({
    kind: 'loop',
    props: {
      source: { from: 'values', path: { from: 'record', steps: ['hut_gallery'] } },
      arrange: 'list',
      limit: 1,
    },
    children: [words('item'), one],
  }),
};
const standing = (kind: ElementKind, one: Nested): Nested => WITHIN[kind.name]?.(one) ?? one;

/** Where each box is, and the element's own looks where they are not seen on the element itself. */
const AT: Record<string, string> = {
  'section gap items spread': ':scope > .stack',
  'button ground border borderColour radius shadow padding paddingBlock paddingInline change': 'a',
  'button font size weight slope leading tracking letters numerals underline colour': 'a',
  'button.icon': 'svg',
  'link ground border borderColour radius shadow padding paddingBlock paddingInline change': 'a',
  'link font size weight slope leading tracking letters numerals underline colour': 'a',
  'picture ratio ground border borderColour radius shadow': 'img',
  'picture.caption': 'figcaption',
  'pictures ratio ground border borderColour radius shadow': 'img',
  'pictures.caption': 'figcaption',
  'embed ratio ground border borderColour radius shadow': 'iframe',
  'embed.caption': 'figcaption',
  'map ratio ground border borderColour radius shadow': 'svg',
  'map.caption': 'figcaption',
  'chart ratio ground border borderColour radius shadow': 'svg',
  'chart.caption': 'figcaption',
  'quote font size weight slope leading tracking letters numerals underline colour text wrap hyphens': 'blockquote',
  'quote.source': 'figcaption',
  'quote.link': 'figcaption a',
  'heading.link': 'a',
  'icon size': 'svg',
  'icon.words': ':scope > span, :scope > a > span',
  'table.head': 'thead th',
  'table.cell': 'tbody td, tbody th',
  'table.lead': 'tbody th',
  'table.caption': 'caption',
  'table.link': 'a',
  'list.marker': 'li::marker',
  'list.item': 'li',
  'list.link': 'a',
  'terms.label': ':scope > span',
  'terms.term': 'li',
  'terms.link': 'a',
  'author.picture': 'img',
  'author.name': 'strong',
  'author.day': 'p > span',
  'author.link': 'a',
  'rating.signs': '.signs',
  'breadcrumbs size gap': 'ol',
  'breadcrumbs.link': 'a',
  'breadcrumbs.current': '[aria-current]',
  'breadcrumbs.sign': 'li + li::before',
  'menu gap': ':scope > ul',
  'menu.link': 'a',
  'menu.current': 'a[aria-current]',
  'search.field': 'input',
  'search.button': 'button',
  'search.label': 'label > span',
  'filters.field': 'input[type="search"], input[type="number"], select',
  'filters.button': 'button',
  'filters.label': 'legend, .filters-search > span, .filters-sort > span',
  'loop.item': ':scope > li',
  'loop.between': ':scope > .between',
  'loop.head': 'thead th',
};
/** Boxes that are there only with something that these pages do not have. */
const ABSENT = new Set(['text.link', 'menu.current', 'loop.pages', 'table.link', 'breadcrumbs.current']);

function placeOf(kind: string, box: string, property: string): string {
  if (box === 'before' || box === 'after') return `.${box}`;
  if (box) return AT[`${kind}.${box}`] ?? '?';
  const own = Object.keys(AT).find((key) => {
    const [name, ...has] = key.split(' ');
    return name === kind && has.includes(property);
  });
  return own ? AT[own]! : ':scope';
}

/** What a property is in CSS: the longhand that is read, and what a value comes to in it; `inherits` to what is within. */
const px = (value: unknown) => String(value);
const of = (group: string) => (value: unknown) =>
  /^[a-z]/.test(String(value)) ? `var(--${group}-${String(value)})` : String(value);
const CSS: Record<string, { reads: string; is?: (value: unknown) => string; inherits?: true; never?: string[] }> = {
  above: { reads: 'margin-top', is: of('space') },
  below: { reads: 'margin-bottom', is: of('space') },
  padding: { reads: 'padding-top', is: of('space') },
  paddingBlock: { reads: 'padding-bottom', is: of('space') },
  paddingInline: { reads: 'padding-left', is: of('space') },
  gap: { reads: 'row-gap', is: of('space') },
  maxWidth: { reads: 'max-width', is: px },
  minHeight: { reads: 'min-height', is: px },
  ratio: { reads: 'aspect-ratio', is: (value) => px(value).replace('/', ' / ') },
  grow: { reads: 'flex-grow', is: px },
  text: { reads: 'text-align', is: px, inherits: true },
  across: { reads: 'align-self', is: px },
  items: { reads: 'align-items', is: px },
  spread: { reads: 'justify-content', is: px },
  font: { reads: 'font-family', is: of('font'), inherits: true },
  size: { reads: 'font-size', is: of('size'), inherits: true },
  weight: { reads: 'font-weight', is: px, inherits: true },
  slope: { reads: 'font-style', is: px, inherits: true },
  leading: { reads: 'line-height', is: px, inherits: true },
  tracking: { reads: 'letter-spacing', is: px, inherits: true },
  letters: { reads: 'text-transform', is: (value) => (value === 'small-caps' ? 'none' : px(value)), inherits: true },
  numerals: { reads: 'font-variant-numeric', is: px, inherits: true },
  underline: { reads: 'text-decoration-line', is: px },
  hyphens: { reads: 'hyphens', is: px, inherits: true },
  wrap: {
    reads: 'text-wrap-style',
    is: (value) => (/balance|pretty/.test(px(value)) ? px(value) : 'auto'),
    inherits: true,
  },
  textColumns: { reads: 'column-count', is: px },
  lines: { reads: '-webkit-line-clamp', is: px },
  ground: { reads: 'background-color', is: of('colour') },
  colour: { reads: 'color', is: of('colour'), inherits: true },
  border: { reads: 'border-top-width', is: px },
  borderColour: { reads: 'border-top-color', is: of('colour') },
  radius: { reads: 'border-top-left-radius', is: of('radius') },
  shadow: { reads: 'box-shadow', is: (value) => (/^\d/.test(px(value)) ? px(value) : `var(--shadow-${px(value)})`) },
  change: { reads: 'transition-duration', is: (value) => ({ none: '0s', quick: '0.12s', calm: '0.3s' })[px(value)]! },
  layer: { reads: 'z-index', is: px },
  place: { reads: 'position', is: (value) => (value === 'none' ? 'relative' : 'absolute') },
  shiftX: { reads: 'translate', is: px },
  // Measured by themselves, in looks.spec.ts.
  width: { reads: '' },
  shiftY: { reads: '' },
  around: { reads: '' },
  shown: { reads: 'display', is: (value) => (value === 'no' ? 'none' : '') },
  dropCap: { reads: '' },
};
/** Every property has its place there: one that was forgotten is not passed over. */
function cssOf({ name }: StyleProperty): (typeof CSS)[string] {
  const css = CSS[name];
  if (!css) throw new Error(`Say in CSS what ${name} comes to, or that it is measured elsewhere.`);
  return css;
}

/** Three values, for the three widths, of what a control offers. */
function threeOf({ name, control }: StyleProperty): [unknown, unknown, unknown] {
  if (name === 'shown') return ['no', 'no', 'no'];
  if (control.as === 'token') {
    const keys: Partial<Record<typeof control.of, [string, string, string]>> = {
      colour: ['notice', 'accent', 'line'],
      font: ['mono', 'display', 'mono'],
      shadow: ['l', '2px 2px 11px 2px #1f262240', 's'],
    };
    return keys[control.of] ?? ['xl' in scale(control.of) ? 'xl' : 'l', '7px', 's'];
  }
  if (control.as === 'length') return ['11px', '13px', '17px'];
  if (control.as === 'number') return control.max < 4 ? [1.75, 2.5, 1.25] : control.max > 50 ? [3, 5, 7] : [3, 2, 4];
  const values = control.options.map(({ value }) => value);
  return [values.at(-1), values.at(-2), values.at(-1)];
}
const scale = (group: keyof typeof BUILT_IN): Record<string, true> =>
  Object.fromEntries((BUILT_IN[group] as { key: string }[]).map(({ key }) => [key, true]));

/** A piece of a page with one element for each case, and one of each kind without looks; names begin with `prefix`. */
function cases(
  prefix: string,
  ids: { menu: string; part: string },
): { tree: Nested[]; made: Case[]; edited: (tree: Tree) => Tree } {
  const tree: Nested[] = [];
  const made: Case[] = [];
  const edits: { name: string; kind: ElementKind; key: string; values: Record<Width, unknown> }[] = [];
  const element = (kind: ElementKind, name: string, box: string): Nested => {
    const shown = SHOWN[kind.name];
    if (!shown) throw new Error(`Say what ${kind.name} shows.`);
    const { byBox, props = {}, ...rest } = shown;
    const own: Record<string, unknown> = { ...props, ...byBox?.[box] };
    if (own.menu) own.menu = ids.menu;
    if (own.part) own.part = ids.part;
    if (own.loop) own.loop = `e_${prefix}visited`;
    return { ...rest, kind: kind.name, name, props: own };
  };
  tree.push({
    kind: 'loop',
    id: `e_${prefix}visited`,
    name: 'visited',
    props: {
      source: { from: 'query', typeIds: ['hut'] },
      limit: 2,
      visitors: {
        search: ['@title'],
        facets: [{ step: '@terms:region' }, { step: 'hut_altitude' }],
        sorts: [{ step: 'hut_altitude', label: 'Highest first', down: true }],
      },
    },
    children: [words('of visited')],
  });
  for (const kind of elements) {
    if (ELSEWHERE.has(kind.name)) continue;
    const boxes = ['', ...new Set((kind.boxes ?? []).map(({ name }) => name).filter(Boolean))];
    for (const box of boxes) {
      if (ABSENT.has(`${kind.name}.${box}`)) continue;
      const bare = `${prefix}${kind.name}${box}bare`.toLowerCase();
      tree.push(standing(kind, { ...element(kind, bare, box), style: { wide: { layer: 0 } } }));
      for (const property of properties) {
        const css = cssOf(property);
        if (!fits(property.name, kind, box) || !css.reads || !css.is) continue;
        const name = `${prefix}${kind.name}${box}${property.name}`.toLowerCase();
        const values = threeOf(property);
        edits.push({
          name,
          kind,
          key: keyFor(box, property.name),
          values: { wide: values[0], medium: values[1], narrow: values[2] },
        });
        made.push({
          name,
          kind: kind.name,
          box,
          property: property.name,
          reads: css.reads,
          wanted: { wide: css.is(values[0]), medium: css.is(values[1]), narrow: css.is(values[2]) },
          at: placeOf(kind.name, box, property.name),
          inherits: css.inherits ?? false,
        });
        tree.push(standing(kind, element(kind, name, box)));
      }
    }
  }
  const edited = (whole: Tree): Tree => {
    const byName = new Map(Object.values(whole.elements).map((one) => [one.name, one.id]));
    for (const { name, kind, key, values } of edits) {
      const id = byName.get(name)!;
      for (const screen of SCREENS) {
        const now = whole.elements[id] as Element;
        const done = applyEdit(whole, {
          label: 'Set',
          operations: lookEdit(now, kind, key, screen, values[screen] as string | number),
        });
        if (!done.ok) throw new Error(done.problems[0]?.what);
        whole = done.value.tree;
      }
    }
    return whole;
  };
  return { tree, made, edited };
}

/**
 * The page's place in the frame. A frame has one, so it gets all its properties at once, but for whether it is shown:
 * nothing else could be read of what is not.
 */
function slotCases(hidden: boolean): { style: Element['style']; made: Case[] } {
  const kind = elements.find(({ name }) => ELSEWHERE.has(name))!;
  let tree = treeFrom({ kind: kind.name, name: 'theslot' });
  const made: Case[] = [];
  for (const property of properties) {
    const css = cssOf(property);
    if ((property.name === 'shown') !== hidden || !fits(property.name, kind, '') || !css.reads || !css.is) continue;
    const values = threeOf(property);
    for (const [i, screen] of SCREENS.entries()) {
      const operations = lookEdit(tree.elements[tree.root]!, kind, property.name, screen, values[i] as string | number);
      const done = applyEdit(tree, { label: 'Set', operations });
      if (!done.ok) throw new Error(done.problems[0]?.what);
      tree = done.value.tree;
    }
    const [wide, medium, narrow] = values.map(css.is) as [string, string, string];
    made.push({
      name: 'theslot',
      kind: kind.name,
      box: '',
      property: property.name,
      reads: css.reads,
      wanted: { wide, medium, narrow },
      at: ':scope',
      inherits: css.inherits ?? false,
    });
  }
  return { style: tree.elements[tree.root]!.style, made };
}

const [menu = '', small = '', part = ''] = process.argv.slice(2);
const inPart = cases('q', { menu, part: small });
const inPage = cases('z', { menu, part: small });
const out: Cases = {
  part: inPart.edited(treeFrom({ kind: 'box', name: 'partroot', children: inPart.tree })),
  page: inPage.edited(
    treeFrom({
      kind: 'box',
      name: 'pageroot',
      children: [
        ...inPage.tree,
        {
          kind: 'columns',
          name: 'beside',
          props: { share: 'wide-last' },
          children: [
            words('aside'),
            {
              kind: 'loop',
              name: 'once',
              props: {
                source: { from: 'values', path: { from: 'record', steps: ['hut_gallery'] } },
                limit: 1,
                arrange: 'list',
              },
              children: [{ kind: 'part', props: { part } }],
            },
          ],
        },
      ],
    }),
  ),
  made: [...inPage.made, ...inPart.made],
  slot: [slotCases(false), slotCases(true)],
};
process.stdout.write(JSON.stringify(out));
