<script lang="ts">
  import { onMount } from 'svelte';
  import { elementNamed } from '$lib/core/elements';
  import { pathWords } from '$lib/core/paths/built-ins';
  import { samePath } from '$lib/core/paths/path';
  import { explain } from '$lib/core/rules/explain';
  import { parentOf } from '$lib/core/templates/tree';
  import Palette from './Palette.svelte';
  import { landingAt, type Drag, type Load } from './drag.svelte';
  import type { Workbench } from './workbench.svelte';

  let { wb, drag, moved }: { wb: Workbench; drag: Drag; moved: () => void } = $props();

  let list: HTMLElement;
  const boundNames = $derived.by(() => {
    const names = new Map<string, string>();
    for (const use of wb.uses)
      if (!names.has(use.elementId) && use.via !== 'rule' && use.via !== 'repeats')
        names.set(use.elementId, pathWords(use.path, wb.index));
    return names;
  });
  const broken = $derived(new Set(wb.looseEnds.map((end) => end.elementId)));

  /** Why an element is not on the page in front of the designer; undefined while it is. */
  function absence(id: string): { short: string; long: string; by: 'rule' | 'empty' | 'above' } | undefined {
    const fates = wb.drawing.fates.get(id);
    if (!fates) return { by: 'above', short: 'not reached', long: 'What it stands in is not shown.' };
    if (fates.drawn) return undefined;
    if (fates.rule) {
      const made = wb.compiledOf(id);
      if (!made?.rule) return undefined;
      const why = explain(made.rule, wb.envAt(made.scopes));
      const tests = (part: typeof why): string[] =>
        part.parts.length ? part.parts.flatMap(tests) : [`${part.words}: saw ${part.saw ?? 'nothing'}`];
      return { by: 'rule', short: 'hidden by its rule', long: tests(why).join('; ') };
    }
    return { by: 'empty', short: 'empty here', long: 'Its values are empty, so it is left out.' };
  }

  onMount(() =>
    drag.register({
      at(x, y, load: Load) {
        const box = list.getBoundingClientRect();
        if (x < box.left || x > box.right || y < box.top || y > box.bottom) return undefined;
        const row = document.elementFromPoint(x, y)?.closest<HTMLElement>('[data-outline-id]');
        const id = row?.dataset.outlineId;
        if (!row || !id) return landingAt(wb, load, wb.tree.root, 'inside');
        const at = row.getBoundingClientRect();
        const part = (y - at.top) / at.height;
        const where = part < 0.28 ? 'before' : part > 0.72 ? 'after' : 'onto';
        return landingAt(wb, load, id, where);
      },
    }),
  );

  $effect(() => {
    void wb.rows;
    moved();
  });

  // The row of what is selected elsewhere comes into view.
  $effect(() => {
    list.querySelector(`[data-outline-id="${CSS.escape(wb.selected)}"]`)?.scrollIntoView({ block: 'nearest' });
  });

  function focusRow(id: string, more = false) {
    if (more && id !== wb.tree.root) {
      const before = wb.selected;
      wb.also = [...new Set([...wb.also, before])].filter((one) => one !== id && one !== wb.tree.root);
      wb.selected = id;
    } else wb.select(id);
    requestAnimationFrame(() => list.querySelector<HTMLElement>(`[data-outline-id="${CSS.escape(id)}"]`)?.focus());
  }

  function onKey(event: KeyboardEvent, id: string) {
    const at = wb.rows.findIndex((row) => row.element.id === id);
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
      wb.moveChosen(way);
      focusRow(id);
    } else if (event.key === 'ArrowDown') to(wb.rows[at + 1]?.element.id);
    else if (event.key === 'ArrowUp') to(wb.rows[at - 1]?.element.id);
    else if (event.key === 'ArrowLeft') to(place?.parent.id);
    else if (event.key === 'ArrowRight') to(wb.element(id)?.children[0]);
    else if (event.key === 'Home') to(wb.tree.root);
    else if (event.key === 'End') to(wb.rows.at(-1)?.element.id);
  }
</script>

<section aria-label="Outline" class="flex min-h-0 flex-col border-x border-hairline bg-paper">
  <div class="shrink-0 border-b border-hairline px-2 py-1.5">
    <Palette {wb} {drag} />
  </div>
  <div class="min-h-0 grow overflow-y-auto py-1" bind:this={list} onscroll={moved} data-outline-scroll>
    <ul role="tree" aria-multiselectable="true" aria-label="Elements of the template">
      {#each wb.rows as { element, depth } (element.id)}
        {@const kind = elementNamed(element.kind)}
        {@const gone = absence(element.id)}
        {@const landing = drag.landing?.target === element.id ? drag.landing : undefined}
        {@const bound = boundNames.get(element.id)}
        {@const lit =
          wb.litPath &&
          wb.uses.some((use) => use.elementId === element.id && wb.litPath && samePath(use.path, wb.litPath))}
        <li
          role="treeitem"
          aria-selected={wb.selected === element.id || wb.also.includes(element.id)}
          aria-level={depth + 1}
          aria-expanded={element.children.length ? true : undefined}
          data-outline-id={element.id}
          tabindex={wb.selected === element.id ? 0 : -1}
          class="relative flex min-h-[26px] touch-none items-center gap-1.5 py-0.5 pr-2 select-none
            {wb.selected === element.id || wb.also.includes(element.id)
            ? 'bg-linen-deep'
            : lit
              ? 'bg-ochre'
              : wb.hovered === element.id
                ? 'bg-linen'
                : ''}
            {landing?.where === 'onto' && !landing.refused
            ? 'outline-2 -outline-offset-2 outline-madder outline-dashed'
            : ''}"
          style="padding-left: {8 + depth * 13}px"
          onclick={(event) => wb.select(element.id, event.ctrlKey || event.metaKey || event.shiftKey)}
          onpointerdown={(event) =>
            element.id !== wb.tree.root && drag.press(event, () => ({ what: 'move', id: element.id }))}
          onpointerenter={() => (wb.hovered = element.id)}
          onpointerleave={() => (wb.hovered = undefined)}
          onkeydown={(event) => onKey(event, element.id)}
        >
          {#if wb.selected === element.id}<span class="absolute inset-y-0 left-0 w-[3px] bg-plum"></span>{/if}
          {#if landing && (landing.where === 'before' || landing.where === 'after')}
            <span
              class="absolute right-0 left-2 z-10 h-[2px] bg-madder {landing.where === 'before' ? 'top-0' : 'bottom-0'}"
            ></span>
          {/if}
          {#if landing?.where === 'inside'}<span class="absolute inset-0 border-2 border-madder"></span>{/if}
          <span
            class="w-3.5 shrink-0 text-center font-mono text-xs {gone ? 'text-faded/70' : 'text-faded'}"
            aria-hidden="true">{kind?.glyph}</span
          >
          <span class="min-w-0 grow leading-tight {gone ? 'text-faded' : ''}">
            <span class="block truncate {gone ? 'line-through decoration-weld/70' : ''}"
              >{element.name || bound || wb.wordsOf(element.id) || kind?.label}</span
            >
            {#if gone && gone.by !== 'above'}
              <span
                class="line-clamp-2 text-xs {gone.by === 'rule' ? 'text-weld' : 'text-faded italic'}"
                title={gone.long}
                >{gone.by === 'rule' ? gone.long : broken.has(element.id) ? 'its thread broke' : gone.short}</span
              >
            {/if}
          </span>
          {#if broken.has(element.id)}
            <span
              class="shrink-0 rounded-sm bg-ochre px-1 text-xs"
              title={wb.looseEnds.find((end) => end.elementId === element.id)?.what}>≋</span
            >
          {/if}
          {#if wb.compiledOf(element.id)?.loop}<span
              class="inline-block h-3 w-[5px] shrink-0 border-x-2 border-indigo"
              title="Repeats"
            ></span>{/if}
          {#if element.rule?.rules.length}<span
              class="size-2.5 shrink-0 rounded-full border-2 border-weld"
              title="Appears by rule"
            ></span>{/if}
          {#if bound}<span class="size-2 shrink-0 rounded-full bg-madder" title="Bound to {bound}"></span>{/if}
        </li>
      {/each}
    </ul>
    {#if wb.rows.length === 1}
      <p class="m-3 rounded-md border border-dashed border-hairline p-3 text-faded">
        Drag a field from the shelf onto the page: it brings the element that shows it best.
      </p>
    {/if}
  </div>
</section>
