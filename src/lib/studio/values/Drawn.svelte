<script lang="ts">
  import { drawIcon } from '$lib/core/base/icons';
  import { drawings } from './drawings.svelte';

  let { name }: { name: string } = $props();
  const drawn = $derived.by(() => {
    void drawings.known;
    return drawIcon(name);
  });
</script>

<!-- eslint-disable-next-line svelte/no-at-html-tags -- drawn from the set that ships with the application -->
{@html drawn}
