<script lang="ts">
  import { pagesNear } from '$lib/core/loops/near';
  import { ChevronLeft, ChevronRight } from '@lucide/svelte';
  import { searchWords, queryWords } from '$lib/core/base/words';
  import { titleOfArchive } from '$lib/core/addresses/archives';
  import Tip from '$lib/ui/Tip.svelte';
  import WhichRecords from '../settings/WhichRecords.svelte';
  import type { Workbench } from '../state/workbench.svelte';

  let { wb }: { wb: Workbench } = $props();

  let row: HTMLElement | undefined = $state();
  /** Words in the titles of those that are listed; the strip itself stays as it is. */
  let sought = $state('');
  /** With fewer than these all are seen at once. */
  const FEW = 8;
  /** The site finds no more titles than these at once. */
  const MOST_TITLES = 50;
  const asked = $derived(queryWords(sought));
  const listed = $derived(
    asked.length
      ? wb.preview.strip.filter(({ title }) => {
          const words = searchWords(title);
          return asked.every((one) => words.some((word) => word.startsWith(one)));
        })
      : wb.preview.strip,
  );
  /** Found among records that are not here; asked of the site. */
  let elsewhere: { id: number; title: string }[] = $state.raw([]);
  /** Milliseconds after a letter until it is asked. */
  const REST = 250;
  $effect(() => {
    const words = sought;
    elsewhere = [];
    if (!words.trim()) return;
    const timer = setTimeout(() => {
      wb.findElsewhere(words).then(
        (found) => {
          if (words === sought) elsewhere = found;
        },
        // What cannot be asked is not found.
        () => undefined,
      );
    }, REST);
    return () => clearTimeout(timer);
  });
  const type = $derived(wb.index.type(wb.typeId));
  const total = $derived(wb.preview.drawing.env.paging?.total);
  const partly = $derived(
    (wb.scopes.archive?.typeIds ?? [])
      .filter((id) => wb.partial[id] && !wb.lists.told)
      .map((id) => `, among the first ${wb.atHand(id).toLocaleString('en')} ${wb.index.type(id)?.plural.toLowerCase()}`)
      .join(''),
  );
  const pages = $derived(wb.preview.drawing.env.paging?.pages ?? 1);
  const near = $derived(pagesNear(wb.preview.page, pages));

  $effect(() => {
    void wb.preview.record;
    void wb.preview.page;
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
        onclick={() => wb.preview.flip(-1)}><ChevronLeft size={16} /></button
      >
    {/snippet}
  </Tip>
  <div class="flex min-w-0 grow items-center gap-1 overflow-x-auto [scrollbar-width:none]" bind:this={row}>
    {#if wb.template.purpose === 'archive'}
      {#if wb.scopes.archive?.on === 'search'}
        <label class="flex shrink-0 items-center gap-1 px-1"
          ><span class="text-faded">Searched for</span><input
            class="h-6! w-36"
            value={wb.preview.archive?.of === 'search' ? wb.preview.archive.words : ''}
            oninput={(e) => {
              wb.preview.searched = e.currentTarget.value;
              wb.preview.page = 1;
            }}
          /></label
        >
      {:else if wb.preview.archives.length > 1}
        <select
          aria-label="Archive on screen"
          class="h-6! max-w-56 shrink-0"
          value={wb.preview.archive ? wb.preview.archives.indexOf(wb.preview.archive) : 0}
          onchange={(e) => wb.preview.lookAt(wb.preview.archives[Number(e.currentTarget.value)]!)}
        >
          {#each wb.preview.archives as of, i (i)}<option value={i}
              >{of.of === 'term' ? '\u2003'.repeat(wb.index.above(of.termId).length - 1) : ''}{titleOfArchive(
                of,
                wb.index,
              )}</option
            >{/each}
        </select>
      {/if}
      <span class="ml-1 shrink-0 text-faded">Page</span>
      {#each near as n, i (n)}
        {#if n - (near[i - 1] ?? 0) > 1}<span class="shrink-0 text-faded">…</span>{/if}
        <button
          type="button"
          aria-label="Page {n.toLocaleString('en')}"
          aria-current={wb.preview.page === n ? 'true' : undefined}
          onclick={() => (wb.preview.page = n)}
          class="shrink-0 rounded-sm border px-2 py-0.5 {wb.preview.page === n
            ? 'border-plum bg-paper font-semibold'
            : 'border-transparent hover:bg-linen-deep'}">{n.toLocaleString('en')}</button
        >
      {/each}
      {#if pages > near.length}<input
          type="number"
          class="ml-2 w-20 shrink-0"
          min="1"
          max={pages}
          placeholder="Go to"
          aria-label="Go to page"
          onchange={(e) => {
            const n = Math.round(e.currentTarget.valueAsNumber);
            if (n >= 1) wb.preview.page = Math.min(n, pages);
            e.currentTarget.value = '';
          }}
        />{/if}
      <span class="ml-2 shrink-0 text-faded"
        >{total === undefined ? '' : `${total.toLocaleString('en')} listed`}{partly}</span
      >
    {:else if !wb.typeId}
      <span class="px-2 text-faded">It shows no record, so there is none to flip through.</span>
    {:else}
      <WhichRecords {wb} />
      {#if wb.preview.narrowed}
        <button
          type="button"
          class="shrink-0 rounded-sm bg-ochre px-2 py-0.5"
          title="Back to all records"
          onclick={() => (wb.preview.narrowed = undefined)}
          >{wb.preview.strip.length.toLocaleString('en')} for {wb.preview.narrowed.words} ×</button
        >
      {/if}
      {#if wb.preview.strip.length > FEW}
        <input
          type="search"
          class="h-6! w-28 shrink-0"
          placeholder="Find a record"
          aria-label="Find a record"
          bind:value={sought}
          onkeydown={(e) => {
            if (e.key === 'Enter' && listed[0]) wb.preview.put(listed[0].id);
            else if (e.key === 'Enter' && elsewhere[0]) void wb.bring(elsewhere[0].id);
            if (e.key === 'Escape') sought = '';
          }}
        />
        {#if asked.length}<span class="shrink-0 text-faded" role="status"
            >{listed.length || 'none'} of {wb.preview.strip.length.toLocaleString('en')}{wb.partial[wb.typeId] ===
            undefined
              ? ''
              : ' here'}{elsewhere.length
              ? `, and ${elsewhere.length === MOST_TITLES ? 'more than ' : ''}${elsewhere.length} elsewhere`
              : ''}</span
          >{/if}
      {/if}
      {#each listed as record (record.id)}
        <button
          type="button"
          aria-current={record.id === wb.preview.record?.id ? 'true' : undefined}
          title={record.title}
          onclick={() => wb.preview.put(record.id)}
          class="max-w-40 shrink-0 truncate rounded-sm border px-2 py-0.5 {record.id === wb.preview.record?.id
            ? 'border-plum bg-paper font-semibold'
            : 'border-transparent hover:bg-linen-deep'} {record.status === 'draft' ? 'italic' : ''}"
          >{record.title}{record.status === 'draft' ? ' (draft)' : ''}</button
        >
      {:else}
        {#if !asked.length}<span class="text-faded"
            >There is no {type?.name.toLowerCase()} yet.
            <a class="text-plum underline" href="/studio/content/{wb.typeId}">Add one</a> to see values here.</span
          >{/if}
      {/each}
      {#each elsewhere as found (found.id)}
        <button
          type="button"
          title="{found.title}, which is fetched"
          onclick={() => wb.bring(found.id)}
          class="max-w-40 shrink-0 truncate rounded-sm border border-dashed border-hairline px-2 py-0.5 hover:bg-linen-deep"
          >{found.title}</button
        >
      {/each}
    {/if}
  </div>
  <Tip words="The next one" keys=".">
    {#snippet children(props)}
      <button
        {...props}
        type="button"
        aria-label="The next one"
        class="rounded-sm p-1 hover:bg-linen-deep"
        onclick={() => wb.preview.flip(1)}><ChevronRight size={16} /></button
      >
    {/snippet}
  </Tip>
</nav>
