<script lang="ts">
  import { Coming } from '$lib/studio/base/coming.svelte';
  import { may } from '$lib/studio/people/me';
  import { recall, remember } from '$lib/studio/base/remembered';
  import { z } from 'zod';
  import { Columns3, ListFilter } from '@lucide/svelte';
  import { SvelteSet } from 'svelte/reactivity';
  import { goto } from '$app/navigation';
  import { indexModel, kindOf, type Field } from '$lib/core/model/model';
  import { roleOfField } from '$lib/core/model/field';
  import type { ShownAs } from '$lib/core/model/family';
  import type { Group } from '$lib/core/schema/rule';
  import GenerateSheet from '$lib/studio/content/GenerateSheet.svelte';
  import RecordRows from '$lib/studio/content/RecordRows.svelte';
  import TableFilter from '$lib/studio/content/TableFilter.svelte';
  import TypeTabs from '$lib/studio/content/TypeTabs.svelte';
  import WithChosen from '$lib/studio/content/WithChosen.svelte';
  import Button from '$lib/ui/Button.svelte';

  let { data } = $props();

  const index = $derived(indexModel(data.model));

  /** Columns that people chose for this type, kept on this computer. */
  const place = $derived(`plum-thread:columns:${data.type.id}`);
  /** Long text, media and bare addresses say little in a column. */
  const LONG: readonly (ShownAs | undefined)[] = ['story', 'player', 'button'];
  const inTables = (field: Field): boolean =>
    !LONG.includes(roleOfField(field)) && kindOf(field)?.kind.pointsAt !== 'media';
  const usual = $derived(
    data.type.fields
      .filter((field) => inTables(field))
      .slice(0, 5)
      .map((field) => field.id),
  );
  const Columns = z.array(z.string().max(60)).max(500);
  // Not derived: the server draws the usual columns, and the browser begins with what was drawn.
  // eslint-disable-next-line svelte/prefer-writable-derived
  let chosen: string[] | undefined = $state();
  $effect(() => {
    chosen = recall(place, Columns);
  });
  const columns = $derived((chosen ?? usual).flatMap((id) => data.type.fields.find((field) => field.id === id) ?? []));
  let choosing = $state(false);
  let filtering = $state(false);
  let generating = $state(false);
  const coming = new Coming(() => data.rows);
  const shown = $derived(coming.now);
  const refused = $derived(data.refused || shown?.refused);
  const filter = $derived(data.filter && !refused ? (JSON.parse(data.filter) as Group) : undefined);

  const picked = new SvelteSet<number>();

  const sortStep = $derived(data.sort.replace(/^-/, ''));
  const sortDown = $derived(data.sort.startsWith('-'));

  function address(change: Record<string, string | undefined>): string {
    const now: Record<string, string | undefined> = {
      search: data.search || undefined,
      sort: data.sort === '@title' ? undefined : data.sort,
      filter: (!refused && data.filter) || undefined,
      page: data.page > 1 ? String(data.page) : undefined,
      ...change,
    };
    return `?${new URLSearchParams(Object.entries(now).filter((entry): entry is [string, string] => entry[1] !== undefined))}`;
  }
  const sortTo = (step: string) =>
    address({ sort: sortStep === step && !sortDown ? `-${step}` : step, page: undefined });

  function setColumn(id: string, on: boolean) {
    const now = columns.map((field) => field.id);
    chosen = on
      ? data.type.fields.map((f) => f.id).filter((f) => f === id || now.includes(f))
      : now.filter((f) => f !== id);
    remember(place, chosen);
  }

  const n = (count: number) =>
    `${count.toLocaleString('en')} ${count === 1 ? data.type.name.toLowerCase() : data.type.plural.toLowerCase()}`;
</script>

<svelte:head><title>{data.type.plural} · Plum Thread</title></svelte:head>

<main class="min-h-0 grow overflow-y-auto">
  <div class="mx-auto max-w-6xl px-8 py-5">
    <TypeTabs type={data.type} counts={data.counts} here="records" />
    <div class="mt-4 flex items-center gap-2">
      <form
        role="search"
        class="flex"
        onsubmit={(e) => {
          e.preventDefault();
          void goto(
            address({ search: new FormData(e.currentTarget).get('search')?.toString() || undefined, page: undefined }),
          );
        }}
      >
        <input
          type="search"
          name="search"
          value={data.search}
          placeholder="Find by title"
          aria-label="Find by title"
          class="w-56"
        />
      </form>
      <Button aria-expanded={filtering} onclick={() => (filtering = !filtering)}
        ><ListFilter size={14} />Filter{filter ? ` (${filter.rules.length})` : ''}</Button
      >
      <Button aria-expanded={choosing} onclick={() => (choosing = !choosing)}><Columns3 size={14} />Columns</Button>
      {#if shown}<span class="text-faded" data-total
          >{data.search || filter ? `${shown.total.toLocaleString('en')} found` : n(shown.total)}</span
        >{/if}
      <span class="ml-auto flex gap-2">
        {#if may('generateRecords')}<Button onclick={() => (generating = true)}>Make some up</Button>{/if}
        {#if may('createRecord')}<a
            href="/studio/content/{data.type.id}/new"
            class="inline-flex h-7 items-center rounded-sm bg-plum px-2.5 font-medium whitespace-nowrap text-paper hover:bg-plum-deep"
            >New {data.type.name.toLowerCase()}</a
          >{/if}
      </span>
    </div>
    {#if refused}<p class="mt-2 text-madder" role="alert">{refused} All are shown.</p>{/if}
    {#if choosing}
      <fieldset class="mt-3 flex flex-wrap gap-x-4 gap-y-1 border border-hairline bg-paper p-3">
        <legend class="sr-only">Columns of the table</legend>
        {#each data.type.fields as field (field.id)}
          <label class="flex items-center gap-1.5"
            ><input
              type="checkbox"
              checked={columns.some((c) => c.id === field.id)}
              onchange={(e) => setColumn(field.id, e.currentTarget.checked)}
            />{field.label}</label
          >
        {/each}
      </fieldset>
    {/if}
    {#if filtering}
      {#key data.filter}<TableFilter
          type={data.type}
          model={index}
          {filter}
          onapply={(next) => void goto(address({ filter: next ? JSON.stringify(next) : undefined, page: undefined }))}
        />{/key}
    {/if}
    {#if may('changeRecords')}<WithChosen
        type={data.type}
        templates={data.templates}
        model={index}
        {picked}
        words={n}
      />{/if}
    {#if coming.failed}
      <p role="alert" class="mt-4 text-madder">The records could not be read. Load the page again.</p>
    {:else if !shown}
      <p role="status" class="mt-4 flex items-center gap-3 text-faded">
        <progress class="w-24" aria-label="Reading the records"></progress> The records are being put in order.
      </p>
    {:else if shown.records.length}
      <RecordRows type={data.type} model={index} rows={shown} {columns} sort={data.sort} {sortTo} {picked} />
      {#if shown.pages > 1}
        <nav aria-label="Pages" class="mt-3 flex items-center gap-3">
          {#if data.page > 1}<a class="text-plum underline" href={address({ page: String(data.page - 1) })}
              >Previous page</a
            >{/if}
          <span class="text-faded">Page {data.page.toLocaleString('en')} of {shown.pages.toLocaleString('en')}</span>
          {#if data.page < shown.pages}<a class="text-plum underline" href={address({ page: String(data.page + 1) })}
              >Next page</a
            >{/if}
        </nav>
      {/if}
    {:else if data.search || filter}
      <p class="mt-8 text-faded">
        No {data.type.name.toLowerCase()}
        {data.search
          ? `has “${data.search}” in its title${filter ? ' and passes the filter' : ''}`
          : 'passes this filter'}.
        <a class="text-plum underline" href="/studio/content/{data.type.id}">Show all</a>
      </p>
    {:else}
      <p class="mt-8 font-display text-2xl">No {data.type.plural.toLowerCase()} yet.</p>
      <p class="mt-1 text-faded">
        Nothing can be designed well without a few records. Write one, bring some from a file, or have some made up.
      </p>
      <p class="mt-4 flex gap-2">
        {#if may('createRecord')}<a
            href="/studio/content/{data.type.id}/new"
            class="inline-flex h-8 items-center rounded-sm bg-plum px-3 font-medium text-paper hover:bg-plum-deep"
            >Begin with one</a
          >{/if}
        {#if may('startImport')}<a
            href="/studio/content/{data.type.id}/files"
            class="inline-flex h-8 items-center rounded-sm border border-hairline bg-paper px-3 font-medium hover:border-faded"
            >From a file</a
          >{/if}
      </p>
    {/if}
  </div>
</main>
<GenerateSheet bind:open={generating} type={data.type} generated={data.counts.generated} />
