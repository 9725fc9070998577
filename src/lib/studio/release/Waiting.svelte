<script lang="ts">
  import { may } from '$lib/studio/people/me';
  import type { Change } from '$lib/core/releases/change';

  let { waiting }: { waiting: Change[] } = $props();

  const details = $derived(
    waiting.flatMap((change) =>
      change.how === 'new'
        ? ['Visitors see nothing of it yet']
        : change.details.length
          ? change.details
          : [change.name],
    ),
  );
</script>

{#if details.length}
  <p class="mt-2 rounded-sm bg-ochre px-2 py-1" data-waiting>
    <span class="font-medium">Waits for a release:</span>
    {details.join('; ')}.
    {#if may('release')}<a class="text-plum underline underline-offset-2" href="/studio/release">Release</a>{/if}
  </p>
{/if}
