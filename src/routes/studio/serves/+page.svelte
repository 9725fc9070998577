<script lang="ts">
  import { may } from '$lib/studio/people/me';
  import { ArrowDown, ArrowUp } from '@lucide/svelte';
  import { goto, invalidateAll } from '$app/navigation';
  import { page } from '$app/state';
  import { indexModel } from '$lib/core/model/model';
  import { patternOf } from '$lib/core/addresses/patterns';
  import { failureWords } from '$lib/studio/base/request';
  import { api } from '$lib/studio/base/api';
  import Contest from '$lib/studio/serving/Resolution.svelte';
  import WhichSite from '$lib/studio/serving/WhichSite.svelte';
  import Redirects from '$lib/studio/serving/Redirects.svelte';
  import Button from '$lib/ui/Button.svelte';

  let { data } = $props();

  let changing: string | undefined = $state();
  /** Once it was needed, the sheet stays, so that it can close. */
  let sheetUsed = $state(false);
  $effect(() => {
    if (changing) sheetUsed = true;
  });
  let redirecting = $state(false);
  let said = $state('');
  /** What visitors see is changed by a release alone. */
  const changes = $derived(may('saveServing') && data.which === 'draft');
  const one = $derived(data.templates.find(({ id }) => id === changing));
  const index = $derived(indexModel(data.model));
  const nameOf = $derived((id: string | undefined) => data.templates.find((template) => template.id === id)?.name);

  function ask(change: Record<string, string>) {
    const query = new URLSearchParams(page.url.searchParams);
    for (const [key, value] of Object.entries(change))
      if (value) query.set(key, value);
      else query.delete(key);
    void goto(`?${query.toString()}`, { keepFocus: true, noScroll: true });
  }

  /** Moves a template before or behind its neighbour of the same purpose. */
  async function move(id: string, by: -1 | 1) {
    said = '';
    const own = data.templates.find((template) => template.id === id);
    const line = data.templates.filter(({ purpose }) => purpose === own?.purpose).map((template) => template.id);
    const at = line.indexOf(id);
    const other = line[at + by];
    if (!own || other === undefined) return;
    const ids = data.templates.map((template) => template.id);
    const [a, b] = [ids.indexOf(id), ids.indexOf(other)];
    [ids[a], ids[b]] = [other, id];
    try {
      await api('PUT /templates/order', { body: { ids } });
      await invalidateAll();
    } catch (error) {
      said = failureWords(error);
    }
  }
  const GROUPS = [
    { purpose: 'record', label: 'Record pages' },
    { purpose: 'archive', label: 'Archive pages' },
    { purpose: 'frame', label: 'Frames' },
  ] as const;
  const count = (n: number) => n.toLocaleString('en');
  const SHOWN = $derived([
    { show: '', label: `All ${count(data.counts.all)}` },
    { show: 'unserved', label: `${count(data.counts.unserved)} drawn plainly` },
    { show: 'tied', label: `${count(data.counts.tied)} decided by order alone` },
  ]);
</script>

<svelte:head><title>Serves · Plum Thread</title></svelte:head>

<main class="grid min-h-0 grow grid-cols-[minmax(0,1fr)_24rem]">
  <section class="min-h-0 overflow-y-auto px-8 py-5" aria-label="Addresses">
    <div class="flex items-end gap-4">
      <h1 class="text-3xl font-medium">Serves</h1>
      <p class="pb-1 text-faded">What answers an address, and why.</p>
      <span class="ml-auto"
        ><WhichSite
          which={data.which}
          href={(which) => {
            const query = new URLSearchParams(page.url.searchParams);
            if (which === 'released') query.set('of', 'visitors');
            else query.delete('of');
            query.delete('page');
            return `?${query.toString()}`;
          }}
        /></span
      >
      {#if may('addRedirects')}<Button onclick={() => (redirecting = true)}>Redirects</Button>{/if}
    </div>
    <form
      class="mt-4 flex gap-2"
      onsubmit={(event) => {
        event.preventDefault();
        ask({ address: String(new FormData(event.currentTarget).get('address') ?? '') });
      }}
    >
      {#key data.address}<input
          class="min-w-0 grow font-mono text-xs"
          name="address"
          aria-label="Address"
          placeholder="An address, typed or pasted: /huts/grey-crag"
          value={data.address}
        />{/key}
      <Button tone="main" type="submit">Which template?</Button>
      {#if data.address}<Button onclick={() => ask({ address: '' })}>Close</Button>{/if}
    </form>
    {#if data.contest}<div class="mt-3">
        <Contest contest={data.contest} onchange={changes ? (id) => (changing = id) : undefined} />
      </div>{/if}

    <div class="mt-5 flex flex-wrap items-center gap-2">
      <h2 class="mr-2 text-xl font-medium">The whole site</h2>
      {#each SHOWN as { show, label } (show)}
        <button
          type="button"
          aria-pressed={data.show === show}
          class="rounded-sm border px-2 py-0.5 {data.show === show
            ? 'border-plum bg-paper font-medium'
            : 'border-hairline hover:border-faded'}"
          onclick={() => ask({ show, page: '' })}>{label}</button
        >
      {/each}
      {#if nameOf(data.show)}<span class="rounded-sm border border-plum bg-paper px-2 py-0.5 font-medium"
          >{nameOf(data.show)}</span
        >{/if}
      <input
        class="ml-auto w-48"
        type="search"
        aria-label="Find a page"
        placeholder="Find a page"
        value={data.search}
        onchange={(e) => ask({ search: e.currentTarget.value, page: '' })}
      />
    </div>
    <table class="mt-2 w-full table-fixed border border-hairline bg-paper text-left">
      <thead class="dye-label bg-linen-deep"
        ><tr
          ><th class="px-3 py-1.5 font-semibold">Page</th><th class="w-64 px-3 font-semibold">Address</th><th
            class="w-52 px-3 font-semibold">Answered by</th
          ></tr
        ></thead
      >
      <tbody>
        {#each data.rows as row (row.key)}
          <tr class="border-t border-hairline">
            <td class="truncate px-3 py-1">{row.title}</td>
            <td class="truncate px-3 font-mono text-xs text-faded" title={decodeURI(row.address)}
              ><a
                class="inline-block max-w-full truncate py-1 align-middle underline-offset-2 hover:underline"
                href="?address={encodeURIComponent(decodeURI(row.address))}{data.which === 'draft'
                  ? ''
                  : '&of=visitors'}">{decodeURI(row.address)}</a
              ></td
            >
            <td class="truncate px-3"
              >{#if row.template}<a
                  class="text-plum underline-offset-2 hover:underline"
                  href="/studio/workbench/{row.template}">{nameOf(row.template)}</a
                >{#if row.tied}<span class="ml-1 rounded-sm bg-ochre px-1" title="Only the order decides">≋ tied</span
                  >{/if}{:else}<span class="text-faded">drawn plainly</span>{/if}</td
            >
          </tr>
        {:else}<tr><td colspan="3" class="px-3 py-2 text-faded">No page is like this.</td></tr>{/each}
      </tbody>
    </table>
    {#if data.pages > 1}
      <p class="mt-2 flex items-center gap-3">
        <Button disabled={data.page === 1} onclick={() => ask({ page: String(data.page - 1) })}>Before</Button>
        Page {count(data.page)} of {count(data.pages)}, {count(data.found)} addresses
        <Button disabled={data.page === data.pages} onclick={() => ask({ page: String(data.page + 1) })}>After</Button>
      </p>
    {/if}
  </section>
  <aside class="min-h-0 overflow-y-auto border-l border-hairline bg-paper px-5 py-5" aria-label="Templates">
    {#if said}<p role="alert" class="mb-2 text-madder">{said}</p>{/if}
    {#each GROUPS as { purpose, label } (purpose)}
      {@const own = data.templates.filter((template) => template.purpose === purpose)}
      {#if own.length}
        <h2 class="dye-label mt-3 first:mt-0">{label}</h2>
        {#each own as template, i (template.id)}
          <div class="border-b border-hairline py-2" data-template={template.id}>
            <p class="flex items-baseline gap-2">
              <a
                class="min-w-0 truncate font-medium text-plum underline-offset-2 hover:underline"
                href="/studio/workbench/{template.id}">{template.name}</a
              >
              {#if purpose !== 'frame'}<button
                  type="button"
                  class="ml-auto shrink-0 text-faded underline-offset-2 hover:underline"
                  onclick={() => ask({ show: template.id, page: '' })}>{template.answers}</button
                >{/if}
            </p>
            <p class="text-faded">{template.words}.</p>
            {#if template.unreachable}<p class="mt-0.5 rounded-sm bg-ochre px-1.5">
                ≋ It never answers: another one is nearer everywhere, or there is nothing of it yet.
              </p>{/if}
            {#if changes}<p class="mt-0.5 flex items-center gap-1">
                <button
                  type="button"
                  class="text-plum underline underline-offset-2"
                  aria-label="Change what {template.name} serves"
                  onclick={() => (changing = template.id)}>Change</button
                >
                <button
                  type="button"
                  class="ml-auto rounded-sm p-1.5 hover:bg-linen-deep disabled:opacity-35"
                  disabled={i === 0}
                  aria-label="Put {template.name} earlier in the order"
                  onclick={() => move(template.id, -1)}><ArrowUp size={14} /></button
                >
                <button
                  type="button"
                  class="rounded-sm p-1.5 hover:bg-linen-deep disabled:opacity-35"
                  disabled={i === own.length - 1}
                  aria-label="Put {template.name} later in the order"
                  onclick={() => move(template.id, 1)}><ArrowDown size={14} /></button
                >
              </p>{/if}
          </div>
        {/each}
      {/if}
    {/each}
    {#if !data.templates.length}
      <p class="font-display text-lg">No template yet</p>
      <p class="mt-1 mb-4 text-faded">
        Every page is drawn plainly. <a class="text-plum underline underline-offset-2" href="/studio"
          >Make one on the desk</a
        >.
      </p>
    {/if}
    {#if index.types.length}<h2 class="dye-label mt-4">Addresses of records</h2>{/if}
    {#each index.types as type (type.id)}
      <p class="flex gap-2 py-0.5">
        {#if may('saveType')}<a class="underline-offset-2 hover:underline" href="/studio/content/{type.id}/fields"
            >{type.plural}</a
          >{:else}{type.plural}{/if}<span class="ml-auto font-mono text-xs text-faded">{patternOf(type)}</span>
      </p>
    {/each}
  </aside>
</main>
{#if sheetUsed}
  {#await import('$lib/studio/workbench/serves/ServesSheet.svelte') then { default: ServesSheet }}
    <ServesSheet template={one} model={data.model} onclose={() => (changing = undefined)} />
  {/await}
{/if}
<Redirects bind:open={redirecting} />
