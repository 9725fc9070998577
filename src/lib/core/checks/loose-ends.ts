import type { ModelIndex } from '../model/model';
import { compileTree, scopesOf, type LooseEnd, type PartFinder } from '../render/compile';
import type { Template } from '../templates/template';
import { headingOrder } from './headings';

/** Everything in one template that the designer should look at. */
export function looseEndsOf(
  template: Pick<Template, 'purpose' | 'serves' | 'tree'> & { id?: string },
  model: ModelIndex,
  parts?: PartFinder,
): LooseEnd[] {
  const { id, purpose, tree } = template;
  const { looseEnds } = compileTree(tree, scopesOf(template), model, { parts, id });
  // Only a page begins at level 1; a piece goes on from where it stands.
  return purpose === 'record' || purpose === 'archive' ? [...looseEnds, ...headingOrder(tree)] : looseEnds;
}
