<script lang="ts">
  import { Dialog } from 'bits-ui';
  import type { Snippet } from 'svelte';

  let {
    open = $bindable(false),
    title,
    about,
    children,
  }: { open?: boolean; title: string; about?: string; children: Snippet } = $props();
</script>

<Dialog.Root bind:open>
  <Dialog.Portal>
    <Dialog.Overlay class="fixed inset-0 z-40 bg-ink/35" />
    <Dialog.Content
      class="fixed top-24 left-1/2 z-50 w-[30rem] max-w-[92vw] -translate-x-1/2 rounded-md border border-hairline bg-paper p-5"
    >
      <Dialog.Title class="font-display text-xl font-medium">{title}</Dialog.Title>
      {#if about}<Dialog.Description class="mt-1 text-faded">{about}</Dialog.Description>{/if}
      <div class="mt-4">{@render children()}</div>
    </Dialog.Content>
  </Dialog.Portal>
</Dialog.Root>
