<script lang="ts">
  /** A drawing of the Lucide set, in a box of 24 by 24. It says nothing to those who listen. */
  let {
    sign,
    size = 14,
    class: classes = '',
  }: {
    sign: readonly (readonly [string, Readonly<Record<string, string | number>>])[] | undefined;
    /** Pixels. */
    size?: number;
    class?: string;
  } = $props();
</script>

<svg
  class="shrink-0 {classes}"
  viewBox="0 0 24 24"
  width={size}
  height={size}
  fill="none"
  stroke="currentColor"
  stroke-width="2"
  stroke-linecap="round"
  stroke-linejoin="round"
  aria-hidden="true"
  >{#each sign ?? [] as [tag, attributes], i (i)}<svelte:element
      this={tag}
      xmlns="http://www.w3.org/2000/svg"
      {...attributes}
    />{/each}</svg
>
