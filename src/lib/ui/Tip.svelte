<script lang="ts">
  import { Tooltip } from 'bits-ui';
  import type { Snippet } from 'svelte';

  let { words, keys, children }: { words: string; keys?: string; children: Snippet<[Record<string, unknown>]> } =
    $props();
</script>

<Tooltip.Root>
  <Tooltip.Trigger>
    {#snippet child({ props })}
      {@render children(props)}
    {/snippet}
  </Tooltip.Trigger>
  <Tooltip.Portal>
    <Tooltip.Content sideOffset={6} class="z-50 max-w-72 rounded-sm bg-ink px-2 py-1 text-xs text-paper">
      {words}{#if keys}<kbd class="ml-2 font-mono opacity-80">{keys}</kbd>{/if}
    </Tooltip.Content>
  </Tooltip.Portal>
</Tooltip.Root>
