<script lang="ts">
  import { compileRule } from '$lib/core/rules/compile';
  import { ruleWords, type Explained } from '$lib/core/rules/explain';
  import type { Scopes } from '$lib/core/paths/scopes';
  import type { Named, Rule } from '$lib/core/schema/rule';
  import Button from '$lib/ui/Button.svelte';
  import type { Workbench } from '../state/workbench.svelte';

  let {
    wb,
    scopes,
    part,
    seen,
    onreplace,
  }: {
    wb: Workbench;
    scopes: Scopes;
    part: Named;
    seen: Explained | undefined;
    onreplace: (next: Rule) => void;
  } = $props();

  const kept = $derived(wb.index.rule(part.named));
  const made = $derived(compileRule(part, scopes, wb.index));
  const inner = $derived(made.parts[0]);
</script>

<div class="flex min-w-0 flex-wrap items-center gap-2">
  <span class="rounded-sm border border-weld/50 bg-paper px-2 py-0.5 font-medium">{kept?.name ?? 'A deleted rule'}</span
  >
  {#if inner}<span class="min-w-0 text-faded">{ruleWords(inner, wb.preview.envAt(scopes))}</span>{/if}
  {#if made.problems[0]}<span class="rounded-sm bg-ochre px-1 text-xs">{made.problems[0].what}</span>
  {:else if seen?.saw}<span class="text-xs text-faded">saw {seen.saw}</span>{/if}
  {#if kept}
    <Button tone="bare" onclick={() => (wb.rules.editing = kept)}>Open it</Button>
    {#if inner}<Button tone="bare" title="Put a copy of its tests here" onclick={() => onreplace(inner.rule)}
        >Copy it in here</Button
      >{/if}
  {/if}
</div>
