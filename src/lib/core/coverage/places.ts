import type { CompiledTree } from '../render/compile';
import type { Tree } from '../schema/element';
import type { Template } from '../schema/template';
import { envOf, type RecordContext, type Subject } from './subjects';

const partsPlaced = ({ elements }: Tree): string[] =>
  Object.values(elements).flatMap(({ kind, props }) =>
    kind === 'part' && typeof props.part === 'string' && props.part ? [props.part] : [],
  );

/** The templates that have pages and place a part on them, by themselves or within other parts. */
export function holdersOf(partId: string, templates: readonly Template[]): Template[] {
  const holding = new Set([partId]);
  for (let grown = true; grown;) {
    grown = false;
    for (const { id, purpose, tree } of templates)
      if (purpose === 'part' && !holding.has(id) && partsPlaced(tree).some((one) => holding.has(one))) {
        holding.add(id);
        grown = true;
      }
  }
  return templates.filter(
    ({ purpose, tree }) => purpose !== 'part' && partsPlaced(tree).some((one) => holding.has(one)),
  );
}

/**
 * Each place where a part stands on these pages of a template that holds it, `compiled` from the parts as they are: with the
 * record that it is drawn for there, and nothing else, as a part is. Found by drawing the pages; where nothing of the part
 * is drawn it stands nowhere. They are numbered from `first` on.
 */
export function* ofPlaces(
  partId: string,
  compiled: CompiledTree,
  pages: readonly Subject[],
  ground: RecordContext,
  most: number,
  first = 1,
): Generator<number, Subject[]> {
  const out: Subject[] = [];
  for (const page of pages) {
    if (out.length >= most) break;
    const env = envOf(page, ground);
    env.placed = (id, record) => {
      if (id !== partId || out.length >= most) return;
      const title = record && record.id !== page.record?.id ? `${page.title} › ${record.title}` : page.title;
      out.push({ id: first + out.length, title, ...(record && { record }) });
    };
    compiled.draw(env);
    yield out.length;
  }
  return out;
}
