<script lang="ts">
  import type { Drag } from './drag.svelte';

  let { drag }: { drag: Drag } = $props();

  function choose(run: () => void) {
    drag.asking = undefined;
    run();
  }
  const mount = (node: HTMLElement) => {
    node.querySelector<HTMLElement>('button')?.focus();
  };
  function onKey(event: KeyboardEvent) {
    const all = [...(event.currentTarget as HTMLElement).querySelectorAll<HTMLElement>('button')];
    const at = all.indexOf(document.activeElement as HTMLElement);
    if (event.key === 'Escape') drag.asking = undefined;
    else if (event.key === 'ArrowDown') all[(at + 1) % all.length]?.focus();
    else if (event.key === 'ArrowUp') all[(at - 1 + all.length) % all.length]?.focus();
    else return;
    event.preventDefault();
    event.stopPropagation();
  }
</script>

{#if drag.asking}
  {@const { x, y, asks, offers } = drag.asking}
  <!-- svelte-ignore a11y_no_static_element_interactions -->
  <div class="fixed inset-0 z-40" onpointerdown={() => (drag.asking = undefined)}></div>
  <ul
    role="menu"
    tabindex="-1"
    aria-label="{asks}. What should happen?"
    class="fixed z-50 w-72 rounded-md border border-hairline bg-paper py-1"
    style="left:{Math.max(8, Math.min(x, innerWidth - 300))}px; top:{Math.max(
      8,
      Math.min(y, innerHeight - offers.length * 30 - 48),
    )}px"
    onkeydown={onKey}
    {@attach mount}
  >
    <li class="dye-label px-3 py-1" role="presentation">{asks}</li>
    {#each offers as offer (offer.words)}
      <li role="none">
        <button
          type="button"
          role="menuitem"
          class="w-full px-3 py-1 text-left hover:bg-linen focus-visible:bg-linen"
          onclick={() => choose(() => drag.settle(offer.drop))}>{offer.words}</button
        >
      </li>
    {/each}
  </ul>
{/if}
