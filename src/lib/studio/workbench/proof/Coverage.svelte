<script lang="ts">
  import { untrack } from 'svelte';
  import { IN_PART } from '$lib/core/render/compile';
  import type { Head, What } from '../../survey/messages';
  import { combinationsOf, smallestLook } from '$lib/core/coverage/coverage';
  import { showOne } from '../state/suppose';
  import Button from '$lib/ui/Button.svelte';
  import type { Workbench } from '../state/workbench.svelte';
  import WhichRecords from '../settings/WhichRecords.svelte';
  import Strip from './Strip.svelte';
  import Titles from './Titles.svelte';

  let { wb }: { wb: Workbench } = $props();

  /** Of one row, in pixels. */
  const HEIGHT = 30;
  const MOST_COMBINATIONS = 8;

  const { survey } = $derived(wb);
  const isPart = $derived(wb.template.purpose === 'part');
  /** What is counted in place of pages: the places of a part, or the turns of a loop by its id. */
  let chosen = $state('');
  const what: What = $derived(
    chosen === 'places' && isPart
      ? { is: 'places' }
      : chosen && wb.compiledOf(chosen)?.loop
        ? { is: 'turns', loop: chosen }
        : { is: 'pages' },
  );
  const plural = $derived(
    what.is === 'turns' ? `turns of ${wb.titleOf(what.loop)}` : what.is === 'places' ? 'places' : wb.pagesWords(),
  );
  const ofRecords = $derived(what.is === 'pages' && wb.showsRecords);

  // Counted anew with every change of a rule, a value or a part.
  $effect(() => {
    const [tree, selected] = [wb.tree, wb.selection.id];
    void [wb.model, wb.records, wb.parts, wb.template.serves, wb.preview.set];
    const counted = what;
    untrack(() => survey.count(tree, [selected], counted));
  });

  const loops = $derived(
    wb.selection.rows.flatMap(({ element: { id } }) => (wb.compiledOf(id)?.loop ? [{ id, name: wb.titleOf(id) }] : [])),
  );
  const coverage = $derived(survey.coverage);
  const rows = $derived(
    (coverage?.sections ?? []).flatMap(({ id, within, branchOf }, at) => {
      const ruled = id.includes(IN_PART) || Boolean(wb.element(id)?.rule?.rules.length);
      return branchOf || ruled
        ? [
            {
              id,
              at,
              depth: within.length,
              branch: Boolean(branchOf),
              name: wb.titleOf(id),
              shown: coverage?.totals[at] ?? 0,
              turns: coverage?.turns[at],
              end: wb.looseEnds.find((end) => end.elementId === id && end.via === 'rule')?.what,
            },
          ]
        : [];
    }),
  );
  const of = $derived(coverage?.ids.length ?? 0);
  const never = $derived(rows.filter((row) => row.shown === 0));
  const always = $derived(rows.filter((row) => row.shown === of));
  const once = $derived(rows.filter((row) => row.shown === 1 && of > 1));
  const contradictions = $derived(rows.filter((row) => row.end));
  /** Only of what is listed. */
  const listed = $derived(
    coverage && rows.length
      ? { ids: coverage.ids, shown: rows.map((row) => coverage.shown[row.at] as Uint8Array) }
      : undefined,
  );
  const combinations = $derived(listed ? combinationsOf(listed) : []);
  const smallest = $derived(listed ? smallestLook(listed) : []);
  const looked = $derived(rows.find((row) => row.id === wb.selection.id));
  const title = (id: number) => survey.heads.get(id)?.title ?? `No. ${id}`;
  /** What is on screen, among what is counted. */
  const current = $derived.by(() => {
    const { record, archive, page } = wb.preview;
    if (!coverage || what.is !== 'pages') return -1;
    const is = ({ recordId, archive: of }: Head) =>
      of
        ? archive && of.page === page && JSON.stringify({ ...of, page: 0 }) === JSON.stringify({ ...archive, page: 0 })
        : recordId !== undefined && recordId === record?.id;
    return coverage.ids.findIndex((id) => is(survey.heads.get(id) ?? { id, title: '' }));
  });

  function idsOf(at: number, shown: number): number[] {
    const row = coverage?.shown[at];
    return coverage && row ? coverage.ids.filter((_, i) => row[i] === shown) : [];
  }
  const onlyFor = (at: number) => idsOf(at, 1)[0] as number;
  /** One in a part is looked at where the part stands. */
  const choose = (id: string) => wb.selection.select(id.split(IN_PART)[0] as string);
  const namesIn = (pattern: string) =>
    rows
      .filter((_, i) => pattern[i] === '1')
      .map((row) => row.name)
      .join(', ') || 'none of them';
</script>

{#snippet names(list: { id: string; name: string }[])}
  {#each list as row, i (row.id)}{i ? ', ' : ''}<button
      type="button"
      class="underline decoration-hairline underline-offset-2 hover:decoration-plum"
      onclick={() => choose(row.id)}>{row.name}</button
    >{/each}
{/snippet}

<section aria-label="Coverage" class="grid min-h-0 grow grid-cols-[minmax(0,1fr)_25rem]">
  <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
  <div class="min-h-0 overflow-y-auto bg-paper" tabindex="0" role="region" aria-label="Where each section appears">
    {#if survey.failed}<p role="alert" class="bg-ochre px-3 py-1">{survey.failed}</p>{/if}
    <div
      class="sticky top-0 z-10 flex h-10 items-center gap-3 border-b border-hairline bg-linen px-4"
      aria-live="polite"
    >
      {#if coverage}<span
          ><strong>{rows.length}</strong>
          {rows.length === 1 ? 'section' : 'sections'} that may be hidden, over
          <strong>{of.toLocaleString('en')}</strong>
          {!ofRecords ? plural : survey.set === 'all' ? `${plural}, drafts too` : `published ${plural}`}</span
        >
        {#if !survey.covering}<span class="text-faded" data-took
            >counted in {Math.max(1, Math.round(survey.took))} ms</span
          >{/if}
      {:else}<span class="text-faded">Counting</span>{/if}
      {#if ofRecords}<WhichRecords {wb} />{/if}
      {#if loops.length || isPart}<select
          aria-label="What is counted"
          class="h-6! max-w-52 min-w-0"
          bind:value={chosen}
        >
          <option value="">{isPart && wb.showsRecords ? 'Records' : 'Pages'}</option>
          {#if isPart}<option value="places">Places on pages</option>{/if}
          {#each loops as one (one.id)}<option value={one.id}>Turns of {one.name}</option>{/each}
        </select>{/if}
      {#if survey.covering}
        <span class="ml-auto flex items-center gap-2"
          ><progress aria-label="Counting" max={survey.covering.of || 1} value={survey.covering.done}></progress><Button
            onclick={() => survey.cancel()}>Stop</Button
          ></span
        >
      {/if}
    </div>
    {#if coverage && !rows.length}
      <div class="max-w-md p-6">
        <p class="font-display text-xl">Everything is on every page</p>
        <p class="mt-1 text-faded">
          Give an element a rule under “Appears”, or make alternatives, and what they come to over all {plural} stands here.
        </p>
      </div>
    {:else if rows.length}
      <div class="grid grid-cols-[15rem_3.6rem_7rem_minmax(0,1fr)] px-4 pt-2">
        <div>
          {#each rows as row (row.id)}
            <button
              type="button"
              aria-pressed={wb.selection.id === row.id}
              data-section={row.id}
              class="flex w-full items-center gap-1.5 rounded-sm pr-2 text-left {wb.selection.id === row.id
                ? 'bg-linen-deep font-semibold'
                : 'hover:bg-linen'}"
              style="height:{HEIGHT}px; padding-left:{4 + row.depth * 14}px"
              onclick={() => choose(row.id)}
            >
              {#if row.branch}<span class="w-3.5 shrink-0 text-center font-mono text-xs text-indigo" title="Branch"
                  >Y</span
                >{:else}<span class="size-2.5 shrink-0 rounded-full border-2 border-weld" title="Appears by rule"
                ></span>{/if}
              <span class="truncate" title={row.name}>{row.name}</span>
              {#if row.turns}<span
                  class="shrink-0 text-xs text-faded"
                  title="In {row.turns.drawn} of {row.turns.of} turns of its loop, over all pages"
                  >{row.turns.drawn.toLocaleString('en')} of {row.turns.of.toLocaleString('en')} turns</span
                >{/if}
              {#if row.end}<span class="shrink-0 rounded-sm bg-ochre px-1 text-xs" title={row.end}>≋</span>{/if}
            </button>
          {/each}
        </div>
        <div>
          {#each rows as row (row.id)}
            <div
              class="flex items-center justify-end pr-3 tabular-nums {row.shown === 0 || row.shown === of
                ? 'font-semibold text-weld'
                : ''}"
              style="height:{HEIGHT}px"
            >
              {row.shown.toLocaleString('en')}
            </div>
          {/each}
        </div>
        <div class="pr-3">
          {#await import('./Totals.svelte') then { default: Totals }}
            <Totals rows={rows.map(({ name, shown }) => ({ name, shown }))} {of} height={HEIGHT} />
          {/await}
        </div>
        <div>
          {#each rows as row (row.id)}
            {@const shown = coverage?.shown[row.at]}
            <div class="flex items-center" style="height:{HEIGHT}px">
              {#if shown}<Strip
                  {shown}
                  {current}
                  words={(i) =>
                    `${row.name} ${shown[i] ? 'appears for' : 'is hidden for'} ${title(coverage?.ids[i] ?? 0)}`}
                  label="{row.name} appears for {row.shown} of {of}"
                  onpick={(i) => survey.look(coverage?.ids[i] as number)}
                />{/if}
            </div>
          {/each}
        </div>
      </div>
      <p class="px-4 pt-1 pb-3 text-xs text-faded">
        Each stroke is one of the {plural}, in their order; filled where the section appears. Click one to design with
        it.
      </p>
    {/if}
  </div>
  <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
  <aside
    class="flex min-h-0 flex-col gap-3 overflow-y-auto border-l border-hairline bg-linen p-4"
    aria-label="What it comes to"
    tabindex="0"
  >
    {#if looked}
      {@const change = survey.difference(looked.id)}
      <div>
        <h2 class="text-lg font-medium">{looked.name}</h2>
        {#if looked.end}<p class="rounded-sm bg-ochre px-2 py-1">{looked.end}</p>{/if}
        {#if change && change.gained.length + change.lost.length}
          <p class="font-medium text-plum" data-change>Since the template was opened:</p>
          <Titles {wb} words="now appears for" ids={change.gained} />
          <Titles {wb} words="no longer appears for" ids={change.lost} />
        {/if}
        <Titles {wb} words="Appears for" ids={idsOf(looked.at, 1)} />
        <Titles {wb} words="Hidden for" ids={idsOf(looked.at, 0)} />
      </div>
    {/if}
    {#if rows.length && coverage}
      <dl class="grid grid-cols-[6.5rem_1fr] gap-y-1">
        {#if contradictions.length}<dt class="font-medium">Loose ends</dt>
          <dd><span class="rounded-sm bg-ochre px-1">{@render names(contradictions)}</span></dd>{/if}
        <dt class="font-medium">Never</dt>
        <dd>
          {#each never as row, i (row.id)}{i ? ', ' : ''}{@render names([row])}{#if ofRecords}
              (<button
                type="button"
                class="text-plum underline underline-offset-2"
                title="Show a record with it, or make one up"
                onclick={() => (wb.notice = showOne(wb, row.id))}>show one</button
              >){/if}{:else}<span class="text-faded">none</span>{/each}
        </dd>
        <dt class="font-medium">Always</dt>
        <dd>
          {#if always.length}{@render names(always)}{:else}<span class="text-faded">none</span>{/if}
        </dd>
        <dt class="font-medium">Only once</dt>
        <dd>
          {#each once as row, i (row.id)}{i ? ', ' : ''}{@render names([row])} (<button
              type="button"
              class="text-plum underline underline-offset-2"
              onclick={() => survey.look(onlyFor(row.at))}>{title(onlyFor(row.at))}</button
            >){:else}<span class="text-faded">none</span>{/each}
        </dd>
      </dl>
      <div>
        {#if ofRecords}<Button
            tone="main"
            disabled={!smallest.length}
            onclick={() => {
              wb.preview.narrowed = { ids: smallest, words: 'everything shown and hidden' };
              wb.designWith(smallest[0] as number);
            }}>See everything in {smallest.length} {smallest.length === 1 ? 'record' : 'records'}</Button
          >{:else}<h2 class="text-base font-medium">
            Everything is in {smallest.length} of the {plural}
          </h2>{/if}
        <p class="mt-1 text-xs text-faded">
          Between them every section is shown once and hidden once, as far as it ever is: {#each smallest as id, i (id)}{i
              ? ', '
              : ''}<button
              type="button"
              class="underline decoration-hairline underline-offset-2 hover:decoration-plum"
              onclick={() => survey.look(id)}>{title(id)}</button
            >{/each}
        </p>
      </div>
      <div>
        <h2 class="text-base font-medium">
          {combinations.length}
          {combinations.length === 1 ? 'combination occurs' : 'combinations occur'}
        </h2>
        <ol class="mt-1 flex flex-col gap-1">
          {#each combinations.slice(0, MOST_COMBINATIONS) as one (one.pattern)}
            <li class="grid grid-cols-[3rem_1fr] gap-x-2 border-t border-hairline pt-1">
              <span class="text-right font-semibold tabular-nums">{one.count.toLocaleString('en')}</span>
              <span class="min-w-0"
                ><span class="line-clamp-2">{namesIn(one.pattern)}</span>
                <button
                  type="button"
                  class="text-left text-plum underline underline-offset-2"
                  onclick={() => survey.look(one.id)}>{title(one.id)}</button
                ></span
              >
            </li>
          {/each}
        </ol>
        {#if combinations.length > MOST_COMBINATIONS}<p class="mt-1 text-xs text-faded">
            and {combinations.length - MOST_COMBINATIONS} rarer ones
          </p>{/if}
      </div>
    {/if}
  </aside>
</section>
