<script lang="ts">
  import { GripVertical } from '@lucide/svelte';
  import { Carry } from '$lib/ui/carry/carry.svelte';
  import { termRows, type TermRow } from '$lib/core/model/model';
  import type { Term } from '$lib/core/schema/model';

  let {
    terms,
    tree,
    counts,
    selected,
    onselect,
    onmove,
  }: {
    terms: Term[];
    tree: boolean;
    counts: Record<string, number>;
    selected?: string;
    onselect: (id: string) => void;
    /** Moves a term with all below it: below another or to the top, to a place among the terms there. */
    onmove: (id: string, parentId: string | null, at?: number) => void;
  } = $props();

  const rows = $derived(termRows(terms));

  const carry = new Carry<Term, { term: Term; how: 'before' | 'into' | 'after' }>(({ term, how }, { id }) => {
    if (how === 'into') return onmove(id, term.id);
    const siblings = terms.filter((one) => one.parentId === term.parentId && one.id !== id);
    const at = siblings.findIndex((one) => one.id === term.id) + (how === 'after' ? 1 : 0);
    onmove(id, term.parentId, Math.max(0, at));
  });
  /** What becomes of a term over another: nothing over itself or one below it. */
  const landing = carry.surface(({ x, y }, load) => {
    const row = document.elementFromPoint(x, y)?.closest<HTMLElement>('[data-term]');
    const term = terms.find((one) => one.id === row?.dataset.term);
    if (!row || !term || isAbove(load, term)) return undefined;
    const box = row.getBoundingClientRect();
    const part = (y - box.top) / box.height;
    return { term, how: tree && part > 0.3 && part < 0.7 ? 'into' : part < 0.5 ? 'before' : 'after' };
  });
  function isAbove(upper: Term, lower: Term): boolean {
    for (let at: Term | undefined = lower; at; at = terms.find((one) => one.id === at?.parentId))
      if (at.id === upper.id) return true;
    return false;
  }

  function key(event: KeyboardEvent, row: TermRow) {
    const i = rows.indexOf(row);
    const focus = (to: number) => document.querySelector<HTMLElement>(`[data-term="${rows[to]?.term.id}"]`)?.focus();
    if (event.altKey) {
      const siblings = terms.filter((term) => term.parentId === row.term.parentId);
      const parent = terms.find((term) => term.id === row.term.parentId);
      if (event.key === 'ArrowUp' && row.at > 0) onmove(row.term.id, row.term.parentId, row.at - 1);
      else if (event.key === 'ArrowDown' && row.at < row.of - 1) onmove(row.term.id, row.term.parentId, row.at + 1);
      else if (event.key === 'ArrowRight' && tree && siblings[row.at - 1])
        onmove(row.term.id, siblings[row.at - 1]!.id);
      else if (event.key === 'ArrowLeft' && parent) {
        const up = terms.filter((term) => term.parentId === parent.parentId);
        onmove(row.term.id, parent.parentId, up.indexOf(parent) + 1);
      } else return;
      event.preventDefault();
    } else if (event.key === 'ArrowDown') focus(i + 1);
    else if (event.key === 'ArrowUp') focus(i - 1);
  }
</script>

<ul role="tree" aria-label="Terms" {@attach landing}>
  {#each rows as row (row.term.id)}
    {@const here = carry.landing?.term.id === row.term.id ? carry.landing.how : undefined}
    <li role="none">
      <div
        role="treeitem"
        aria-selected={selected === row.term.id}
        aria-level={row.depth + 1}
        tabindex={selected === row.term.id || (!selected && rows[0] === row) ? 0 : -1}
        data-term={row.term.id}
        class="flex items-center gap-1.5 border-y-2 py-1 pr-2 {selected === row.term.id
          ? 'bg-linen-deep'
          : 'hover:bg-paper'} {here === 'into' ? 'bg-ochre' : ''} {here === 'before'
          ? 'border-t-plum'
          : 'border-t-transparent'} {here === 'after' ? 'border-b-plum' : 'border-b-transparent'}"
        style="padding-left:{row.depth * 24}px"
        onclick={() => onselect(row.term.id)}
        onfocus={() => onselect(row.term.id)}
        onkeydown={(e) => key(e, row)}
        {@attach carry.source(() => row.term)}
      >
        <GripVertical size={14} class="shrink-0 cursor-grab text-faded" />
        {#if row.term.pictureId}<img
            src="/media/{row.term.pictureId}/320.webp"
            alt=""
            class="h-5 w-7 rounded-sm object-cover"
          />{/if}
        <span class="truncate {row.depth ? '' : 'font-medium'}">{row.term.name}</span>
        {#if row.term.description}<span class="truncate text-xs text-faded">{row.term.description}</span>{/if}
        <span class="ml-auto shrink-0 text-xs text-faded tabular-nums">{counts[row.term.id] ?? 0}</span>
      </div>
    </li>
  {:else}
    <li role="none" class="text-faded">No terms yet. Add the first one above.</li>
  {/each}
</ul>
