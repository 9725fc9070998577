import type { ModelIndex } from '../model/model';
import { compileTree, scopesOf, type LooseEnd } from '../render/compile';
import type { Template } from '../templates/template';
import { headingOrder } from './headings';

/** Everything in one template that the designer should look at. */
export function looseEndsOf(template: Pick<Template, 'purpose' | 'serves' | 'tree'>, model: ModelIndex): LooseEnd[] {
  return [...compileTree(template.tree, scopesOf(template), model).looseEnds, ...headingOrder(template.tree)];
}
