<script lang="ts">
  import { onMount } from 'svelte';
  import { api } from '$lib/studio/base/api';

  /** Asked anew when this is another one: another release is to be laid out. */
  let { shown }: { shown: unknown } = $props();

  let now: { processes: number; done: number; total: number } | undefined = $state.raw();
  let timer: ReturnType<typeof setTimeout> | undefined;
  /** Milliseconds until it is asked again while somebody is at it, and how often it is asked after a release whether anybody is. */
  const [AGAIN, BEGINS] = [1000, 8];

  async function look(left: number): Promise<void> {
    clearTimeout(timer);
    now = await api('GET /releases/lists').catch(() => undefined);
    if (now?.processes || left > 0) timer = setTimeout(() => void look(now?.processes ? BEGINS : left - 1), AGAIN);
  }
  $effect(() => {
    void shown;
    void look(BEGINS);
  });
  onMount(() => () => clearTimeout(timer));
</script>

{#if now?.processes}<p role="status" class="mt-3 flex items-center gap-3">
    <progress class="w-40" value={now.done} max={now.total} aria-label="Lists laid out"></progress>
    <span
      >The lists of the release are being laid out, {now.done} of {now.total}{now.processes > 1
        ? ` in ${now.processes} processes`
        : ''}. Visitors are answered meanwhile; who is the first to ask for a list may wait for it.</span
    >
  </p>{/if}
