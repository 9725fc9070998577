<script lang="ts">
  import { GripVertical } from '@lucide/svelte';
  import type { Attachment } from 'svelte/attachments';

  /** Where an item is taken hold of: to carry it, or to move it by key. */
  let { label, size = 14, hold }: { label: string; size?: number; hold: Attachment<HTMLElement> } = $props();
</script>

<span
  role="button"
  tabindex="0"
  class="flex size-6 shrink-0 cursor-grab items-center justify-center rounded-sm text-faded hover:bg-linen"
  aria-label={label}
  title="Drag it. By key: Alt and arrows, or Enter, arrows, Enter."
  {@attach hold}><GripVertical {size} /></span
>
