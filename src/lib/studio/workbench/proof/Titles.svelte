<script lang="ts">
  import type { Workbench } from '../state/workbench.svelte';

  let { wb, words, ids }: { wb: Workbench; words: string; ids: number[] } = $props();

  const MOST = 12;
  let all = $state(false);
  const title = (id: number) => wb.survey.heads.get(id)?.title ?? `No. ${id}`;
  const told = $derived(all ? ids.slice(0, 500) : ids.slice(0, MOST));
</script>

{#if ids.length}
  <p class="mt-0.5">
    <span class="text-faded">{words} {ids.length.toLocaleString('en')}:</span>
    {#each told as id, i (id)}{i ? ', ' : ''}<button
        type="button"
        class="inline-block max-w-56 truncate align-bottom underline decoration-hairline underline-offset-2 hover:decoration-plum"
        title="Design with {title(id)}"
        onclick={() => wb.survey.look(id)}>{title(id)}</button
      >{/each}{#if ids.length > told.length && !all}, <button
        type="button"
        class="text-plum underline underline-offset-2"
        onclick={() => (all = true)}>and {ids.length - told.length} more</button
      >{/if}
  </p>
{/if}
