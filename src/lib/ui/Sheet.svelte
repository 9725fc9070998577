<script lang="ts">
  import { Dialog } from 'bits-ui';
  import type { Snippet } from 'svelte';
  import { focusFirst } from './focus';

  let {
    open = $bindable(false),
    title,
    about,
    wide = false,
    onclose,
    children,
  }: {
    open?: boolean;
    title: string;
    about?: string;
    wide?: boolean;
    onclose?: () => void;
    children: Snippet;
  } = $props();
  let content: HTMLElement | null = $state(null);
</script>

<Dialog.Root bind:open onOpenChange={(now) => !now && onclose?.()}>
  <Dialog.Portal>
    <Dialog.Overlay class="fixed inset-0 z-40 bg-ink/35" />
    <Dialog.Content
      bind:ref={content}
      onOpenAutoFocus={(event) => focusFirst(event, content)}
      class="fixed left-1/2 z-50 flex max-h-[88vh] max-w-[94vw] -translate-x-1/2 flex-col rounded-md border border-hairline bg-paper p-5 {wide
        ? 'top-10 w-[58rem]'
        : 'top-20 w-[30rem]'}"
    >
      <Dialog.Title class="font-display text-xl font-medium">{title}</Dialog.Title>
      {#if about}<Dialog.Description class="mt-1 text-faded">{about}</Dialog.Description>{/if}
      <div class="mt-4 min-h-0 overflow-y-auto">{@render children()}</div>
    </Dialog.Content>
  </Dialog.Portal>
</Dialog.Root>
