<script lang="ts">
  import { dayWords } from '$lib/studio/base/site-clock';
  import { may } from '$lib/studio/people/me';
  import { Plus } from '@lucide/svelte';
  import { invalidateAll } from '$app/navigation';
  import type { Purpose } from '$lib/core/schema/template';
  import type { Target } from '$lib/core/schema/target';
  import { type RequestFailed } from '$lib/studio/base/request';
  import { api } from '$lib/studio/base/api';
  import { counted } from '$lib/core/base/counted';
  import { Coming } from '$lib/studio/base/coming.svelte';
  import Button from '$lib/ui/Button.svelte';
  import type { Start } from '$lib/studio/serving/NewTemplate.svelte';

  let { data } = $props();

  /** What takes a look at every page of the site; the rest of the desk does not wait for it. */
  const pageReport = new Coming(() => data.pageReport);
  const answersOf = (id: string): string | undefined => (pageReport.now ? pageReport.now.answers[id] : undefined);
  const looseEnds = $derived([...data.looseEnds, ...(pageReport.now?.looseEnds ?? [])]);

  let starting: Start | undefined = $state();
  /** Once it was needed, the sheet stays, so that it can close. */
  let sheetUsed = $state(false);
  $effect(() => {
    if (starting) sheetUsed = true;
  });

  let siteWrong = $state('');

  async function saveSite(change: Partial<typeof data.site>) {
    siteWrong = '';
    try {
      await api('PUT /site', { body: { ...data.site, ...change } });
      await invalidateAll();
    } catch (error) {
      siteWrong = (error as RequestFailed).problems[0]?.what ?? (error as Error).message;
    }
  }

  /** What the site says of itself that visitors do not read: in which language and zone it writes, and how fast they read. */
  const FACTS = [
    { name: 'locale', label: 'Language', width: 'w-20', type: 'text' },
    { name: 'timeZone', label: 'Time zone', width: 'w-36', type: 'text' },
    { name: 'readingPace', label: 'Words read a minute', width: 'w-16', type: 'number' },
  ] as const;

  const start = (purpose: Purpose, target?: Target) => (starting = { purpose, target });

  /** The template that answers what a target names, if any does. */
  function served(purpose: Purpose, target: Target): string | undefined {
    const same = (one: Target) => JSON.stringify(one) === JSON.stringify(target);
    const type =
      'typeId' in target && target.on === 'type' ? data.types.find(({ id }) => id === target.typeId) : undefined;
    if (type) {
      const open = pageReport.now?.unserved.some(({ typeId }) => typeId === type.id) ?? true;
      const list = purpose === 'record' ? type.record : type.archive;
      const whole = list.find(({ words }) => !words);
      return (whole ?? (purpose === 'record' && open ? undefined : list[0]))?.name;
    }
    return data.targets.find((template) => template.purpose === purpose && template.serves.some(same))?.name;
  }
</script>

<svelte:head><title>Desk · Plum Thread</title></svelte:head>

<main class="min-h-0 grow overflow-y-auto">
  <div class="mx-auto max-w-6xl px-8 py-7">
    <div class="flex items-end gap-4">
      <div class="grow">
        <h1 class="sr-only">{data.site.name}</h1>
        <input
          class="-ml-2 w-full max-w-2xl border-transparent! bg-transparent! font-display text-3xl font-medium hover:border-hairline!"
          aria-label="Name of the site"
          value={data.site.name}
          readonly={!may('saveSite')}
          onchange={(e) => saveSite({ name: e.currentTarget.value })}
        />
        <input
          class="-ml-2 w-full max-w-2xl border-transparent! bg-transparent! text-faded hover:border-hairline!"
          aria-label="Tagline of the site"
          placeholder="A line on what the site is"
          value={data.site.tagline}
          readonly={!may('saveSite')}
          onchange={(e) => saveSite({ tagline: e.currentTarget.value })}
        />
        <div class="mt-1 flex flex-wrap gap-x-5 gap-y-1 text-xs text-faded">
          {#each FACTS as { name, label, width, type } (name)}
            <label class="flex items-center gap-1">
              {label}
              <input
                class="{width} border-transparent! bg-transparent! text-xs text-ink hover:border-hairline!"
                {type}
                value={data.site[name] ?? (name === 'readingPace' ? 200 : '')}
                readonly={!may('saveSite')}
                onchange={(e) =>
                  saveSite({ [name]: type === 'number' ? Number(e.currentTarget.value) : e.currentTarget.value })}
              />
            </label>
          {/each}
        </div>
        {#if siteWrong}<p role="alert" class="text-madder">{siteWrong}</p>{/if}
      </div>
      {#if data.types.length && may('createTemplate')}
        <Button onclick={() => start('part')}>New part</Button>
        <Button tone="main" onclick={() => start('record')}><Plus size={15} />New template</Button>
      {/if}
    </div>

    {#if data.types.length === 0}
      <div class="mt-10 max-w-lg">
        <p class="font-display text-2xl">Begin with the content.</p>
        <p class="mt-2 mb-4 text-faded">A content type says what a record holds; templates then show its values.</p>
        {#if may('createType')}<a
            href="/studio/content/new"
            class="inline-flex h-8 items-center rounded-sm bg-plum px-3 font-medium text-paper hover:bg-plum-deep"
            >Make a content type</a
          >{:else}<p>A designer makes it.</p>{/if}
      </div>
    {:else}
      <table class="mt-6 w-full border-collapse border border-hairline bg-paper text-left align-top">
        <caption class="sr-only">Content types with their templates</caption>
        <thead>
          <tr class="dye-label bg-linen-deep">
            <th class="w-1/5 px-4 py-2 font-semibold">Content type</th>
            <th class="w-[15%] px-4 py-2 font-semibold">Records</th>
            <th class="w-2/5 px-4 py-2 font-semibold">Record page</th>
            <th class="px-4 py-2 font-semibold">Archive page</th>
          </tr>
        </thead>
        <tbody>
          {#each data.types as one (one.id)}
            <tr class="border-t border-hairline align-top">
              <td class="px-4 py-3">
                <a
                  class="font-display text-lg font-medium underline-offset-4 hover:underline"
                  href="/studio/content/{one.id}">{one.plural}</a
                >
                <p class="font-mono text-xs text-faded">{one.pattern}</p>
              </td>
              <td class="px-4 py-3">
                <p>{one.published.toLocaleString('en')} published</p>
                {#if one.drafts}<p class="text-faded">{counted(one.drafts, 'draft')}</p>{/if}
              </td>
              {#each [{ purpose: 'record' as const, list: one.record }, { purpose: 'archive' as const, list: one.archive }] as cell (cell.purpose)}
                <td class="px-4 py-3">
                  {#each cell.list as template (template.id)}
                    <p>
                      <a class="text-plum underline underline-offset-2" href="/studio/workbench/{template.id}"
                        >{template.name}</a
                      >
                      <span class="text-faded"
                        >{[template.words, answersOf(template.id)].filter(Boolean).join(', ')}</span
                      >
                    </p>
                  {:else}
                    <p class="text-faded">A plain readable one</p>
                    {#if may('createTemplate')}<button
                        type="button"
                        class="text-plum underline underline-offset-2"
                        onclick={() => start(cell.purpose, { on: 'type', typeId: one.id })}>Make a template</button
                      >{/if}
                  {/each}
                </td>
              {/each}
            </tr>
          {/each}
        </tbody>
      </table>

      <p class="mt-6 flex flex-wrap items-baseline gap-x-4 border border-hairline bg-paper px-4 py-3" data-pending>
        {#if data.pending.changes}
          <span
            ><b>{data.pending.changes}</b>
            {data.pending.changes === 1 ? 'change is' : 'changes are'} not released yet; visitors {data.pending.shown
              ? `see release ${data.pending.shown}`
              : 'see plain pages'}.</span
          >
          <a class="ml-auto font-medium text-plum underline underline-offset-2" href="/studio/release"
            >{may('release') ? 'Look at the changes and release them' : 'Look at the changes'}</a
          >
        {:else}
          <span class="text-moss"
            >{data.pending.shown
              ? `Visitors see everything that was designed: release ${data.pending.shown}.`
              : 'Nothing is designed yet: pages are drawn plainly.'}</span
          >
          <a class="ml-auto text-plum underline underline-offset-2" href="/studio/release">Earlier releases</a>
        {/if}
      </p>

      {#if data.proposals.length}
        <section class="mt-8" aria-labelledby="proposals">
          <h2 id="proposals" class="text-xl font-medium">Waiting to be published</h2>
          {#each data.proposals as one (one.id)}
            <p class="mt-1">
              <a class="text-plum underline underline-offset-2" href="/studio/content/{one.typeId}/{one.id}"
                >{one.title}</a
              >
              <span class="text-faded">{one.who ?? 'somebody'}, since {dayWords(one.proposed)}</span>
            </p>
          {/each}
        </section>
      {/if}

      <section class="mt-8">
        <h2 class="text-xl font-medium">Other pages</h2>
        <table class="mt-1 w-full max-w-3xl text-left">
          <tbody>
            {#each data.others as other (other.id)}
              <tr>
                <td class="py-0.5 pr-4"
                  ><a class="text-plum underline underline-offset-2" href="/studio/workbench/{other.id}">{other.name}</a
                  ></td
                >
                <td class="py-0.5 pr-4">{other.words}</td>
                <td class="py-0.5 text-faded">{answersOf(other.id) ?? ''}</td>
              </tr>
            {:else}<tr><td class="text-faded">All others are drawn plainly.</td></tr>{/each}
          </tbody>
        </table>
        <p class="mt-1">
          <a class="text-plum underline underline-offset-2" href="/studio/serves">Every address with its template</a>
        </p>
      </section>

      <section class="mt-8 grid grid-cols-2 gap-8">
        <div>
          <h2 class="text-xl font-medium">Parts</h2>
          {#each data.parts as part (part.id)}
            <p class="mt-1">
              <a class="text-plum underline underline-offset-2" href="/studio/workbench/{part.id}">{part.name}</a>
              <span class="text-faded"
                >{part.shows ? `shows a ${part.shows.toLowerCase()}` : 'shows no record'}, {part.usedIn.length
                  ? `stands in ${part.usedIn.join(', ')}`
                  : 'stands nowhere yet'}</span
              >
            </p>
          {:else}
            <p class="mt-1 text-faded">A part is a piece that several templates share.</p>
          {/each}
        </div>
        <div>
          <h2 class="text-xl font-medium">Frame</h2>
          {#each data.frames as frame (frame.id)}
            <p class="mt-1">
              <a class="text-plum underline underline-offset-2" href="/studio/workbench/{frame.id}">{frame.name}</a>
              <span class="text-faded">stands around {frame.words}</span>
            </p>
          {:else}
            <p class="mt-1 text-faded">
              Every page has a plain head and foot.
              {#if may('createTemplate')}<button
                  type="button"
                  class="text-plum underline underline-offset-2"
                  onclick={() => start('frame')}>Make a frame</button
                >{/if}
            </p>
          {/each}
        </div>
      </section>

      <section class="mt-8">
        <h2 class="text-xl font-medium">Loose ends</h2>
        {#each looseEnds as end, i (i)}
          <p class="mt-2 flex items-baseline gap-2 bg-ochre px-3 py-1.5">
            <span aria-hidden="true">≋</span>
            {#if end.at}<span>
                <a class="font-semibold text-plum underline" href={end.at.href}>{end.at.name}</a>
                <span class="text-faded">{end.at.words}, in {end.templateName}</span>
              </span>
              <span>{end.what}</span>
            {:else}<span>{end.what}</span>
              <a class="text-plum underline" href="/studio/workbench/{end.templateId}">{end.templateName}</a>{/if}
          </p>
        {:else}
          {#if pageReport.now}<p class="mt-1 text-moss">Every thread holds.</p>{/if}
        {/each}
        {#if pageReport.failed}<p role="alert" class="mt-1 text-madder">
            What answers each page could not be read. Load the desk again.
          </p>{:else if !pageReport.now}<p role="status" class="mt-1 flex items-center gap-3 text-faded">
            <progress class="w-24" aria-label="Looking at every page"></progress> Every page of the site is being looked at
            for the template that answers it.
          </p>{/if}
      </section>
    {/if}
  </div>
</main>

{#if sheetUsed}
  {#await import('$lib/studio/serving/NewTemplate.svelte') then { default: NewTemplate }}
    <NewTemplate model={data.model} start={starting} {served} onclose={() => (starting = undefined)} />
  {/await}
{/if}
