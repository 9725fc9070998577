<script lang="ts">
  import { dayWords } from '$lib/studio/base/site-clock';
  import { invalidateAll } from '$app/navigation';
  import { failureWords } from '$lib/studio/base/request';
  import { api } from '$lib/studio/base/api';
  import Button from '$lib/ui/Button.svelte';

  let { shares }: { shares: { id: number; note: string; created: string; expires: string }[] } = $props();

  let note = $state('');
  let days = $state(7);
  let link = $state('');
  let said = $state('');

  async function make(event: SubmitEvent) {
    event.preventDefault();
    said = '';
    try {
      const { token } = await api('POST /shares', { body: { note, days } });
      link = `${location.origin}/draft/${token}`;
      note = '';
      await invalidateAll();
    } catch (error) {
      said = failureWords(error);
    }
  }
  async function end(id: number) {
    try {
      await api('DELETE /shares/{shareId}', { shareId: id });
      link = '';
      await invalidateAll();
    } catch (error) {
      said = failureWords(error);
    }
  }
</script>

<h2 class="text-xl font-medium">Share the draft</h2>
<p class="text-faded">A link by which somebody without an account sees the site as it would be.</p>
<form class="mt-2 flex flex-wrap items-end gap-2" onsubmit={make}>
  <label class="min-w-0 grow"
    ><span class="dye-label">For whom</span><input class="mt-0.5 block w-full" bind:value={note} /></label
  >
  <label
    ><span class="dye-label">Days</span><input
      class="mt-0.5 block w-16"
      type="number"
      min="1"
      max="90"
      bind:value={days}
    /></label
  >
  <Button type="submit">Make a link</Button>
</form>
{#if link}
  <p class="mt-2" role="status">
    <input
      class="w-full font-mono text-xs"
      readonly
      aria-label="The link"
      value={link}
      onfocus={(e) => e.currentTarget.select()}
    />
    <span class="text-xs text-faded">It is told this once; copy it now.</span>
    <button
      type="button"
      class="text-plum underline underline-offset-2"
      onclick={() => void navigator.clipboard.writeText(link).then(() => (said = 'Copied.'))}>Copy</button
    >
  </p>
{/if}
{#if said}<p role="status" class="mt-1 text-faded">{said}</p>{/if}
{#each shares as share (share.id)}
  <p class="mt-1 flex gap-2 border-t border-hairline pt-1">
    <span class="min-w-0 truncate">{share.note || 'Somebody'}</span>
    <span class="ml-auto shrink-0 text-faded">until {dayWords(share.expires)}</span>
    <button
      type="button"
      class="shrink-0 text-madder underline underline-offset-2"
      aria-label="End the link for {share.note || 'somebody'}"
      onclick={() => end(share.id)}>End</button
    >
  </p>
{/each}
