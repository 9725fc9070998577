<script lang="ts">
  import { setContext, type Snippet } from 'svelte';

  /** Controls that work for those who may; for others they show what is set, and no button stands among them. */
  let { allowed, children }: { allowed: boolean; children: Snippet } = $props();

  // What is no control of HTML asks for it.
  setContext('look only', () => !allowed);
</script>

<fieldset disabled={!allowed} class="contents {allowed ? '' : 'look-only'}">{@render children()}</fieldset>

<style>
  .look-only :global(button:not([role='tab'], [data-look])),
  .look-only :global(label:has(input[type='file'])),
  .look-only :global([data-act]) {
    display: none;
  }
  .look-only
    :global(:is(input:not([type='checkbox'], [type='radio'], [type='color'], [type='range']), select, textarea)) {
    color: inherit;
    opacity: 1;
    border-color: transparent;
    background: transparent;
    appearance: none;
  }
</style>
