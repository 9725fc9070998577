import { localDay } from '../base/write';
import type { ModelIndex } from '../model/model-index';
import { EMPTY_POOL, makeEnv } from '../paths/env';
import { compileTree, scopesOf, type LooseEnd, type PartFinder } from '../render/compile';
import type { Template } from '../schema/template';
import type { Theme } from '../schema/theme';
import { headingOrder } from './headings';
import { endsOfRules } from './rules';
import { missingTokens } from './tokens';

/** Everything in one template that the designer should look at. */
export function looseEndsOf(
  template: Pick<Template, 'purpose' | 'serves' | 'tree'> & { id?: string },
  model: ModelIndex,
  parts?: PartFinder,
  theme?: Theme,
): LooseEnd[] {
  const { id, tree } = template;
  const made = compileTree(tree, scopesOf(template, model), model, { parts, id });
  const env = makeEnv({ model, pool: EMPTY_POOL, today: localDay(new Date(), model.site.timeZone) });
  return [...made.looseEnds, ...endsOfRules(tree, made.elements, env), ...endsInTree(template, theme)];
}

/** What can be seen in the tree alone: the order of headings, and tokens that are gone. */
export function endsInTree({ purpose, tree }: Pick<Template, 'purpose' | 'tree'>, theme?: Theme): LooseEnd[] {
  const tokens = theme ? missingTokens(tree, theme) : [];
  // Only a page begins at level 1; a piece goes on from where it stands.
  return purpose === 'record' || purpose === 'archive' ? [...headingOrder(tree), ...tokens] : tokens;
}
