<script lang="ts">
  import { X } from '@lucide/svelte';
  import Button from '$lib/ui/Button.svelte';
  import { supposedWords } from '../state/suppose';
  import type { Workbench } from '../state/workbench.svelte';

  let { wb }: { wb: Workbench } = $props();

  const told = $derived(supposedWords(wb));
</script>

{#if told.length || wb.preview.made}
  <div
    role="status"
    aria-label="Supposed values"
    class="flex shrink-0 flex-wrap items-center gap-x-3 gap-y-1 border-b-2 border-indigo bg-indigo/10 px-3 py-1"
    data-supposed
  >
    <span class="font-semibold"
      >{wb.preview.made ? `${wb.preview.made.title}, not stored` : 'Supposed, not stored'}</span
    >
    {#each told as one (`${one.recordId} ${one.step}`)}
      <span class="inline-flex max-w-72 items-center gap-1 rounded-sm border border-indigo/40 bg-paper pl-1.5">
        <span class="truncate"
          >{one.label}{one.of ? ` of ${one.of}` : ''}: <span class="font-medium">{one.words}</span></span
        >
        <button
          type="button"
          class="p-0.5 text-faded hover:text-ink"
          aria-label="Let go of {one.label}"
          onclick={() => wb.preview.letGo(one.recordId, one.step)}><X size={13} /></button
        >
      </span>
    {/each}
    <span class="ml-auto"
      ><Button onclick={() => wb.preview.letGo()}>Let go <kbd class="ml-1 font-mono text-faded">l</kbd></Button></span
    >
  </div>
{/if}
