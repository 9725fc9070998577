<script lang="ts">
  import type { Scopes } from '$lib/core/paths/scopes';
  import { compileRule } from '$lib/core/rules/compile';
  import { explain, type Explained } from '$lib/core/rules/explain';
  import type { Group } from '$lib/core/schema/rule';
  import { RuleDrag } from './rule-drag.svelte';
  import RuleGroup from './RuleGroup.svelte';
  import type { Workbench } from '../state/workbench.svelte';

  let {
    wb,
    scopes,
    rule,
    onchange,
    explained,
  }: {
    wb: Workbench;
    scopes: Scopes;
    rule: Group;
    onchange: (rule: Group) => void;
    explained?: Explained;
  } = $props();

  const compiled = $derived(compileRule(rule, scopes, wb.index));
  const why = $derived(explained ?? explain(compiled, wb.preview.envAt(scopes)));
  let refused = $state('');

  const drag = new RuleDrag(
    () => rule,
    (next) => {
      // What is asked of rows cannot be asked outside of them.
      const after = compileRule(next, scopes, wb.index).problems;
      refused = after.length > compiled.problems.length ? (after.at(-1)?.what ?? '') : '';
      if (!refused) onchange(next);
      return !refused;
    },
  );
</script>

<div data-rule-root {@attach drag.root}>
  <RuleGroup {wb} {scopes} whole={rule} group={rule} place={[]} {why} {drag} joined={false} {onchange} />
  {#if refused}<p role="alert" class="mt-1 rounded-sm bg-ochre px-2 py-1">It cannot stand there: {refused}</p>{/if}
</div>
