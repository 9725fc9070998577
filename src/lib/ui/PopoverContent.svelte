<script lang="ts">
  import { Popover } from 'bits-ui';
  import type { ComponentProps } from 'svelte';
  import { focusFirst } from './focus';

  let { ...given }: ComponentProps<typeof Popover.Content> = $props();
  let content: HTMLElement | null = $state(null);
</script>

<Popover.Portal>
  <Popover.Content
    sideOffset={4}
    collisionPadding={8}
    {...given}
    bind:ref={content}
    class="z-50 rounded-md border border-hairline bg-paper {given.class}"
    onOpenAutoFocus={(event) => focusFirst(event, content)}
  />
</Popover.Portal>
