<script lang="ts">
  /** Says whether a screen speaks of the draft or of what visitors see, and switches. */
  let {
    which,
    href,
  }: {
    which: 'draft' | 'released';
    /** Where the screen is for the other one. */
    href: (which: 'draft' | 'released') => string;
  } = $props();

  const BOTH = [
    { is: 'released', words: 'As visitors see it' },
    { is: 'draft', words: 'As the draft has it' },
  ] as const;
</script>

<nav aria-label="Of which site" class="flex shrink-0 items-stretch rounded-sm border border-hairline bg-paper">
  {#each BOTH as { is, words } (is)}
    <a
      href={href(is)}
      aria-current={which === is ? 'true' : undefined}
      data-sveltekit-noscroll
      class="rounded-sm px-2 py-0.5 whitespace-nowrap {which === is
        ? 'bg-plum text-paper'
        : 'text-faded underline-offset-2 hover:underline'}">{words}</a
    >
  {/each}
</nav>
