<script lang="ts">
  import { FileText } from '@lucide/svelte';
  import type { Media } from '$lib/core/schema/record';
  import { mediaAddress } from '$lib/core/model/media';
  import { api } from '$lib/studio/base/api';
  import Button from '$lib/ui/Button.svelte';
  import Sheet from '$lib/ui/Sheet.svelte';
  import { untrack } from 'svelte';

  let {
    open = $bindable(false),
    files = false,
    several = false,
    onpick,
  }: { open?: boolean; files?: boolean; several?: boolean; onpick: (media: Media) => void } = $props();

  let search = $state('');
  let media: Media[] = $state([]);
  /** How many are found; undefined until that is known. */
  let total: number | undefined = $state();
  let failed = $state('');
  let picked: number[] = $state([]);
  /** Those that are shown were found by this. */
  let by = $state('');
  let asked = 0;
  const PAGE = 60;

  async function find(more = false) {
    const own = ++asked;
    const words = search;
    try {
      const answer = await api('GET /media', {
        query: {
          search: words,
          pictures: String(!files),
          page: more ? Math.floor(media.length / PAGE) + 1 : 1,
          per_page: PAGE,
        },
      });
      if (own !== asked) return;
      media = more ? [...media, ...answer.items] : answer.items;
      total = answer.total;
      by = words;
      failed = '';
    } catch (error) {
      if (own === asked) failed = (error as Error).message;
    }
  }
  $effect(() => {
    if (!open) return;
    picked = [];
    untrack(() => void find());
  });

  function pick(one: Media) {
    onpick(one);
    if (several) picked.push(one.id);
    else open = false;
  }
</script>

<Sheet
  bind:open
  wide
  title={files ? 'Choose a file' : several ? 'Choose pictures' : 'Choose a picture'}
  about={total === undefined ? undefined : `${total.toLocaleString('en')} ${by ? 'found' : 'in the library'}`}
>
  <input
    type="search"
    class="w-72"
    placeholder="Find by name or description"
    aria-label="Find in the library"
    bind:value={search}
    oninput={() => void find()}
  />
  {#if several}<Button class="ml-2" tone="main" onclick={() => (open = false)}>Done</Button>{/if}
  {#if failed}<p class="mt-2 text-madder">{failed}</p>{/if}
  <div class="mt-3 grid grid-cols-[repeat(auto-fill,minmax(8.5rem,1fr))] gap-2">
    {#each media as one (one.id)}
      <button
        type="button"
        class="overflow-hidden rounded-sm border text-left hover:border-faded {picked.includes(one.id)
          ? 'border-plum bg-linen'
          : 'border-hairline'}"
        aria-pressed={several ? picked.includes(one.id) : undefined}
        onclick={() => pick(one)}
      >
        {#if one.mime.startsWith('image/')}<img
            src={mediaAddress(one, 320)}
            alt={one.alt}
            loading="lazy"
            class="h-24 w-full object-cover"
          />
        {:else}<span class="flex h-24 items-center justify-center bg-linen text-faded"><FileText size={28} /></span
          >{/if}
        <span class="block truncate px-1.5 py-0.5 text-xs">{one.name}</span>
      </button>
    {:else}
      {#if !failed}<p class="col-span-full text-faded">
          {#if total === undefined}Looking …{:else if by}Nothing has “{by}” in its name or description.{:else}Nothing
            here yet. Add files from this computer, or drop them on the field.{/if}
        </p>{/if}
    {/each}
  </div>
  {#if media.length < (total ?? 0)}<Button class="mt-3" onclick={() => void find(true)}>More</Button>{/if}
</Sheet>
