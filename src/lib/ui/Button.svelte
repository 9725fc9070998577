<script lang="ts">
  import type { Snippet } from 'svelte';
  import type { HTMLButtonAttributes } from 'svelte/elements';

  let {
    tone = 'plain',
    children,
    class: more = '',
    ...rest
  }: HTMLButtonAttributes & { tone?: 'main' | 'plain' | 'bare'; children: Snippet } = $props();

  const tones = {
    main: 'bg-plum text-paper border-plum hover:bg-plum-deep',
    plain: 'bg-paper border-hairline hover:border-faded',
    bare: 'border-transparent hover:bg-linen-deep',
  };
</script>

<button
  type="button"
  class="inline-flex h-7 items-center gap-1.5 rounded-sm border px-2.5 font-medium whitespace-nowrap disabled:cursor-default disabled:opacity-45 {tones[
    tone
  ]} {more}"
  {...rest}
>
  {@render children()}
</button>
