<script lang="ts">
  let {
    done,
    released,
  }: {
    /** What becomes of the values, such as “Converted”. */
    done: string;
    /** Pages that visitors see now and that read the field, by template. */
    released: { template: string; pages: number }[];
  } = $props();
</script>

<!-- Values are content, and no release stands before them. -->
{#if released.length}<p class="mt-1 rounded-sm bg-ochre px-2 py-1" data-released>
    {done} at once, with no release between. Visitors see it on {#each released as { template, pages }, i (template)}{i
        ? ', '
        : ''}{pages}
      {pages === 1 ? 'page' : 'pages'} of “{template}”{/each}.
  </p>{/if}
