<script lang="ts">
  let { uses }: { uses: { what: string; href?: string }[] } = $props();
</script>

{#if uses.length}
  <p class="font-medium">Used by</p>
  <ul class="mt-1 max-h-56 list-disc overflow-y-auto pl-5 leading-6">
    {#each uses as use, i (i)}
      <li>
        {#if use.href}<a class="underline underline-offset-2" href={use.href}>{use.what}</a>{:else}{use.what}{/if}
      </li>
    {/each}
  </ul>
{:else}
  <p class="text-faded">Nothing uses it.</p>
{/if}
