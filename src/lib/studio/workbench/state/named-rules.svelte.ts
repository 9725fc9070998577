import type { Model } from '$lib/core/schema/model';
import type { NamedRule } from '$lib/core/schema/named-rule';
import type { Group } from '$lib/core/schema/rule';
import type { Tree } from '$lib/core/schema/element';
import type { Scopes } from '$lib/core/paths/scopes';
import { mapRule, pathsOf } from '$lib/core/rules/walk';
import type { Api } from '$lib/client/api';
import { api as studioApi } from '../../base/api';

interface KeptRulesHost {
  model: Model;
  readonly tree: Tree;
  scopesAt(id: string): Scopes;
}

/** Rules under a name: the one that is open, and how a rule of an element becomes one. */
export class NamedRules {
  /** The rule that is open to be changed; a new one has version 0. */
  editing: NamedRule | undefined = $state.raw();
  /** The element whose rule is being kept: it goes by the name from then on. */
  keeping: string | undefined = $state();

  constructor(
    private readonly host: KeptRulesHost,
    private readonly api: Api = studioApi,
  ) {}

  /** Keeps a rule under a name, and has it at hand. Throws what the server refuses. */
  async keep({ id, version, ...rest }: NamedRule): Promise<NamedRule> {
    const kept = version
      ? await this.api('PUT /rules/{ruleId}', { ruleId: id, body: { ...rest, id, version } })
      : await this.api('POST /rules', { body: rest });
    const { model } = this.host;
    const others = model.rules.filter((one) => one.id !== kept.id);
    this.host.model = { ...model, rules: [...others, kept].sort((a, b) => a.name.localeCompare(b.name)) };
    return kept;
  }

  /** An element's rule as one of the record that it reads; the reason where it reads anything else. */
  ruleToKeep(id: string): { rule: Group; typeId: string } | string {
    const rule = this.host.tree.elements[id]?.rule;
    const { loops, recordTypeIds = [] } = this.host.scopesAt(id);
    if (!rule?.rules.length) return 'There is no rule to keep yet.';
    const froms = [...new Set(pathsOf(rule).map((path) => path.from))].filter((from) => from !== 'site');
    const [from = 'record'] = froms;
    if (froms.length > 1) return 'A kept rule is about one record, and this one reads several.';
    const types = from === 'record' ? recordTypeIds : loops.find((loop) => from === `loop:${loop.id}`)?.typeIds;
    const [typeId] = types ?? [];
    if (!typeId || types?.length !== 1) return 'A kept rule is about records of one type, and this one is not.';
    return {
      typeId,
      rule: mapRule(rule, (path) => (path.from === from ? { ...path, from: 'record' } : path)) as Group,
    };
  }
}
