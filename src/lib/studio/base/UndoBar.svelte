<script lang="ts">
  import { invalidateAll } from '$app/navigation';
  import Button from '$lib/ui/Button.svelte';
  import { takeBack, undo } from './undo.svelte';
</script>

{#if undo.offer}
  <div
    role="status"
    class="fixed bottom-16 left-1/2 z-50 flex -translate-x-1/2 items-center gap-3 rounded-md bg-ink px-4 py-2 text-paper"
  >
    <span>{undo.said || undo.offer.words}</span>
    <Button
      class="text-ink"
      onclick={async () => {
        if (await takeBack()) await invalidateAll();
      }}>Undo</Button
    >
    <button
      type="button"
      class="px-1 focus-visible:outline-paper"
      aria-label="Close"
      onclick={() => {
        undo.offer = undefined;
        undo.said = '';
      }}>×</button
    >
  </div>
{/if}
