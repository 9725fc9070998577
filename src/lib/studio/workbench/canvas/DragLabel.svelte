<script lang="ts">
  import type { Drag } from './drag.svelte';

  /** What is dragged, and what would become of it here, beside the pointer. */
  let { drag, nameOf }: { drag: Drag; nameOf: (id: string) => string } = $props();
</script>

{#if drag.load}
  <div
    class="pointer-events-none fixed z-50 max-w-72 rounded-sm bg-ink px-2 py-1 text-xs text-paper"
    style="left:{drag.x + 14}px; top:{drag.y + 16}px"
    data-drag
  >
    {drag.landing?.words ??
      (drag.load.what === 'value'
        ? drag.load.type.label
        : drag.load.what === 'new'
          ? 'Drag it onto the page or the outline'
          : nameOf(drag.load.id))}
  </div>
{/if}
