<script lang="ts">
  import Sign from '$lib/ui/Sign.svelte';
  import { ChevronDown, ChevronRight, Pencil, Search } from '@lucide/svelte';
  import { SvelteSet } from 'svelte/reactivity';
  import { elementNamed } from '$lib/core/elements';
  import { bringFor, slotFor } from '$lib/core/templates/bring';
  import { compilePath } from '$lib/core/paths/compile';
  import { pathWords } from '$lib/core/paths/built-ins';
  import { samePath } from '$lib/core/schema/path';
  import { changeable, type Changeable } from '../state/suppose';
  import type { Drag } from '../canvas/drag.svelte';
  import { shelfMaker, type ShelfGroup, type ShelfRow } from './shelf';
  import type { Workbench } from '../state/workbench.svelte';

  let {
    wb,
    drag,
    moved,
    oncorrect,
  }: { wb: Workbench; drag: Drag; moved: () => void; oncorrect: (target: Changeable) => void } = $props();

  let search = $state('');
  const opened = new SvelteSet<string>();
  const folded = new SvelteSet<string>(['site']);
  const unfolded = new SvelteSet<string>();
  const make = shelfMaker();
  const groups = $derived(make(wb, search, opened));
  const isFolded = (group: ShelfGroup) =>
    !search && (folded.has(group.from) || (!group.inReach && !unfolded.has(group.from)));

  $effect(() => {
    void groups;
    void [...folded, ...unfolded];
    moved();
  });

  function toggleGroup(group: ShelfGroup) {
    if (isFolded(group)) {
      folded.delete(group.from);
      unfolded.add(group.from);
    } else {
      folded.add(group.from);
      unfolded.delete(group.from);
    }
  }

  /** Binds the selected element where it takes the value and has nothing yet, or else puts a fitting one on the page. */
  function place(row: ShelfRow, labelled: boolean) {
    const { path, type } = row.entry;
    const selected = wb.element(wb.selection.id);
    const kind = selected && elementNamed(selected.kind);
    const slot = kind && slotFor(kind, type);
    const scopes = wb.compiledOf(wb.selection.id)?.scopes;
    const bound = slot && selected?.slots[slot] && 'bound' in selected.slots[slot];
    // A value of several that something else shows better brings that; what stands here takes what fits as it is.
    const better = type.many && wb.repeating(path, type, scopes ?? wb.scopes)?.label !== kind?.label;
    if (slot && !better && kind?.slots[slot]?.required && !bound && scopes && compilePath(path, scopes, wb.index).ok)
      return wb.bind(wb.selection.id, slot, path, type);
    const at = wb.commands.placeForNew();
    if (!compilePath(path, wb.scopesIn(at.parent), wb.index).ok) return;
    wb.commands.insert(
      `Put ${pathWords(path, wb.index)}`,
      bringFor(path, type, wb.tree, labelled).piece,
      at.parent,
      at.index,
    );
  }

  function onKey(event: KeyboardEvent, row: ShelfRow) {
    if (event.key === 'Enter') {
      event.preventDefault();
      place(row, event.shiftKey);
    } else if (event.key === 'F2') {
      const target = changeable(wb, row.entry.path, row.scopes);
      event.preventDefault();
      event.stopPropagation();
      if (target) oncorrect(target);
    } else if (event.key === 'ArrowRight' && row.entry.opens) opened.add(row.key);
    else if (event.key === 'ArrowLeft') opened.delete(row.key);
    else if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      event.preventDefault();
      const all = [...document.querySelectorAll<HTMLElement>('[data-shelf-key]')];
      all[all.indexOf(event.currentTarget as HTMLElement) + (event.key === 'ArrowDown' ? 1 : -1)]?.focus();
    }
  }
</script>

<section aria-label="Shelf" class="flex min-h-0 flex-col bg-linen">
  <div class="flex h-9 shrink-0 items-center gap-2 border-b border-hairline px-3">
    <Search size={14} class="shrink-0 text-faded" aria-hidden="true" />
    <input
      type="search"
      bind:value={search}
      placeholder="Find a field or a value"
      aria-label="Find a field or a value"
      class="h-7! w-full border-0! bg-transparent! px-0!"
    />
  </div>
  <div class="min-h-0 grow overflow-y-auto pb-6" data-shelf-scroll onscroll={moved}>
    {#each groups as group (group.from)}
      {#if group.rows.length || !search}
        <div>
          <button
            type="button"
            data-shelf-group={group.from}
            aria-expanded={!isFolded(group)}
            onclick={() => toggleGroup(group)}
            class="sticky top-0 z-10 flex w-full items-center gap-1 border-b border-hairline bg-linen-deep px-2 py-1 text-left font-semibold {group.inReach
              ? ''
              : 'text-faded'}"
          >
            {#if isFolded(group)}<ChevronRight size={14} />{:else}<ChevronDown size={14} />{/if}
            <span class="truncate">{group.name}</span>
            {#if group.from.startsWith('loop:')}<span
                class="ml-auto inline-block h-3 w-[5px] border-x-2 border-indigo"
                title="Repeats"
              ></span>{/if}
          </button>
          {#if !isFolded(group)}
            <ul class="py-0.5">
              {#each group.rows as row (row.key)}
                {@const lit = wb.litPath && samePath(wb.litPath, row.entry.path)}
                <li class="group flex items-stretch" style="padding-left: {row.depth * 14}px">
                  {#if row.entry.opens}
                    <button
                      type="button"
                      class="flex w-6 shrink-0 items-center justify-center self-stretch text-faded"
                      aria-label="{row.open ? 'Fold' : 'Unfold'} {row.entry.label}"
                      aria-expanded={row.open}
                      onclick={() => (row.open ? opened.delete(row.key) : opened.add(row.key))}
                    >
                      {#if row.open}<ChevronDown size={14} />{:else}<ChevronRight size={14} />{/if}
                    </button>
                  {:else}<span class="w-6 shrink-0"></span>{/if}
                  <!-- A link, since browsers begin no drag of anything else while the shift key is down. -->
                  <a
                    href="#{row.key}"
                    role="button"
                    tabindex="0"
                    data-shelf-key={row.key}
                    aria-label="{row.entry.label}: {row.words}"
                    class="flex min-w-0 grow cursor-grab items-center gap-1.5 rounded-sm py-[3px] pr-1 pl-0.5 select-none {lit
                      ? 'bg-ochre'
                      : 'hover:bg-linen-deep'}"
                    onpointerenter={() => (wb.litPath = row.entry.path)}
                    onpointerleave={() => (wb.litPath = undefined)}
                    onfocus={() => (wb.litPath = row.entry.path)}
                    onblur={() => (wb.litPath = undefined)}
                    onclick={(event) => event.preventDefault()}
                    ondblclick={(event) => place(row, event.shiftKey)}
                    onkeydown={(event) => onKey(event, row)}
                    {@attach drag.source(() => ({ what: 'value', path: row.entry.path, type: row.entry.type }))}
                  >
                    <span class="mt-0.5 text-faded" title={row.entry.type.kind.label}
                      ><Sign sign={row.entry.type.kind.sign} size={13} /></span
                    >
                    <span class="min-w-0 grow">
                      <span class="block truncate leading-tight {row.uses ? 'font-medium' : ''}">{row.entry.label}</span
                      >
                      {#if row.picture}
                        <img
                          src="/media/{row.picture}/320.webp"
                          alt=""
                          class="mt-0.5 h-7 w-[42px] rounded-sm object-cover"
                          draggable="false"
                        />
                      {:else}
                        <span class="block truncate text-xs leading-tight text-faded {row.empty ? 'italic' : ''}"
                          >{row.words}</span
                        >
                      {/if}
                    </span>
                    {#if row.uses}
                      <span
                        class="size-2 shrink-0 rounded-full bg-madder"
                        title="Used {row.uses === 1 ? 'once' : `${row.uses} times`}"
                      ></span>
                    {:else}
                      <span
                        class="size-2 shrink-0 rounded-full border border-faded/60"
                        title="Not used in this template"
                      ></span>
                    {/if}
                  </a>
                  {#if lit}
                    {@const target = changeable(wb, row.entry.path, row.scopes)}
                    {#if target}
                      <button
                        type="button"
                        tabindex="-1"
                        class="flex w-6 shrink-0 items-center justify-center self-stretch text-faded hover:text-ink"
                        aria-label="Change {row.entry.label}"
                        title="Change this value, or suppose it otherwise"
                        onpointerenter={() => (wb.litPath = row.entry.path)}
                        onpointerleave={() => (wb.litPath = undefined)}
                        onclick={() => oncorrect(target)}><Pencil size={12} /></button
                      >
                    {/if}
                  {/if}
                </li>
              {/each}
            </ul>
          {/if}
        </div>
      {/if}
    {/each}
    {#if search && groups.every((group) => !group.rows.length)}
      <p class="p-4 text-faded">
        No field and no value here has “{search}” in it. Fields of a related record show once it is unfolded.
      </p>
    {/if}
  </div>
</section>
