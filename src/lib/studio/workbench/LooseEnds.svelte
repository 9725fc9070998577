<script lang="ts">
  import { Popover } from 'bits-ui';
  import PopoverContent from '$lib/ui/PopoverContent.svelte';
  import { mendOf } from '$lib/core/checks/mends';
  import { placeOfEnd } from '$lib/core/checks/places';
  import type { LooseEnd } from '$lib/core/render/compile';
  import type { Workbench } from './state/workbench.svelte';

  let { wb }: { wb: Workbench } = $props();

  let open = $state(false);
  const ends = $derived(
    open
      ? wb.looseEnds.flatMap((end) => {
          const element = wb.element(end.elementId);
          if (!element) return [];
          const ground = { tree: wb.tree, elements: wb.compiled.elements, model: wb.index, theme: wb.theme };
          return [{ end, place: placeOfEnd(end, element), name: wb.titleOf(element.id), mend: mendOf(end, ground) }];
        })
      : [],
  );

  function go({ end, place }: { end: LooseEnd; place: ReturnType<typeof placeOfEnd> }) {
    wb.view = 'page';
    wb.selection.select(end.elementId);
    // What is said of pages is looked at on the first of them.
    const [lacking] = [...wb.survey.lacking.bare, ...wb.survey.lacking.untitled];
    if (end.via === 'page' && lacking) wb.lookAt(lacking);
    wb.open(place.tab);
    open = false;
  }
  function mend(edit: NonNullable<ReturnType<typeof mendOf>>, id: string) {
    wb.edit(edit.label, ...edit.operations);
    if (wb.element(id)) wb.selection.select(id);
    if (!wb.looseEnds.length) open = false;
  }
</script>

{#if wb.looseEnds.length}
  <Popover.Root bind:open>
    <Popover.Trigger class="shrink-0 rounded-sm bg-ochre px-2 py-1 whitespace-nowrap hover:underline">
      {wb.looseEnds.length === 1 ? '1 loose end' : `${wb.looseEnds.length} loose ends`}
    </Popover.Trigger>
    <PopoverContent align="end" aria-label="Loose ends" class="max-h-96 w-[30rem] overflow-y-auto">
      <ul>
        {#each ends as one, i (i)}
          <li class="flex items-start gap-3 border-hairline px-3 py-2 not-first:border-t">
            <button type="button" class="group min-w-0 grow text-left" onclick={() => go(one)}>
              <span class="block truncate"
                ><span class="font-semibold group-hover:underline">{one.name}</span>
                <span class="text-faded">{one.place.words}</span></span
              >
              <span class="block">{one.end.what}</span>
              {#if one.end.fix && (!one.mend || wb.looking)}<span class="block text-faded">{one.end.fix}</span>{/if}
            </button>
            {#if one.mend && !wb.looking}
              {@const edit = one.mend}
              <button
                type="button"
                title={edit.label}
                class="max-w-44 shrink-0 truncate rounded-sm border border-hairline px-2 py-0.5 hover:border-plum"
                onclick={() => mend(edit, one.end.elementId)}>{edit.words}</button
              >
            {/if}
          </li>
        {/each}
      </ul>
    </PopoverContent>
  </Popover.Root>
{/if}
