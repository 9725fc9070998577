<script lang="ts">
  import { goto, invalidateAll } from '$app/navigation';
  import type { Job } from '$lib/core/exchange/imports';
  import { failureWords } from '$lib/studio/base/request';
  import { api, upload } from '$lib/studio/base/api';
  import Button from '$lib/ui/Button.svelte';
  import { follow } from './job';

  let { empty }: { empty: boolean } = $props();

  let said = $state('');
  let part: number | undefined = $state();
  let job: Pick<Job, 'id' | 'done' | 'total'> | undefined = $state();

  async function read(file: File | undefined) {
    if (!file) return;
    said = '';
    try {
      const { answer } = upload('POST /backup', { query: { name: file.name } }, file, (now) => (part = now));
      const end = await follow(await answer, (now) => (job = now));
      said =
        end.state === 'done'
          ? `Content types: ${end.result?.types}, records: ${end.result?.records}. All of it is here, and visitors see the release that they saw.`
          : failureWords(end);
      await invalidateAll();
    } catch (error) {
      said = failureWords(error);
    }
    part = job = undefined;
  }

  /** Writes everything of this moment into a file, and downloads it. */
  async function write() {
    said = '';
    try {
      const begun = await api('POST /backup/file');
      const end = await follow(begun, (now) => (job = now));
      if (end.state === 'done' && end.result) {
        said = `The backup has ${(end.result.bytes / 1_000_000).toFixed(1)} MB.`;
        location.assign(`/api/v1/backup/${end.result.file}`);
      } else if (end.state !== 'cancelled') said = failureWords(end);
    } catch (error) {
      said = failureWords(error);
    }
    job = undefined;
  }

  /** A content type from a JSON Schema, saved under a free address. */
  async function schema(file: File | undefined) {
    if (!file) return;
    said = '';
    try {
      const { type, left } = await api('POST /types/schema', { body: JSON.parse(await file.text()) });
      await api('PUT /types', { body: { types: [type] } });
      if (left.length) said = `Left out: ${left.map((p) => p.at).join(', ')}.`;
      await goto(`/studio/content/${type.id}/fields`);
    } catch (error) {
      said = error instanceof SyntaxError ? `“${file.name}” is not JSON: ${error.message}` : failureWords(error);
    }
  }
</script>

<section class="mt-8 border-t border-hairline pt-5" aria-label="Everything, in and out">
  <h2 class="text-xl font-medium">Everything, in and out</h2>
  <div class="mt-2 flex flex-wrap items-center gap-3">
    <Button onclick={() => void write()} disabled={part !== undefined || job !== undefined}>Export a backup</Button>
    {#if empty}
      <label
        class="inline-flex h-7 cursor-pointer items-center rounded-sm border border-hairline bg-paper px-2.5 font-medium focus-within:outline-2 focus-within:outline-plum hover:border-faded"
        >Restore a backup<input
          type="file"
          accept=".zip"
          class="sr-only"
          onchange={(e) => void read(e.currentTarget.files?.[0])}
        /></label
      >
    {/if}
    <label
      class="inline-flex h-7 cursor-pointer items-center rounded-sm border border-hairline bg-paper px-2.5 font-medium focus-within:outline-2 focus-within:outline-plum hover:border-faded"
      >Content type from a JSON Schema<input
        type="file"
        accept=".json"
        class="sr-only"
        onchange={(e) => {
          void schema(e.currentTarget.files?.[0]);
          e.currentTarget.value = '';
        }}
      /></label
    >
    {#if part !== undefined || job}<progress
        aria-label={job ? 'Rows and files' : 'Upload'}
        max={job?.total ?? 1}
        value={job ? (job.total ? job.done : undefined) : part}
      ></progress>{#if job}<span
          >{job.done.toLocaleString('en')}{job.total
            ? ` of ${job.total.toLocaleString('en')} rows and files`
            : ''}</span
        ><Button onclick={() => job && void api('DELETE /jobs/{jobId}', { jobId: job.id })}>Cancel</Button>{/if}{/if}
  </div>
  <p class="mt-1 text-xs text-faded">
    Everything of one moment but what lets people in: content, files, templates with their versions, releases, removed
    things, people and activity, in one documented zip{empty
      ? ''
      : '. It can be restored into an empty Plum Thread only'}.
  </p>
  {#if said}<p class="mt-2" role="alert">{said}</p>{/if}
</section>
