<script lang="ts">
  import { ChevronLeft, ChevronRight } from '@lucide/svelte';
  import Tip from '$lib/ui/Tip.svelte';
  import type { Workbench } from './workbench.svelte';

  let { wb }: { wb: Workbench } = $props();

  let row: HTMLElement | undefined = $state();
  const type = $derived(wb.index.type(wb.typeId));
  const shown = $derived(
    wb.records.filter((record) => record.typeId === wb.typeId && record.status === 'published').length,
  );
  const pages = $derived(wb.drawing.env.paging?.pages ?? 1);

  $effect(() => {
    void wb.record;
    void wb.page;
    row?.querySelector('[aria-current]')?.scrollIntoView({ block: 'nearest', inline: 'nearest' });
  });
</script>

<nav
  aria-label={wb.template.purpose === 'archive' ? 'Pages of the archive' : 'Record strip'}
  class="flex h-9 shrink-0 items-center gap-1 border-b border-hairline bg-linen px-2"
>
  <Tip words="The one before" keys=",">
    {#snippet children(props)}
      <button
        {...props}
        type="button"
        aria-label="The one before"
        class="rounded-sm p-1 hover:bg-linen-deep"
        onclick={() => wb.flip(-1)}><ChevronLeft size={16} /></button
      >
    {/snippet}
  </Tip>
  <div class="flex min-w-0 grow items-center gap-1 overflow-x-auto [scrollbar-width:none]" bind:this={row}>
    {#if !wb.typeId}
      <span class="px-2 text-faded">It shows no record, so there is none to flip through.</span>
    {:else if wb.template.purpose !== 'archive'}
      {#each wb.strip as record (record.id)}
        <button
          type="button"
          aria-current={record.id === wb.record?.id ? 'true' : undefined}
          title={record.title}
          onclick={() => (wb.recordId = record.id)}
          class="max-w-40 shrink-0 truncate rounded-sm border px-2 py-0.5 {record.id === wb.record?.id
            ? 'border-plum bg-paper font-semibold'
            : 'border-transparent hover:bg-linen-deep'} {record.status === 'draft' ? 'italic' : ''}"
          >{record.title}{record.status === 'draft' ? ' (draft)' : ''}</button
        >
      {:else}
        <span class="text-faded"
          >There is no {type?.name.toLowerCase()} yet.
          <a class="text-plum underline" href="/studio/content/{wb.typeId}">Add one</a> to see values here.</span
        >
      {/each}
    {:else}
      {#each { length: pages }, i (i)}
        <button
          type="button"
          aria-current={wb.page === i + 1 ? 'true' : undefined}
          onclick={() => (wb.page = i + 1)}
          class="shrink-0 rounded-sm border px-2 py-0.5 {wb.page === i + 1
            ? 'border-plum bg-paper font-semibold'
            : 'border-transparent hover:bg-linen-deep'}">Page {i + 1}</button
        >
      {/each}
      <span class="ml-2 text-faded"
        >{shown}
        {shown === 1 ? type?.name.toLowerCase() : type?.plural.toLowerCase()} that visitors can see{wb.partial[
          wb.typeId
        ]
          ? `, of the first 2,000`
          : ''}</span
      >
    {/if}
  </div>
  <Tip words="The next one" keys=".">
    {#snippet children(props)}
      <button
        {...props}
        type="button"
        aria-label="The next one"
        class="rounded-sm p-1 hover:bg-linen-deep"
        onclick={() => wb.flip(1)}><ChevronRight size={16} /></button
      >
    {/snippet}
  </Tip>
</nav>
