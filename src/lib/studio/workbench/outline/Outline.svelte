<script lang="ts">
  import Sign from '$lib/ui/Sign.svelte';
  import { ChevronDown, ChevronRight } from '@lucide/svelte';
  import { untrack, tick } from 'svelte';
  import { samePath } from '$lib/core/schema/path';
  import { isWithin, parentOf } from '$lib/core/templates/tree';
  import { steady } from '../../base/steady';
  import Palette from './Palette.svelte';
  import { landingAt, type Landing, type Load } from '$lib/core/templates/landing';
  import type { At } from '$lib/ui/carry/carry.svelte';
  import type { Drag } from '../canvas/drag.svelte';
  import { outlineRows, type OutlineRow } from './outline';
  import type { Workbench } from '../state/workbench.svelte';

  let { wb, drag, moved }: { wb: Workbench; drag: Drag; moved: () => void } = $props();

  let list: HTMLElement;
  const keep = steady<OutlineRow>((row) => row.id);
  const rows = $derived(keep(outlineRows(wb)));
  /** Elements that the value pointed at on the shelf feeds. */
  const lit = $derived.by(() => {
    const path = wb.litPath;
    return path && new Set(wb.uses.filter((use) => samePath(use.path, path)).map((use) => use.elementId));
  });

  function landing({ x, y }: At, load: Load): Landing | undefined {
    const row = document.elementFromPoint(x, y)?.closest<HTMLElement>('[data-outline-id]');
    const id = row?.dataset.outlineId;
    if (!row || !id) return landingAt(wb.ground(), load, wb.tree.root, 'inside');
    const box = row.getBoundingClientRect();
    const part = (y - box.top) / box.height;
    const where = part < 0.28 ? 'before' : part > 0.72 ? 'after' : 'onto';
    return landingAt(wb.ground(), load, id, where);
  }

  $effect(() => {
    void wb.selection.listed;
    moved();
  });

  // The row of what is selected elsewhere comes into view.
  $effect(() => {
    void wb.selection.id;
    untrack(() => wb.selection.reveal(wb.selection.id));
  });
  $effect(() => {
    list.querySelector(`[data-outline-id="${CSS.escape(wb.selection.id)}"]`)?.scrollIntoView({ block: 'nearest' });
  });

  function focusRow(id: string, more = false) {
    if (more && id !== wb.tree.root) {
      const before = wb.selection.id;
      wb.selection.also = [...new Set([...wb.selection.also, before])].filter(
        (one) => one !== id && one !== wb.tree.root,
      );
      wb.selection.id = id;
    } else wb.selection.select(id);
    void tick().then(() => list.querySelector<HTMLElement>(`[data-outline-id="${CSS.escape(id)}"]`)?.focus());
  }

  /** Folds what an element holds, or unfolds it. What was selected in there gives way to the element itself. */
  function fold(event: Event, id: string) {
    event.preventDefault();
    event.stopPropagation();
    if (wb.selection.folded.delete(id)) return;
    if (id !== wb.selection.id && isWithin(wb.tree, wb.selection.id, id)) wb.selection.select(id);
    wb.selection.folded.add(id);
  }

  function onKey(event: KeyboardEvent, id: string) {
    const at = wb.selection.listed.findIndex((row) => row.element.id === id);
    const children = wb.element(id)?.children ?? [];
    const place = parentOf(wb.tree, id);
    const to = (next: string | undefined) => {
      event.preventDefault();
      if (next) focusRow(next, event.shiftKey && (event.key === 'ArrowDown' || event.key === 'ArrowUp'));
    };
    const way = ({ ArrowUp: 'up', ArrowDown: 'down', ArrowLeft: 'out', ArrowRight: 'in' } as const)[
      event.key as 'ArrowUp'
    ];
    if (event.altKey && place && way) {
      event.preventDefault();
      wb.commands.move(way);
      focusRow(id);
    } else if (event.key === 'ArrowDown') to(wb.selection.listed[at + 1]?.element.id);
    else if (event.key === 'ArrowUp') to(wb.selection.listed[at - 1]?.element.id);
    // As in every tree: left folds what is unfolded, or else goes out; right unfolds, or else goes in.
    else if (event.key === 'ArrowLeft') {
      if (children.length && !wb.selection.folded.has(id) && place) fold(event, id);
      else to(place?.parent.id);
    } else if (event.key === 'ArrowRight') {
      if (wb.selection.folded.has(id)) fold(event, id);
      else to(children[0]);
    } else if (event.key === 'Home') to(wb.tree.root);
    else if (event.key === 'End') to(wb.selection.listed.at(-1)?.element.id);
  }
</script>

<section aria-label="Outline" class="flex min-h-0 flex-col border-x border-hairline bg-paper">
  {#if !wb.looking}<div class="shrink-0 border-b border-hairline px-2 py-1.5">
      <Palette {wb} {drag} />
    </div>{/if}
  <div
    class="min-h-0 grow overflow-y-auto py-1"
    bind:this={list}
    onscroll={moved}
    data-outline-scroll
    {@attach drag.surface(landing)}
  >
    <ul role="tree" aria-multiselectable="true" aria-label="Elements of the template">
      {#each rows as row (row.id)}
        {@const { id, gone } = row}
        {@const chosen = wb.selection.id === id || wb.selection.also.includes(id)}
        {@const here = drag.landing?.target === id ? drag.landing : undefined}
        <li
          role="treeitem"
          aria-selected={chosen}
          aria-level={row.depth + 1}
          aria-expanded={row.holds ? !row.folded : undefined}
          data-outline-id={id}
          tabindex={wb.selection.id === id ? 0 : -1}
          class="relative flex min-h-[26px] items-center gap-1.5 py-0.5 pr-2 select-none
            {chosen ? 'bg-linen-deep' : lit?.has(id) ? 'bg-ochre' : wb.selection.hovered === id ? 'bg-linen' : ''}
            {here?.where === 'onto' && here.drop ? 'outline-2 -outline-offset-2 outline-madder outline-dashed' : ''}"
          style="padding-left: {8 + row.depth * 13}px"
          onclick={(event) => wb.selection.select(id, event.ctrlKey || event.metaKey || event.shiftKey)}
          onpointerenter={() => (wb.selection.hovered = id)}
          onpointerleave={() => (wb.selection.hovered = undefined)}
          onkeydown={(event) => onKey(event, id)}
          {@attach drag.source(() => (id === wb.tree.root ? undefined : { what: 'move', id }))}
        >
          {#if wb.selection.id === id}<span class="absolute inset-y-0 left-0 w-[3px] bg-plum"></span>{/if}
          {#if here && (here.where === 'before' || here.where === 'after')}
            <span
              class="absolute right-0 left-2 z-10 h-[2px] bg-madder {here.where === 'before' ? 'top-0' : 'bottom-0'}"
            ></span>
          {/if}
          {#if here?.where === 'inside'}<span class="absolute inset-0 border-2 border-madder"></span>{/if}
          {#if row.holds && row.depth}
            <span
              class="absolute flex h-full w-4 cursor-pointer items-center justify-center text-faded hover:text-ink"
              style="left: {row.depth * 13 - 7}px"
              role="presentation"
              title={row.folded ? 'Unfold' : 'Fold'}
              onpointerdown={(event) => fold(event, id)}
            >
              {#if row.folded}<ChevronRight size={12} />{:else}<ChevronDown size={12} />{/if}
            </span>
          {/if}
          <Sign sign={row.sign} size={13} class={gone ? 'text-faded/70' : 'text-faded'} />
          <span class="min-w-0 grow leading-tight {gone ? 'text-faded' : ''}">
            <span class="block truncate {gone ? 'line-through decoration-weld/70' : ''}">{row.label}</span>
            {#if gone && gone !== 'above'}
              <span class="line-clamp-2 text-xs {gone === 'rule' ? 'text-weld' : 'text-faded italic'}" title={row.why}
                >{gone === 'rule' ? row.why : row.broken ? 'its thread broke' : 'empty here'}</span
              >
            {/if}
          </span>
          {#if row.broken}<span class="shrink-0 rounded-sm bg-ochre px-1 text-xs" title={row.broken}>≋</span>{/if}
          {#if wb.preview.held.has(id)}<button
              type="button"
              tabindex="-1"
              class="shrink-0 rounded-sm border border-plum px-1 text-xs text-plum"
              title="Held open; let go of it"
              onclick={(event) => {
                event.stopPropagation();
                wb.hold(id);
              }}>open</button
            >{/if}
          {#if row.repeats}<span class="inline-block h-3 w-[5px] shrink-0 border-x-2 border-indigo" title="Repeats"
            ></span>{/if}
          {#if row.ruled}<span class="size-2.5 shrink-0 rounded-full border-2 border-weld" title="Appears by rule"
            ></span>{/if}
          {#if row.bound}<span class="size-2 shrink-0 rounded-full bg-madder" title="Bound to {row.bound}"></span>{/if}
        </li>
      {/each}
    </ul>
    {#if wb.selection.rows.length === 1}
      <p class="m-3 rounded-md border border-dashed border-hairline p-3 text-faded">
        Drag a field from the shelf onto the page: it brings the element that shows it best.
      </p>
    {/if}
  </div>
</section>
