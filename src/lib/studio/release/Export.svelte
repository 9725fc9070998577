<script lang="ts">
  import { momentWords } from '$lib/studio/base/site-clock';
  import { counted } from '$lib/core/base/counted';
  import type { Job } from '$lib/core/exchange/imports';
  import { follow } from '$lib/studio/exchange/job';
  import { failureWords } from '$lib/studio/base/request';
  import type { ResponseOf } from '$lib/client/api';
  import { api } from '$lib/studio/base/api';
  import { onMount } from 'svelte';
  import Button from '$lib/ui/Button.svelte';

  type Exported = NonNullable<ResponseOf<'POST /export'>['result']>;
  /** When the site was last written as files, for each address. */
  let before: { site: string; made: string }[] = $state.raw([]);
  const readBefore = async () => (before = await api('GET /exports'));
  onMount(() => void readBefore().catch(() => undefined));
  let origin = $state('');
  let onlyChanged = $state(false);
  /** An address as it is noted. */
  const plain = (site: string) => site.trim().replace(/\/*$/, '');
  const last = $derived(before.find(({ site }) => plain(site) === plain(origin)));
  let job: Job<Exported> | undefined = $state.raw();
  let done: Exported | undefined = $state.raw();
  let failed = $state('');

  async function begin(event: SubmitEvent) {
    event.preventDefault();
    failed = '';
    done = undefined;
    try {
      const ended = await follow<Exported>(
        await api('POST /export', { body: { origin, changed: Boolean(last) && onlyChanged } }),
        (now) => (job = now),
      );
      if (ended.state === 'done') {
        done = ended.result;
        await readBefore();
      } else if (ended.state === 'failed') failed = failureWords(ended);
      else failed = 'Stopped; nothing is kept of it.';
    } catch (error) {
      failed = failureWords(error);
    }
    job = undefined;
  }
  const size = (bytes: number) =>
    bytes > 1e6 ? `${(bytes / 1e6).toFixed(1)} MB` : `${Math.max(1, Math.round(bytes / 1000))} kB`;
</script>

<h2 class="mt-6 text-xl font-medium">Files for any server</h2>
<p class="text-faded">The released site as a zip of plain files; it may lie in a folder of a larger site.</p>
<form class="mt-2 flex items-end gap-2" onsubmit={begin}>
  <label class="min-w-0 grow"
    ><span class="dye-label">Where it will be, if known</span><input
      class="mt-0.5 block w-full"
      placeholder="https://huts.example/site/"
      bind:value={origin}
    /></label
  >
  <Button type="submit" disabled={Boolean(job)}>Export</Button>
</form>
{#if last}
  <label class="mt-1.5 flex items-center gap-1.5"
    ><input type="checkbox" bind:checked={onlyChanged} />Only files that changed since {momentWords(last.made)}</label
  >
{/if}
<div role="status" aria-live="polite">
  {#if job}
    <p class="mt-2 flex items-center gap-2">
      <progress class="min-w-0 grow" value={job.done} max={job.total ?? 1}></progress>
      {job.done.toLocaleString('en')} of {job.total?.toLocaleString('en') ?? '…'}
      <Button tone="bare" onclick={() => job && void api('DELETE /jobs/{jobId}', { jobId: job.id })}>Stop</Button>
    </p>
  {:else if done}
    <p class="mt-2">
      <a class="text-plum underline underline-offset-2" href="/api/v1/export/{done.file}" download>Take the zip home</a
      >:
      {done.changed === undefined
        ? `${counted(done.pages, 'page')}, ${size(done.bytes)}.`
        : `${done.changed || 'none'} of ${done.files} files ${(done.changed ?? 0) > 1 ? 'differ' : 'differs'}, ${size(done.bytes)}.`}
    </p>
    {#each done.left as what (what)}<p class="text-faded">{what}</p>{/each}
  {/if}
  {#if failed}<p role="alert" class="mt-2 text-madder">{failed}</p>{/if}
</div>
