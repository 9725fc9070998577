<script lang="ts">
  import { momentWords } from '$lib/studio/base/site-clock';
  import { counted } from '$lib/core/base/counted';
  import { may } from '$lib/studio/people/me';
  import { invalidateAll } from '$app/navigation';
  import type { Change } from '$lib/core/releases/change';
  import BeforeAfter from '$lib/studio/release/BeforeAfter.svelte';
  import Export from '$lib/studio/release/Export.svelte';
  import LaidOut from '$lib/studio/release/LaidOut.svelte';
  import Share from '$lib/studio/release/Share.svelte';
  import { follow } from '$lib/studio/exchange/job';
  import { failureWords } from '$lib/studio/base/request';
  import type { ResponseOf } from '$lib/client/api';
  import { api } from '$lib/studio/base/api';
  import Button from '$lib/ui/Button.svelte';

  let { data } = $props();

  type Comparing = ResponseOf<'POST /releases/affected'>;
  type Affected = NonNullable<Comparing['result']>;
  let note = $state('');
  let said = $state('');
  let failed = $state('');
  let working = $state(false);
  let job: Comparing | undefined = $state.raw();
  let found: Affected | undefined = $state.raw();
  let shownPages = $state(4);

  /** Which pages change, asked anew whenever the draft is another one. */
  async function look() {
    found = undefined;
    shownPages = 4;
    if (!may('findAffected')) return;
    try {
      const begun = await api('POST /releases/affected');
      const ended = await follow<Affected>(begun, (now) => (job = now));
      if (ended.state === 'done') found = ended.result;
      else if (ended.state === 'failed') failed = failureWords(ended);
    } catch (error) {
      failed = failureWords(error);
    }
    job = undefined;
  }
  $effect(() => {
    void data.mark;
    if (data.changes.length) void look();
    else found = undefined;
  });

  async function publish() {
    said = failed = '';
    working = true;
    try {
      const released = await api('POST /releases', {
        body: {
          note,
          mark: data.mark,
          pages: found?.changed ?? null,
        },
      });
      said = `Released. Visitors see release ${released.id}.`;
      note = '';
      await invalidateAll();
    } catch (error) {
      failed = failureWords(error);
      await invalidateAll();
    }
    working = false;
  }
  async function act(id: number, what: 'show' | 'take up', words: string) {
    said = failed = '';
    try {
      if (what === 'show') await api('POST /releases/{releaseId}/show', { releaseId: id });
      else await api('POST /releases/{releaseId}/take-up', { releaseId: id });
      said = words;
      await invalidateAll();
    } catch (error) {
      failed = failureWords(error);
    }
  }
  const WHAT: Record<Change['what'], string> = {
    type: 'Content type',
    taxonomy: 'Taxonomy',
    template: 'Template',
    rule: 'Rule',
    menu: 'Menu',
    theme: 'Theme',
    addresses: 'Addresses',
    structured: 'For programs',
    order: 'Order',
  };
  const HOW = { new: 'new', changed: 'changed', gone: 'gone' };
  const brief = (changes: Change[]) => {
    const first = changes.slice(0, 3).map(({ name }) => name);
    return first.join(', ') + (changes.length > first.length ? ` and ${changes.length - first.length} more` : '');
  };
</script>

<svelte:head><title>Release · Plum Thread</title></svelte:head>

<main class="grid min-h-0 grow grid-cols-[minmax(0,1fr)_22rem]">
  <section class="min-h-0 overflow-y-auto px-8 py-5" aria-label="What a release changes">
    <div class="flex items-end gap-4">
      <h1 class="text-3xl font-medium">Release</h1>
      <p class="pb-1 text-faded">
        {data.shown
          ? `Visitors see release ${data.shown}.`
          : 'Nothing is released yet: visitors see the name of the site, and nothing else.'}
      </p>
    </div>
    <LaidOut shown={data.shown} />
    {#if said}<p role="status" class="mt-3 text-moss">{said}</p>{/if}
    {#if failed}<p role="alert" class="mt-3 rounded-sm bg-ochre px-3 py-2">{failed}</p>{/if}
    {#if data.changes.length}
      {#if may('release')}<form
          class="mt-4 flex items-end gap-3"
          onsubmit={(event) => {
            event.preventDefault();
            void publish();
          }}
        >
          <label class="grow"
            ><span class="dye-label">A note, for whoever looks back</span><input
              class="mt-0.5 block w-full"
              bind:value={note}
              placeholder={brief(data.changes)}
            /></label
          >
          <Button tone="main" type="submit" disabled={working}
            >{working
              ? 'Releasing'
              : `Release ${data.changes.length} ${data.changes.length === 1 ? 'change' : 'changes'}`}</Button
          >
        </form>{/if}
      <div class="mt-2" role="status" aria-live="polite" data-affected-count>
        {#if job}
          <span class="flex items-center gap-2"
            >Drawing pages both ways <progress value={job.done} max={job.total ?? 1}></progress>
            {job.done.toLocaleString('en')} of {job.total?.toLocaleString('en') ?? '…'}
            <Button tone="bare" onclick={() => job && void api('DELETE /jobs/{jobId}', { jobId: job.id })}>Stop</Button
            ></span
          >
        {:else if found}
          <b>{found.changed.toLocaleString('en')}</b> of {found.pages.toLocaleString('en')}
          {found.pages === 1 ? 'page changes' : 'pages change'}{found.looks
            ? found.looks === found.changed
              ? ', all of them in their looks alone'
              : `, ${found.looks.toLocaleString('en')} of them in their looks alone`
            : ''}.
          {#if found.drawn < found.pages}<span class="text-faded"
              >{found.drawn.toLocaleString('en')}
              {found.drawn === 1 ? 'was' : 'were'} drawn both ways; nothing that the others are made from is different.</span
            >{/if}
          {#each [{ own: found.bare, words: 'nothing in it' }, { own: found.untitled, words: 'no heading of the first level' }] as { own, words } (words)}
            {#if own.pages}<p class="mt-1 rounded-sm bg-ochre px-2 py-1" data-lacking>
                {counted(own.pages, 'page')} would have
                {words}: {#each own.some as page, i (page.address)}{i ? ', ' : ''}<a
                    class="text-plum underline"
                    href="/studio/site{page.address}">{page.title}</a
                  >{/each}{own.pages > own.some.length ? ' and others' : ''}.
              </p>{/if}
          {/each}
        {/if}
      </div>
      <ul class="mt-4 border border-hairline bg-paper" aria-label="Changes">
        {#each data.changes as change (change.what + change.id)}
          <li class="grid grid-cols-[8rem_minmax(0,1fr)] gap-x-3 border-t border-hairline px-3 py-2 first:border-t-0">
            <span class="text-faded">{WHAT[change.what]}, {HOW[change.how]}</span>
            <span class="min-w-0">
              {#if change.what === 'template' && change.how !== 'gone'}<a
                  class="font-medium text-plum underline-offset-2 hover:underline"
                  href="/studio/workbench/{change.id}">{change.name}</a
                >{:else if change.what === 'type' && change.how !== 'gone' && change.id}<a
                  class="font-medium text-plum underline-offset-2 hover:underline"
                  href="/studio/content/{change.id}/fields">{change.name}</a
                >{:else}<span class="font-medium">{change.name}</span>{/if}
              {#each change.details as detail, i (i)}<span class="block text-faded">{detail}</span>{/each}
            </span>
          </li>
        {/each}
      </ul>
      {#if found?.some.length}
        <h2 class="mt-6 mb-2 text-xl font-medium">Before and after</h2>
        <div class="flex flex-col gap-5">
          {#each found.some.slice(0, shownPages) as page (page.address + page.how)}<BeforeAfter
              {page}
              shown={data.shown}
            />{/each}
        </div>
        {#if found.some.length > shownPages}
          <Button class="mt-3" onclick={() => (shownPages += 6)}
            >Show more of {found.some.length}{found.changed > found.some.length
              ? ` (of ${found.changed.toLocaleString('en')})`
              : ''}</Button
          >
        {/if}
      {/if}
    {:else}
      <div class="mt-8 max-w-md">
        <p class="font-display text-xl">
          {data.shown ? 'Nothing has changed since' : 'There is nothing to release yet'}
        </p>
        <p class="mt-1 text-faded">
          Templates, rules, menus, the theme and addresses are a draft until they are released together. Records are
          seen once they are published.
        </p>
      </div>
    {/if}
  </section>
  <aside class="min-h-0 overflow-y-auto border-l border-hairline bg-paper px-5 py-5">
    {#if may('shareDraft')}<Share shares={data.shares} />{/if}
    {#if may('startExport')}<Export />{/if}
    <h2 class="mt-6 text-xl font-medium">Releases</h2>
    {#each data.releases as one (one.id)}
      <div class="border-b border-hairline py-2" data-release={one.id}>
        <p class="flex items-baseline gap-2">
          <span class="font-medium">Release {one.id}</span>
          {#if one.shown}<span class="rounded-sm bg-plum px-1.5 text-xs text-paper">seen by visitors</span>{/if}
          <span class="ml-auto text-xs text-faded">{momentWords(one.created)}</span>
        </p>
        <p>{one.note || brief(one.changes) || 'The first'}</p>
        {#if one.pages !== null}<p class="text-xs text-faded">{counted(one.pages, 'page')} changed</p>{/if}
        <p class="mt-0.5 flex gap-3">
          {#if !one.shown && may('showRelease')}<button
              type="button"
              class="text-plum underline underline-offset-2"
              onclick={() =>
                act(one.id, 'show', `Visitors see release ${one.id} again. What you work on stays as it is.`)}
              >{one.id < data.shown ? 'Go back to it' : 'Show it'}</button
            >{/if}
          {#if may('takeUpRelease')}<button
              type="button"
              class="text-plum underline underline-offset-2"
              onclick={() => act(one.id, 'take up', `The draft is now as in release ${one.id}.`)}
              >Take it up in the draft</button
            >{/if}
        </p>
      </div>
    {:else}<p class="mt-1 text-faded">The first one will stand here.</p>{/each}
  </aside>
</main>
