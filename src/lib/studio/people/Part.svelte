<script lang="ts">
  import type { Snippet } from 'svelte';

  /** A part of a page about people: what it is about stands beside what can be done. */
  let { title, about, children }: { title: string; about?: string; children: Snippet } = $props();
  const id = $props.id();
</script>

<section aria-labelledby={id} class="grid grid-cols-[15rem_1fr] gap-x-8 border-t border-hairline py-5">
  <div>
    <h2 {id} class="text-lg font-medium">{title}</h2>
    {#if about}<p class="mt-1 text-[13px] text-faded">{about}</p>{/if}
  </div>
  <div class="min-w-0">{@render children()}</div>
</section>
