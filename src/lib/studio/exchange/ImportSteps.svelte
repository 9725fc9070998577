<script lang="ts">
  import { invalidateAll } from '$app/navigation';
  import type { FileColumn } from '$lib/core/exchange/columns';
  import type { FileView, ImportFormat, ImportResult, Job } from '$lib/core/exchange/imports';
  import type { ContentType } from '$lib/core/schema/model';
  import type { InputOf, ResponseOf } from '$lib/client/api';
  import { failureWords } from '$lib/studio/base/request';
  import { api, upload } from '$lib/studio/base/api';
  import Button from '$lib/ui/Button.svelte';
  import { follow } from './job';

  let { type, columns }: { type: ContentType; columns: FileColumn[] } = $props();

  let over = $state(false);
  let sending: { name: string; part: number; abort: () => void } | undefined = $state();
  let file: ResponseOf<'PUT /imports'> | undefined = $state();
  let format: ImportFormat = $state('csv');
  let encoding: NonNullable<InputOf<'POST /imports/view'>['body']['encoding']> | '' = $state('');
  let view: FileView | undefined = $state();
  let targets: Record<string, string> = $state({});
  let existing: 'add' | 'update' | 'skip' = $state('add');
  let allOrNothing = $state(true);
  let job: Job<ImportResult> | undefined = $state();
  let dry = $state(true);
  let failed = $state('');

  const FORMATS: { name: ImportFormat; label: string }[] = [
    { name: 'csv', label: 'Table (CSV)' },
    { name: 'json', label: 'JSON' },
    { name: 'geojson', label: 'Map data (GeoJSON)' },
    { name: 'markdown', label: 'Text files (Markdown)' },
  ];
  const hasTitle = $derived(Object.values(targets).includes('@title'));
  const result = $derived(job?.state === 'done' ? job.result : undefined);
  const running = $derived(job?.state === 'running');

  async function take(chosen: File | undefined) {
    if (!chosen) return;
    failed = '';
    job = undefined;
    view = undefined;
    const { answer, abort } = upload(
      'PUT /imports',
      { query: { name: chosen.name } },
      chosen,
      (part) => sending && (sending.part = part),
    );
    sending = { name: chosen.name, part: 0, abort };
    try {
      file = await answer;
      format = file.format;
      encoding = '';
      await look();
    } catch (error) {
      failed = failureWords(error);
    }
    sending = undefined;
  }
  async function look() {
    if (!file) return;
    failed = '';
    job = undefined;
    try {
      view = await api('POST /imports/view', {
        body: {
          file: file.id,
          typeId: type.id,
          format,
          ...(encoding ? { encoding } : {}),
        },
      });
      targets = { ...view.targets };
    } catch (error) {
      view = undefined;
      failed = failureWords(error);
    }
  }
  async function run(isDry: boolean) {
    if (!file) return;
    failed = '';
    // What was tried before says nothing of this run.
    job = undefined;
    dry = isDry;
    try {
      const begun = await api('POST /imports', {
        body: {
          file: file.id,
          typeId: type.id,
          format,
          ...(encoding ? { encoding } : {}),
          targets: $state.snapshot(targets),
          existing,
          allOrNothing,
          dry: isDry,
        },
      });
      const end = await follow(begun, (now) => (job = now));
      if (end.state === 'failed') failed = failureWords(end);
      if (!isDry) await invalidateAll();
    } catch (error) {
      failed = failureWords(error);
    }
  }
  const n = (count: number, one: string, many = `${one}s`) =>
    `${count.toLocaleString('en')} ${count === 1 ? one : many}`;
  const name = $derived(type.name.toLowerCase());
  const plural = $derived(type.plural.toLowerCase());
</script>

<div
  role="group"
  aria-label="File to bring in"
  class="mt-2 flex items-center gap-3 rounded-sm border border-dashed px-4 py-4 {over
    ? 'border-plum bg-linen-deep'
    : 'border-faded/50 bg-paper'}"
  ondragover={(e) => {
    e.preventDefault();
    over = true;
  }}
  ondragleave={() => (over = false)}
  ondrop={(e) => {
    e.preventDefault();
    over = false;
    void take(e.dataTransfer?.files[0]);
  }}
>
  <label
    class="inline-flex h-7 cursor-pointer items-center rounded-sm border border-hairline bg-paper px-2.5 font-medium focus-within:outline-2 focus-within:outline-plum hover:border-faded"
    >{file ? 'Another file' : 'Choose a file'}<input
      type="file"
      class="sr-only"
      accept=".csv,.tsv,.txt,.json,.jsonl,.ndjson,.geojson,.md,.zip"
      onchange={(e) => {
        void take(e.currentTarget.files?.[0]);
        e.currentTarget.value = '';
      }}
    /></label
  >
  {#if sending}
    <span class="truncate">{sending.name}</span><progress max="1" value={sending.part}></progress><Button
      onclick={() => sending?.abort()}>Cancel</Button
    >
  {:else if file}<span class="font-medium">{file.name}</span><span class="text-faded"
      >{Math.max(1, Math.round(file.size / 1000)).toLocaleString('en')} kB</span
    >
  {:else}<span class="text-faded">or drop it here: a table, JSON, GeoJSON, or text files with front matter.</span>{/if}
</div>
{#if failed}<p class="mt-2 rounded-sm bg-ochre px-3 py-2" role="alert">{failed}</p>{/if}

{#if file && !sending}
  <div class="mt-3 flex flex-wrap items-end gap-4">
    <label
      ><span class="dye-label block">Read as</span><select bind:value={format} onchange={() => void look()}
        >{#each FORMATS as one (one.name)}<option value={one.name}>{one.label}</option>{/each}</select
      ></label
    >
    <label
      ><span class="dye-label block">Encoding</span><select bind:value={encoding} onchange={() => void look()}
        ><option value="">UTF-8, or as marked</option><option value="utf-16">UTF-16</option><option value="windows-1252"
          >Western (Windows-1252)</option
        ></select
      ></label
    >
  </div>
{/if}
{#if view}
  <table class="mt-4 w-full border border-hairline bg-paper text-left">
    <thead class="dye-label bg-linen-deep"
      ><tr
        ><th class="px-3 py-1.5 font-semibold">In the file</th><th class="px-3 font-semibold">First rows</th><th
          class="px-3 font-semibold">Goes into</th
        ></tr
      ></thead
    >
    <tbody>
      {#each view.columns as column (column)}
        <tr class="border-t border-hairline">
          <th class="max-w-40 truncate px-3 py-1 font-mono text-xs font-normal" title={column}>{column}</th>
          <td class="max-w-64 truncate px-3 text-xs text-faded"
            >{view.sample
              .map((row) => row[column])
              .filter(Boolean)
              .slice(0, 2)
              .join(' · ')}</td
          >
          <td class="px-3 py-1">
            <select
              class="w-48"
              aria-label="Where {column} goes"
              bind:value={targets[column]}
              onchange={() => (job = undefined)}
            >
              <option value="">nowhere; left out</option>
              {#each view.into as into (into.target)}<option value={into.target}>{into.label}</option>{/each}
            </select>
          </td>
        </tr>
      {/each}
    </tbody>
  </table>
  <div class="mt-3 flex flex-wrap items-center gap-4">
    <label
      ><span class="dye-label">Where the address is there already</span><select
        class="ml-2"
        bind:value={existing}
        onchange={() => (job = undefined)}
        ><option value="add">refuse the row</option><option value="update">change that {name}</option><option
          value="skip">skip the row</option
        ></select
      ></label
    >
    <label class="flex items-center gap-1.5"
      ><input type="checkbox" bind:checked={allOrNothing} />all rows or none</label
    >
  </div>
  <div class="mt-3 flex items-center gap-3">
    <Button tone={result && dry ? 'plain' : 'main'} disabled={running || !hasTitle} onclick={() => void run(true)}
      >Try it without keeping anything</Button
    >
    {#if result && dry}<Button
        tone="main"
        disabled={running || (allOrNothing && result.refused > 0) || result.added + result.updated === 0}
        onclick={() => void run(false)}>Bring in {n(result.added + result.updated, name, plural)}</Button
      >{/if}
    {#if !hasTitle}<span class="text-madder">Say which column goes into the title.</span>{/if}
    {#if running && job}
      <progress max={job.total ?? 1} value={job.total ? Math.min(job.done, job.total) : undefined}></progress>
      <span class="tabular-nums">{n(job.done, 'row')}</span>
      <Button onclick={() => job && void api('DELETE /jobs/{jobId}', { jobId: job.id })}>Cancel</Button>
    {/if}
  </div>
{/if}
{#if !file && !sending}
  <div class="mt-4 text-faded">
    <p>Columns with these names are recognised; others can be told apart by hand once the file is here.</p>
    <p class="mt-1.5 flex flex-wrap gap-1">
      {#each columns as column (column.target)}<code
          class="rounded-sm bg-linen-deep px-1.5 text-xs leading-5 text-ink"
          title={column.label}>{column.name}</code
        >{/each}
    </p>
    <p class="mt-2">
      Relations and terms go by their address part or title, several of them parted by <code>|</code>. A trial run tells
      every problem by row and column before anything is kept.
    </p>
  </div>
{/if}
{#if job?.state === 'cancelled'}<p class="mt-3">
    Cancelled. {allOrNothing || dry ? 'Nothing was kept.' : 'What had come in before stays.'}
  </p>{/if}
{#if result}
  <div class="mt-4 border border-hairline bg-paper" data-import-result>
    <p class="px-3 py-2 {result.refused ? 'bg-ochre' : ''}">
      <strong>{dry ? 'Tried, nothing kept' : allOrNothing && result.refused ? 'Nothing was kept' : 'Done'}:</strong>
      {n(result.rows, 'row')}, {result.added}
      {dry ? 'would be new' : 'new'}{result.updated
        ? `, ${result.updated} ${dry ? 'would be changed' : 'changed'}`
        : ''}{result.skipped ? `, ${result.skipped} skipped` : ''}{result.refused
        ? `, ${result.refused} with problems`
        : ', no problems'}.
    </p>
    {#if result.unread.length}
      <p class="border-t border-hairline bg-ochre px-3 py-1.5">
        Nothing says where these columns go, and what they hold was left out: {result.unread
          .slice(0, 20)
          .map(({ column, rows }) => `${column} (${n(rows, 'row')})`)
          .join(', ')}{result.unread.length > 20 ? ` and ${result.unread.length - 20} more` : ''}.
      </p>
    {/if}
    {#if result.problems.length}
      <div class="max-h-72 overflow-y-auto border-t border-hairline">
        <table class="w-full text-left">
          <thead class="dye-label sticky top-0 bg-linen-deep"
            ><tr
              ><th class="px-3 py-1 font-semibold">Row</th><th class="px-3 font-semibold">Column</th><th
                class="px-3 font-semibold">What is wrong</th
              ></tr
            ></thead
          >
          <tbody>
            {#each result.problems as problem, i (i)}
              <tr class="border-t border-hairline align-top"
                ><td class="px-3 py-1 whitespace-nowrap tabular-nums">{problem.place}</td><td
                  class="px-3 font-mono text-xs leading-6">{problem.at}</td
                ><td class="px-3 py-0.5">{problem.what} <span class="text-faded">{problem.fix ?? ''}</span></td></tr
              >
            {/each}
          </tbody>
        </table>
        {#if result.moreProblems}<p class="px-3 py-1 text-faded">
            And {result.moreProblems.toLocaleString('en')} more.
          </p>{/if}
      </div>
    {/if}
  </div>
{/if}
