import { newId } from '../../core/base/ids';
import { compileRule } from '../../core/rules/compile';
import { parseNamedRule } from '../../core/rules/named';
import type { NamedRule } from '../../core/schema/named-rule';
import { namesIn } from '../../core/rules/walk';
import type { Group, Rule } from '../../core/schema/rule';
import { problem } from '../../core/base/result';
import { inTransaction } from '../database/connect';
import { notFound, Refusal } from '../base/refusal';
import { modelMoved } from '../queries/site';
import { readModel } from './model';
import { beginRemoval, sweep } from './removal';
import { readTemplates } from './templates';
import { lockVersion, putNamedRule } from '../queries/design';

/** A place that uses a rule by its name. */
export interface RuleUse {
  what: string;
  href: string;
}

/** Where each rule is used, by its id: elements and loops of templates, and other rules. */
export async function ruleUses(): Promise<Record<string, RuleUse[]>> {
  const uses: Record<string, RuleUse[]> = {};
  for (const template of await readTemplates()) {
    const counts = new Map<string, number>();
    for (const { rule, props } of Object.values(template.tree.elements))
      for (const asked of [rule, props.filter as Group | undefined])
        for (const id of new Set(asked ? namesIn(asked) : [])) counts.set(id, (counts.get(id) ?? 0) + 1);
    for (const [id, count] of counts)
      (uses[id] ??= []).push({
        what: `“${template.name}”, ${count === 1 ? 'one element' : `${count} elements`}`,
        href: `/studio/workbench/${template.id}`,
      });
  }
  for (const { name, rule } of (await readModel()).rules)
    for (const id of new Set(namesIn(rule as Rule)))
      (uses[id] ??= []).push({ what: `the rule “${name}”`, href: '/studio/rules' });
  return uses;
}

/** Keeps a rule under a name: a new one without an id, else in the place of the one with it. With a stale `version` nothing is written. */
export async function saveRule(input: unknown): Promise<NamedRule> {
  const given = (input ?? {}) as Partial<NamedRule>;
  const fresh = given.id === undefined;
  return inTransaction(async (transaction) => {
    const model = await readModel(transaction);
    const parsed = parseNamedRule(fresh ? { ...given, id: newId('rule'), version: 1 } : given, model.rules);
    if (!parsed.ok) throw new Refusal(422, 'The rule cannot be kept.', parsed.problems);
    const rule = parsed.value;
    if (!model.type(rule.typeId))
      throw new Refusal(422, 'The rule cannot be kept.', [problem('typeId', 'There is no content type with this id.')]);
    const { problems } = compileRule(
      rule.rule,
      { recordTypeIds: [rule.typeId], loops: [] },
      { ...model, rule: (id) => (id === rule.id ? rule : model.rule(id)) },
    );
    // What reads anything else of its place cannot be asked elsewhere; what is only unfinished can still be finished.
    const [outside] = problems.filter((p) => p.at.endsWith('from'));
    if (outside)
      throw new Refusal(422, 'The rule cannot be kept.', [
        problem(
          'rule',
          'It reads something that is only there in one place, such as a loop or an archive.',
          'A rule with a name reads its record and the site.',
        ),
      ]);
    const storedVersion = await lockVersion('namedRules', rule.id, transaction);
    const currentVersion = storedVersion ?? 0;
    if (!fresh && storedVersion === undefined) throw notFound('rule with this id');
    if (!fresh && currentVersion !== rule.version)
      throw new Refusal(
        409,
        'This rule has been changed elsewhere since it was opened here. Nothing was overwritten.',
        [],
        { version: currentVersion },
      );
    const saved = { ...rule, version: currentVersion + 1 };
    await putNamedRule(saved, transaction);
    await modelMoved(transaction);
    return saved;
  });
}

/** Deletes a rule that nothing uses. */
export async function deleteRule(id: string): Promise<void> {
  const rule = (await readModel()).rule(id);
  if (!rule) throw notFound('rule with this id');
  const uses = (await ruleUses())[id] ?? [];
  if (uses.length)
    throw new Refusal(
      409,
      `“${rule.name}” is used by ${uses.map((use) => use.what).join(', ')}. Take it out there first.`,
    );
  await inTransaction(async (transaction) => {
    const removal = await beginRemoval(`rule “${rule.name}”`, transaction);
    await sweep(removal, [{ table: 'named_rules', column: 'id', values: [id] }], transaction);
    await modelMoved(transaction);
  });
}
