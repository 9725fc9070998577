<script lang="ts">
  import Button from '$lib/ui/Button.svelte';
  import type { Saving } from '../state/saving.svelte';

  /** Why what was done is not saved, and what there is to do about it. */
  let { saving }: { saving: Saving } = $props();
</script>

{#if saving.state.is === 'failed'}
  <div
    class="flex shrink-0 items-center gap-3 bg-ochre px-3 py-1"
    role="status"
    aria-live="polite"
    data-save={saving.state.is}
  >
    <span class="min-w-0 grow">Not saved: {saving.state.why}</span>
    {#if saving.state.conflict}
      <Button onclick={() => void saving.takeTheirs()}>Take what was saved</Button>
      <Button onclick={() => void saving.keepMine()}>Keep this; the other stays in the versions</Button>
    {:else if saving.state.final}<Button onclick={() => location.reload()}>Load it as it is now</Button>{/if}
  </div>
{/if}
