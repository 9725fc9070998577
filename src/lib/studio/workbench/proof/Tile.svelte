<script lang="ts">
  import { type Snippet, onMount } from 'svelte';
  import type { Look } from '$lib/core/coverage/look';
  import type { Head } from '../../survey/messages';
  import type { Mounts } from './mounts';
  import type { Workbench } from '../state/workbench.svelte';

  let {
    wb,
    head,
    current = false,
    look,
    width,
    tall = 1.3,
    chosen = false,
    full = false,
    mounts,
    onchoose,
    onopen,
    note,
    made = false,
    about,
    page,
  }: {
    wb: Workbench;
    head: Pick<Head, 'title' | 'draft'>;
    /** It is the one on screen. */
    current?: boolean;
    look: Look | undefined;
    width: number;
    /** How high it is shown, by its width. */
    tall?: number;
    chosen?: boolean;
    /** No more can be chosen. */
    full?: boolean;
    mounts: Mounts;
    /** With it, it can be chosen to stand beside others. */
    onchoose?: () => void;
    onopen: () => void;
    /** What it stands for, in place of the title. */
    note?: string;
    /** No record is like that. */
    made?: boolean;
    about?: string;
    page: Snippet;
  } = $props();

  let tile: HTMLElement;
  let room = $state(230);
  /** Only what is near the window is a page; all else is paper. */
  let near = $state(false);
  const scale = $derived(room / width);

  onMount(() => {
    const mount = () => (near = true);
    const watcher = new IntersectionObserver(
      ([entry]) => {
        if (entry?.isIntersecting) return mounts.add(mount);
        mounts.remove(mount);
        near = false;
      },
      { root: tile.parentElement, rootMargin: '300px' },
    );
    watcher.observe(tile);
    return () => {
      mounts.remove(mount);
      watcher.disconnect();
    };
  });

  const names = (ids: string[]) => ids.map((id) => wb.titleOf(id)).join(', ');
  const marks = $derived(
    look
      ? [
          { ids: look.hidden, words: 'hidden', about: 'Hidden by rule', shape: 'eyelet' },
          { ids: look.empty, words: 'empty', about: 'Empty', shape: 'gap' },
          { ids: look.fallbacks, words: 'fallback', about: 'Shown by a fallback', shape: 'knot' },
          { ids: look.broken, words: 'broken', about: 'Broken', shape: 'frayed' },
        ].filter(({ ids }) => ids.length)
      : [],
  );
</script>

<li bind:this={tile} bind:clientWidth={room} class="flex min-w-0 flex-col">
  <button
    type="button"
    class="relative block overflow-hidden border bg-paper text-left {current
      ? 'border-plum outline-2 outline-plum outline-dashed'
      : 'border-hairline hover:border-plum'}"
    style="height:{Math.round(room * tall)}px"
    title="Design with it"
    aria-label="Design with {head.title}"
    onclick={onopen}
  >
    {#if near && look}<span class="absolute top-0 left-0 block origin-top-left" style="transform:scale({scale})"
        >{@render page()}</span
      >{/if}
  </button>
  <div class="mt-1 flex items-start gap-1.5">
    {#if onchoose}<input
        type="checkbox"
        class="mt-0.5 shrink-0"
        aria-label="Put {head.title} beside others"
        title="Put it beside others"
        checked={chosen}
        disabled={full && !chosen}
        onchange={onchoose}
      />{/if}
    {#if note}<span class="min-w-0 leading-tight"
        ><span class="rounded-sm px-1 font-medium {made ? 'bg-indigo/15' : 'bg-moss/15'}">{note}</span>
        <span class="mt-0.5 block text-faded">{about}</span></span
      >{:else}<span class="min-w-0 leading-tight font-medium"
        >{head.title}{#if head.draft}<em class="font-normal text-faded">, draft</em>{/if}</span
      >{/if}
  </div>
  {#if !note}<p class="mt-0.5 flex flex-wrap gap-x-2.5 text-xs">
      {#each marks as mark (mark.words)}
        <span
          class="inline-flex items-center gap-1 {mark.shape === 'frayed' ? 'rounded-sm bg-ochre px-1' : 'text-faded'}"
          title="{mark.about}: {names(mark.ids)}"
        >
          {#if mark.shape === 'eyelet'}<span class="size-2 rounded-full border-2 border-weld"></span>
          {:else if mark.shape === 'gap'}<span class="size-2 border border-dashed border-faded"></span>
          {:else if mark.shape === 'knot'}<span class="size-2 rounded-full bg-madder"></span>
          {:else}<span aria-hidden="true">≋</span>{/if}
          {mark.ids.length.toLocaleString('en')}
          {mark.words === 'fallback' && mark.ids.length > 1 ? 'fallbacks' : mark.words}
        </span>
      {/each}
      {#if look && !marks.length}<span class="text-moss">everything is shown</span>{/if}
    </p>{/if}
</li>
