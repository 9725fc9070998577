<script lang="ts">
  import { noBranches } from '$lib/core/templates/branches';
  import { ruleWords } from '$lib/core/rules/explain';
  import type { Element } from '$lib/core/schema/element';
  import PathPicker from './PathPicker.svelte';
  import type { Workbench } from '../state/workbench.svelte';

  let { wb, element }: { wb: Workbench; element: Element } = $props();

  const scopes = $derived(wb.scopesAt(element.id));
  const overlaps = $derived(wb.overlapsOf(element.id));
  const branches = $derived(
    element.children.map((id, i) => {
      const rule = wb.compiledOf(id)?.rule;
      const fates = wb.preview.fates.get(id);
      return {
        id,
        name: wb.nameOf(id),
        words: rule ? ruleWords(rule, wb.preview.envAt(scopes)) : 'whenever none before it is shown',
        overlaps: rule ? (overlaps[i] ?? []).map((j) => wb.titleOf(element.children[j] as string)).join(', ') : '',
        here: Boolean(fates && fates.drawn + fates.empty),
        end: wb.looseEnds.find((end) => end.elementId === id && end.via === 'rule')?.what,
      };
    }),
  );
  const own = $derived(wb.looseEnds.filter((end) => end.elementId === element.id && end.via === 'rule'));
</script>

<div class="flex flex-col gap-1.5 px-3 py-2">
  {#each own as end, i (i)}<p class="rounded-sm bg-ochre px-2 py-1">{end.what} {end.fix}</p>{/each}
  {#each branches as branch, i (branch.id)}
    <div class="flex items-baseline gap-2">
      <span class="w-5 shrink-0 text-right font-mono text-xs text-faded">{i + 1}</span>
      <button
        type="button"
        class="shrink-0 font-medium underline decoration-hairline underline-offset-2 hover:decoration-plum"
        onclick={() => wb.selection.select(branch.id)}>{branch.name}</button
      >
      <span class="min-w-0 truncate text-faded">{branch.words}</span>
      {#if branch.here}<span class="shrink-0 rounded-sm bg-moss/15 px-1.5 text-moss">shown here</span>{/if}
      {#if branch.overlaps}<span class="shrink-0 text-faded" title="Where both hold, the first of them is shown."
          >may hold together with {branch.overlaps}</span
        >{/if}
      <button
        type="button"
        aria-pressed={wb.preview.held.has(branch.id)}
        class="ml-auto shrink-0 rounded-sm border border-hairline px-1.5 hover:border-faded aria-pressed:border-plum aria-pressed:bg-linen-deep"
        onclick={() => wb.hold(branch.id)}>{wb.preview.held.has(branch.id) ? 'Held open' : 'Hold open'}</button
      >
      {#if branch.end}<span class="rounded-sm bg-ochre px-1.5">{branch.end}</span>{/if}
    </div>
  {:else}
    <p class="text-faded">Exactly one of its branches is shown: the first whose rule holds.</p>
  {/each}
  <div class="flex items-center gap-2">
    <span class="font-medium">A branch for each answer of</span>
    <PathPicker
      {wb}
      {scopes}
      label="Make a branch for each answer of"
      empty="Choose a value"
      refuse={noBranches}
      onpick={(path, type) => wb.commands.branch(element.id, path, type)}
    />
  </div>
</div>
