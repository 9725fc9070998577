import type { OrderKey, CompiledLoop } from './compiled';
import type { LoopSource, LoopSettings } from '../schema/loop';
import type { Field } from '../model/model';
import type { ModelIndex } from '../model/model-index';
import { compilePath, type CompiledPath } from '../paths/compile';
import { termFields } from '../model/term-fields';
import { terms } from '../model/kinds/terms';
import { fieldsOf } from '../paths/items';
import type { LoopScope, Scopes } from '../paths/scopes';
import { problem, type Problem } from '../base/result';
import { compileRule } from '../rules/compile';

import { slugOf } from '../base/text';
import { takesFor, typeAfter } from '../paths/takes';
import { compileVisitors } from './visitors';

interface Goes {
  typeIds: string[];
  /** What each row of values has. */
  fields?: Field[];
  values?: CompiledPath;
  problem?: Problem;
}

const nowhere = (what: string, fix: string): Goes => ({ typeIds: [], problem: problem('source', what, fix) });

/** What a loop goes over: the content types of its records, or what its rows have. */
export function typesOfSource(source: LoopSource, scopes: Scopes, model: ModelIndex): Goes {
  switch (source.from) {
    case 'archive':
      return scopes.archive
        ? { typeIds: scopes.archive.typeIds }
        : nowhere('There is no archive here to go over.', 'Choose a query or a relation.');
    case 'query':
    case 'chosen': {
      const typeIds = source.typeIds.filter((id) => model.type(id));
      return typeIds.length === source.typeIds.length
        ? { typeIds }
        : {
            typeIds,
            problem: problem('source', 'A content type this goes over has been deleted.', 'Choose another one.'),
          };
    }
    case 'terms': {
      if (!model.taxonomy(source.taxonomyId))
        return nowhere('The taxonomy this goes over has been deleted.', 'Choose another one.');
      const fields = termFields(source.taxonomyId);
      if (source.which !== 'below') return { typeIds: [], fields };
      const path = source.path ? compilePath(source.path, scopes, model) : undefined;
      if (!path?.ok)
        return { typeIds: [], fields, problem: problem('source', 'Below which terms is not said.', 'Choose terms.') };
      return path.value.type.kind === terms
        ? { typeIds: [], fields, values: path.value }
        : {
            typeIds: [],
            fields,
            problem: problem('source', `${path.value.type.label} holds no terms.`, 'Choose terms.'),
          };
    }
    default: {
      const path = compilePath(source.path, scopes, model);
      if (!path.ok) return { typeIds: [], problem: { ...(path.problems[0] as Problem), at: 'source' } };
      const { type } = path.value;
      if (source.from === 'relation')
        return type.kind.family.leads === 'record'
          ? { typeIds: type.typeIds, values: path.value }
          : nowhere(`${type.label} holds no records.`, 'Choose a relation.');
      const fields = fieldsOf(type);
      return fields
        ? { typeIds: [], fields, values: path.value }
        : nowhere(`${type.label} holds nothing to repeat over.`, 'Choose rows, pictures, choices or terms.');
    }
  }
}

/** Loops within loops go no deeper than this. */
export const DEEPEST = 8;

/** Whether visitors may search what a loop goes over, or have searched for it. */
const isSearched = ({ visitors, source }: LoopSettings, { archive }: Scopes): boolean =>
  Boolean(visitors?.search.length) || (source.from === 'archive' && archive?.on === 'search');

/** What stands before the keys of a loop in addresses; no other loop of the page has it. */
function prefixOf(name: string, taken: Set<string>): string {
  const plain = slugOf(name).replace(/[^a-z0-9-]/g, '') || 'loop';
  let prefix = plain;
  for (let n = 2; taken.has(prefix); n++) prefix = `${plain}-${n}`;
  taken.add(prefix);
  return prefix;
}

/**
 * Makes a loop ready, where `scopes` are those of the place it stands in. `taken` are the names by which other loops of
 * the page are asked for in addresses.
 */
export function compileLoop(
  id: string,
  name: string,
  settings: LoopSettings,
  scopes: Scopes,
  model: ModelIndex,
  taken: Set<string> = new Set(),
): CompiledLoop {
  const { typeIds, fields, values, problem: wrongSource } = typesOfSource(settings.source, scopes, model);
  const problems: Problem[] = wrongSource ? [wrongSource] : [];
  const scope: LoopScope = {
    id,
    name,
    typeIds,
    ...(fields ? { fields } : {}),
    ...(settings.group ? { grouped: true } : {}),
    ...(!fields && isSearched(settings, scopes) ? { searched: true } : {}),
    depth: scopes.loops.length,
  };
  const inside: Scopes = { ...scopes, loops: [...scopes.loops, scope] };

  const filter = settings.filter?.rules.length ? compileRule(settings.filter, inside, model) : undefined;
  if (filter) problems.push(...filter.problems.map((p) => ({ ...p, at: `filter.${p.at}` })));

  const order: OrderKey[] = [];
  for (const [i, { steps, take, down }] of settings.order.entries()) {
    const path = compilePath({ from: `loop:${id}`, steps }, inside, model);
    if (!path.ok) {
      problems.push({ ...(path.problems[0] as Problem), at: `order.${i}` });
      continue;
    }
    const { type } = path.value;
    const one = type.many ? takesFor(type).find((t) => t === (take ?? 'first') && t !== 'listed') : undefined;
    // Of one of each part the order goes by a single one.
    const after = one ? { ...typeAfter(type, one), many: false } : type;
    if (after.many || !after.kind.family.order)
      problems.push(
        problem(
          `order.${i}`,
          `${type.label} has no order.`,
          'Choose a text, number, date, choice or yes/no, or a count.',
        ),
      );
    else
      order.push({
        path: path.value,
        take: one,
        type: after,
        step: steps.length === 1 && !type.many && !fields ? steps[0] : undefined,
        down,
      });
  }
  const { group: grouping, perPage } = settings;
  const grouped = grouping && compilePath({ from: `loop:${id}`, steps: grouping.steps }, inside, model);
  if (grouped && !grouped.ok) problems.push({ ...(grouped.problems[0] as Problem), at: 'group' });
  // Only a loop that stands once on a page can be asked for its pages.
  const pages = Boolean(perPage) && !scopes.loops.length;
  if (perPage && !pages)
    problems.push(problem('perPage', 'A loop within a loop has no pages.', 'Set “At most” instead.'));

  if (scopes.loops.length >= DEEPEST)
    problems.push(problem('source', `Loops go ${DEEPEST} deep at most.`, 'Take one of those around it away.'));
  const top = !scopes.loops.length;
  const prefix = top && settings.source.from !== 'archive' && (pages || settings.visitors) ? prefixOf(name, taken) : '';
  const offered =
    settings.visitors && top && !fields
      ? compileVisitors(settings.visitors, id, prefix && `${prefix}-`, inside, typeIds, model)
      : undefined;
  if (offered) problems.push(...offered.problems);
  else if (settings.visitors)
    problems.push(
      problem(
        'visitors',
        fields ? 'Visitors choose among records only.' : 'Visitors cannot choose of a loop within a loop.',
        'Take away what they may choose here.',
      ),
    );

  return {
    id,
    scope,
    visitors: offered?.visitors,
    source: settings.source,
    values,
    filter,
    order,
    skip: settings.skip,
    limit: settings.limit,
    perPage: pages ? perPage : undefined,
    pageKey: pages && prefix ? `${prefix}-page` : undefined,
    group: grouped?.ok && grouping ? { path: grouped.value, by: grouping.by, down: grouping.down } : undefined,
    leaveOut: settings.leaveOut ?? { current: false, above: false },
    problems,
  };
}

/** Which part of `found` candidates stands on a page: the offset among them, how many, and the figures to say so. */
export function pageOf(
  loop: CompiledLoop,
  found: number,
  page: number,
): { offset: number; count: number; total: number; page: number; pages: number } {
  const total = Math.min(Math.max(0, found - loop.skip), loop.limit ?? Infinity);
  const per = loop.perPage ?? Infinity;
  const at = loop.perPage ? page : 1;
  const before = at > 1 ? (at - 1) * per : 0;
  return {
    offset: loop.skip + before,
    count: Math.max(0, Math.min(per, total - before)),
    total,
    page: at,
    pages: loop.perPage ? Math.max(1, Math.ceil(total / per)) : 1,
  };
}
