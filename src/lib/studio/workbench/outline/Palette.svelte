<script lang="ts">
  import Sign from '$lib/ui/Sign.svelte';
  import { Plus } from '@lucide/svelte';
  import { Popover } from 'bits-ui';
  import PopoverContent from '$lib/ui/PopoverContent.svelte';
  import { elements } from '$lib/core/elements';
  import { ELEMENT_GROUPS } from '$lib/core/elements/element';
  import { fold } from '$lib/core/base/text';
  import { landingAt } from '$lib/core/templates/landing';
  import type { Drag } from '../canvas/drag.svelte';
  import type { Workbench } from '../state/workbench.svelte';

  let { wb, drag }: { wb: Workbench; drag: Drag } = $props();

  let open = $state(false);
  let search = $state('');
  /** Whether what is looked for stands at the beginning of a word; "part" is not looked for in "apart". */
  const begins = (text: string, wanted: string) => {
    const words = (of: string) =>
      ` ${fold(of)
        .replace(/[^\p{L}\p{N}]+/gu, ' ')
        .trim()}`;
    return words(text).includes(words(wanted));
  };
  const offered = $derived(
    elements.filter(
      (kind) =>
        (!kind.only || kind.only.includes(wb.template.purpose)) && begins(`${kind.label} ${kind.about}`, search),
    ),
  );

  // What is carried from here has the page before it; the list of elements is done with.
  $effect(() => {
    if (drag.load?.what === 'new') return () => (open = false);
  });

  function put(kind: string) {
    const at = wb.commands.placeForNew();
    const before = wb.element(at.parent)?.children[at.index];
    const landing = before
      ? landingAt(wb.ground(), { what: 'new', kind }, before, 'before')
      : landingAt(wb.ground(), { what: 'new', kind }, at.parent, 'inside');
    if (landing?.drop) wb.drop(landing.drop);
    open = false;
    search = '';
  }
  function onKey(event: KeyboardEvent) {
    const list = event.currentTarget as HTMLElement;
    const all = [...list.querySelectorAll<HTMLElement>('[data-kind]')];
    const at = all.indexOf(document.activeElement as HTMLElement);
    const to = { ArrowDown: at + 1, ArrowUp: Math.max(0, at - 1) }[event.key];
    if (to === undefined) {
      if (event.key === 'Enter' && at < 0 && offered[0]) {
        event.preventDefault();
        put(offered[0].name);
      }
      return;
    }
    event.preventDefault();
    all[to]?.focus();
  }
</script>

<Popover.Root bind:open>
  <Popover.Trigger
    class="flex h-7 w-full items-center justify-center gap-1 rounded-sm border border-hairline bg-linen font-medium hover:border-faded"
    aria-label="Place an element"><Plus size={14} />Place an element</Popover.Trigger
  >
  <PopoverContent
    side="bottom"
    align="start"
    aria-label="Elements"
    class="flex max-h-[70vh] w-[26rem] flex-col"
    onkeydown={onKey}
  >
    {#snippet child({ wrapperProps, props, open: shown })}
      {#if shown}
        <!-- Not closed while something is carried from it, for then the browser would give up carrying. -->
        <div {...wrapperProps} class={drag.load ? 'pointer-events-none invisible' : ''}>
          <div {...props}>
            <input
              type="search"
              bind:value={search}
              placeholder="Find an element"
              aria-label="Find an element"
              class="m-2 shrink-0"
            />
            <div class="min-h-0 overflow-y-auto px-2 pb-2">
              {#each ELEMENT_GROUPS as group (group)}
                {@const own = offered.filter((kind) => kind.group === group)}
                {#if own.length}
                  <p class="dye-label mt-2 mb-1 px-1">{group}</p>
                  <div class="grid grid-cols-2 gap-1">
                    {#each own as kind (kind.name)}
                      <button
                        type="button"
                        data-kind={kind.name}
                        class="flex cursor-grab items-start gap-2 rounded-sm border border-transparent px-2 py-1 text-left hover:border-hairline hover:bg-linen focus-visible:bg-linen"
                        onclick={() => put(kind.name)}
                        {@attach drag.source(() => ({ what: 'new', kind: kind.name }))}
                      >
                        <Sign sign={kind.sign} size={16} class="mt-0.5 text-faded" />
                        <span class="min-w-0">
                          <span class="block leading-tight font-medium">{kind.label}</span>
                          <span class="line-clamp-2 text-xs leading-tight text-faded">{kind.about}</span>
                        </span>
                      </button>
                    {/each}
                  </div>
                {/if}
              {/each}
              {#if !offered.length}<p class="px-1 py-2 text-faded">No element is called “{search}”.</p>{/if}
            </div>
          </div>
        </div>
      {/if}
    {/snippet}
  </PopoverContent>
</Popover.Root>
