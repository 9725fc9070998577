<script lang="ts">
  import { drawIcon } from '$lib/core/base/icons';

  let { name }: { name: string } = $props();
</script>

<!-- eslint-disable-next-line svelte/no-at-html-tags -- drawn from the set that ships with the application -->
{@html drawIcon(name)}
