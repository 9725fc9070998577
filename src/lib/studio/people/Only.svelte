<script lang="ts">
  import type { Snippet } from 'svelte';
  import { may } from './me';

  /** What is offered only to those who may ask for an operation; `other` stands there for all others. */
  let { op, children, other }: { op: string; children: Snippet; other?: Snippet } = $props();
</script>

{#if may(op)}{@render children()}{:else}{@render other?.()}{/if}
