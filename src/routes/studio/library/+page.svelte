<script lang="ts">
  import { may } from '$lib/studio/people/me';
  import { FileText } from '@lucide/svelte';
  import { SvelteSet } from 'svelte/reactivity';
  import { invalidateAll } from '$app/navigation';
  import { page } from '$app/state';
  import { mediaAddress } from '$lib/core/model/media';
  import MediaDetail from '$lib/studio/media/MediaDetail.svelte';
  import { Uploads } from '$lib/studio/media/uploads.svelte';
  import { api } from '$lib/studio/base/api';
  import { offerUndo } from '$lib/studio/base/undo.svelte';
  import Button from '$lib/ui/Button.svelte';

  let { data } = $props();

  let open: number | undefined = $state(Number(page.url.searchParams.get('open')) || undefined);
  let over = $state(false);
  let said = $state('');
  const picked = new SvelteSet<number>();
  const uploads = new Uploads(() => void invalidateAll());
  const under = $derived(
    uploads.list.filter((upload) => upload.state === 'sending' || upload.state === 'waiting').length,
  );
  const WORDS = {
    waiting: 'waits',
    sending: '',
    kept: 'kept',
    again: 'was here already',
    refused: '',
    cancelled: 'cancelled',
  };

  function drop(event: DragEvent) {
    event.preventDefault();
    over = false;
    if (may('addMedia')) uploads.add([...(event.dataTransfer?.files ?? [])]);
  }
  async function remove(ids: number[]) {
    said = '';
    try {
      const [first] = ids;
      const { removal } = await (ids.length === 1 && first !== undefined
        ? api('DELETE /media/{mediaId}', { mediaId: first })
        : api('DELETE /media', { body: { ids } }));
      offerUndo(
        removal,
        ids.length === 1
          ? 'Deleted, and taken out of what used it.'
          : `${ids.length} deleted, and taken out of what used them.`,
      );
      picked.clear();
      if (open && ids.includes(open)) open = undefined;
      await invalidateAll();
    } catch (error) {
      said = (error as Error).message;
    }
  }
  const size = (bytes: number) =>
    bytes >= 1_000_000 ? `${(bytes / 1_000_000).toFixed(1)} MB` : `${Math.max(1, Math.round(bytes / 1000))} kB`;
  const to = (n: number) =>
    `?${new URLSearchParams({ ...(data.search ? { search: data.search } : {}), page: String(n) })}`;
</script>

<svelte:head><title>Library · Plum Thread</title></svelte:head>

<main class="grid min-h-0 grow {open ? 'grid-cols-[minmax(0,1fr)_26rem]' : 'grid-cols-1'}">
  <section
    aria-label="Pictures and files"
    class="min-h-0 overflow-y-auto px-8 py-5 {over ? 'bg-linen-deep' : ''}"
    ondragover={(e) => {
      if (!e.dataTransfer?.types.includes('Files')) return;
      e.preventDefault();
      over = true;
    }}
    ondragleave={(e) => {
      if (e.currentTarget === e.target) over = false;
    }}
    ondrop={drop}
  >
    <div class="flex items-end gap-4">
      <h1 class="text-3xl font-medium">Library</h1>
      <span class="pb-1 text-faded">{data.total.toLocaleString('en')} pictures and files</span>
      <form class="ml-auto" role="search">
        <input
          type="search"
          name="search"
          value={data.search}
          placeholder="Find by name or description"
          aria-label="Find in the library"
          class="w-60"
        />
      </form>
      {#if may('addMedia')}<label
          class="inline-flex h-7 cursor-pointer items-center rounded-sm bg-plum px-2.5 font-medium text-paper focus-within:outline-2 focus-within:outline-offset-1 focus-within:outline-plum hover:bg-plum-deep"
          >Add files<input
            type="file"
            multiple
            class="sr-only"
            onchange={(e) => {
              uploads.add([...(e.currentTarget.files ?? [])]);
              e.currentTarget.value = '';
            }}
          /></label
        >{/if}
    </div>
    {#if uploads.list.length}
      <div class="mt-3 border border-hairline bg-paper p-3" role="status">
        <div class="flex items-center">
          <p class="font-medium">{under ? `${under} on the way` : 'All files have been dealt with'}</p>
          {#if !under}<Button class="ml-auto" tone="bare" onclick={() => uploads.clear()}>Close</Button>{/if}
        </div>
        <ul class="mt-1 max-h-48 overflow-y-auto">
          {#each uploads.list as upload (upload.id)}
            <li class="flex items-center gap-3 py-0.5">
              <span class="w-64 truncate">{upload.name}</span>
              {#if upload.state === 'sending'}<progress class="w-40" max="1" value={upload.part}></progress><span
                  class="w-10 text-right text-xs tabular-nums">{Math.round(upload.part * 100)} %</span
                >
                <button type="button" class="text-xs underline" onclick={() => uploads.cancel(upload.id)}>Cancel</button
                >
              {:else if upload.state === 'refused'}<span class="text-madder">{upload.said}</span>
              {:else}<span class={upload.state === 'kept' || upload.state === 'again' ? 'text-moss' : 'text-faded'}
                  >{WORDS[upload.state]}</span
                >{/if}
            </li>
          {/each}
        </ul>
      </div>
    {/if}
    {#if picked.size}
      <div class="mt-3 flex items-center gap-2 rounded-sm bg-linen-deep px-3 py-1.5">
        <span class="font-medium">{picked.size} chosen</span><Button
          class="text-madder"
          onclick={() => remove([...picked])}>Delete</Button
        ><Button tone="bare" onclick={() => picked.clear()}>Choose none</Button>
      </div>
    {/if}
    {#if said}<p class="mt-2 text-madder" role="alert">{said}</p>{/if}
    <ul class="mt-4 grid grid-cols-[repeat(auto-fill,minmax(10rem,1fr))] gap-3">
      {#each data.media as media (media.id)}
        <li
          class="relative overflow-hidden rounded-sm border bg-paper {open === media.id
            ? 'border-plum'
            : 'border-hairline'}"
        >
          <button
            type="button"
            class="block w-full text-left"
            onclick={() => (open = media.id)}
            aria-label="Look at {media.name}"
          >
            {#if media.mime.startsWith('image/')}<img
                src={mediaAddress(media, 320)}
                alt={media.alt}
                loading="lazy"
                class="h-28 w-full object-cover"
                style="object-position:{media.focalX * 100}% {media.focalY * 100}%"
              />
            {:else}<span class="flex h-28 items-center justify-center bg-linen text-faded"><FileText size={32} /></span
              >{/if}
            <span class="block px-2 py-1">
              <span class="block truncate" title={media.name}>{media.name}</span>
              <span class="block text-xs text-faded"
                >{media.width ? `${media.width} × ${media.height} · ` : ''}{size(media.size)}</span
              >
              {#if media.mime.startsWith('image/') && !media.alt}<span
                  class="mt-0.5 inline-block rounded-sm bg-ochre px-1 text-xs">no alternative text</span
                >{/if}
            </span>
          </button>
          {#if may('deleteSeveralMedia')}<input
              type="checkbox"
              class="absolute top-1 left-1 size-6!"
              aria-label="Choose {media.name}"
              checked={picked.has(media.id)}
              onchange={(e) => (e.currentTarget.checked ? picked.add(media.id) : picked.delete(media.id))}
            />{/if}
        </li>
      {:else}
        <li class="col-span-full py-6 text-faded">
          {data.search
            ? `Nothing has “${data.search}” in its name or description.`
            : 'Nothing here yet. Drop pictures and files anywhere on this page.'}
        </li>
      {/each}
    </ul>
    {#if data.pages > 1}
      <nav aria-label="Pages" class="mt-4 flex items-center gap-3">
        {#if data.page > 1}<a class="text-plum underline" href={to(data.page - 1)}>Previous page</a>{/if}
        <span class="text-faded">Page {data.page.toLocaleString('en')} of {data.pages.toLocaleString('en')}</span>
        {#if data.page < data.pages}<a class="text-plum underline" href={to(data.page + 1)}>Next page</a>{/if}
      </nav>
    {/if}
  </section>
  {#if open}
    <aside class="min-h-0 overflow-y-auto border-l border-hairline bg-paper px-6 py-5">
      {#key open}<MediaDetail id={open} onclose={() => (open = undefined)} ondelete={(id) => void remove([id])} />{/key}
    </aside>
  {/if}
</main>
