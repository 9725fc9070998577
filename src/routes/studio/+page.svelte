<script lang="ts">
  import { Plus } from '@lucide/svelte';
  import { goto, invalidateAll } from '$app/navigation';
  import type { Purpose, Target } from '$lib/core/templates/template';
  import { send, type RequestFailed } from '$lib/studio/request';
  import Button from '$lib/ui/Button.svelte';
  import Sheet from '$lib/ui/Sheet.svelte';

  let { data } = $props();

  let making = $state(false);
  let purpose = $state<Purpose>('record');
  let ready = $state(true);
  let typeId = $state('');
  /** For an archive: what it serves, as the choice has it. */
  let archiveOf = $state('');
  let name = $state('');
  let wrong = $state('');
  const type = $derived(data.types.find((t) => t.id === typeId));
  const archives = $derived([
    ...data.types.map((one) => ({
      what: one.plural,
      plural: one.plural,
      target: { on: 'type', typeId: one.id } as Target,
      templates: one.archive,
    })),
    ...data.archives.map((one) => ({ ...one, plural: '' })),
  ]);
  const served = $derived(archives.find((one) => JSON.stringify(one.target) === archiveOf) ?? archives[0]!);
  const standing = $derived(purpose === 'record' ? type?.record : purpose === 'archive' ? served.templates : undefined);
  const suggested = $derived(
    purpose === 'frame'
      ? 'Frame'
      : purpose === 'part'
        ? type
          ? `${type.name} card`
          : 'Part'
        : purpose === 'archive'
          ? served.plural
            ? `All ${served.plural.toLowerCase()}`
            : served.what
          : type
            ? `${type.name} page`
            : '',
  );

  let siteWrong = $state('');

  async function saveSite(change: Partial<typeof data.site>) {
    siteWrong = '';
    try {
      await send('PUT', '/api/site', { ...data.site, ...change });
      await invalidateAll();
    } catch (error) {
      siteWrong = (error as RequestFailed).problems[0]?.what ?? (error as Error).message;
    }
  }

  function start(forPurpose: Purpose, id: string, target?: Target) {
    purpose = forPurpose;
    typeId = id;
    archiveOf = JSON.stringify(target ?? { on: 'type', typeId: id });
    name = '';
    wrong = '';
    making = true;
  }

  async function make(event: SubmitEvent) {
    event.preventDefault();
    try {
      const template = await send<{ id: string }>('POST', '/api/templates', {
        name: name.trim() || suggested,
        purpose,
        ready: ready && (purpose === 'record' || purpose === 'archive'),
        ...(purpose === 'archive' ? { serves: [served.target] } : typeId && purpose !== 'frame' ? { typeId } : {}),
      });
      await goto(`/studio/workbench/${template.id}`);
    } catch (error) {
      wrong = (error as RequestFailed).problems[0]?.what ?? (error as Error).message;
    }
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
          onchange={(e) => saveSite({ name: e.currentTarget.value })}
        />
        <input
          class="-ml-2 w-full max-w-2xl border-transparent! bg-transparent! text-faded hover:border-hairline!"
          aria-label="Tagline of the site"
          placeholder="A line on what the site is"
          value={data.site.tagline}
          onchange={(e) => saveSite({ tagline: e.currentTarget.value })}
        />
        {#if siteWrong}<p role="alert" class="text-madder">{siteWrong}</p>{/if}
      </div>
      {#if data.types.length}
        <Button onclick={() => start('part', '')}>New part</Button>
        <Button tone="main" onclick={() => start('record', data.types[0]?.id ?? '')}
          ><Plus size={15} />New template</Button
        >
      {/if}
    </div>

    {#if data.types.length === 0}
      <div class="mt-10 max-w-lg">
        <p class="font-display text-2xl">Begin with the content.</p>
        <p class="mt-2 mb-4 text-faded">A content type says what a record holds; templates then show its values.</p>
        <a
          href="/studio/content/new"
          class="inline-flex h-8 items-center rounded-sm bg-plum px-3 font-medium text-paper hover:bg-plum-deep"
          >Make a content type</a
        >
      </div>
    {:else}
      <table class="mt-6 w-full border-collapse border border-hairline bg-paper text-left align-top">
        <caption class="sr-only">Content types with their templates</caption>
        <thead>
          <tr class="dye-label bg-linen-deep">
            <th class="px-4 py-2 font-semibold">Content type</th>
            <th class="px-4 py-2 font-semibold">Records</th>
            <th class="px-4 py-2 font-semibold">Record page</th>
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
                <p class="font-mono text-xs text-faded">/{one.base}/</p>
              </td>
              <td class="px-4 py-3">
                <p>{one.published} published</p>
                {#if one.drafts}<p class="text-faded">{one.drafts} {one.drafts === 1 ? 'draft' : 'drafts'}</p>{/if}
              </td>
              {#each [{ purpose: 'record' as const, list: one.record }, { purpose: 'archive' as const, list: one.archive }] as cell (cell.purpose)}
                <td class="px-4 py-3">
                  {#each cell.list as template, i (template.id)}
                    <p>
                      <a class="text-plum underline underline-offset-2" href="/studio/workbench/{template.id}"
                        >{template.name}</a
                      >
                      {#if cell.list.length > 1}<span class="text-faded">{i === 0 ? 'answers' : 'stands behind'}</span
                        >{/if}
                    </p>
                  {:else}
                    <p class="text-faded">A plain readable one</p>
                    <button
                      type="button"
                      class="text-plum underline underline-offset-2"
                      onclick={() => start(cell.purpose, one.id)}>Make a template</button
                    >
                  {/each}
                </td>
              {/each}
            </tr>
          {/each}
        </tbody>
      </table>

      <section class="mt-8">
        <h2 class="text-xl font-medium">Other archives</h2>
        <table class="mt-1 w-full max-w-3xl text-left">
          <tbody>
            {#each data.archives.filter((one) => one.target.on !== 'dates' || one.templates.length) as one (one.what)}
              <tr>
                <td class="py-0.5 pr-4">{one.what}</td>
                <td class="py-0.5 pr-4 font-mono text-xs text-faded">{one.address}</td>
                <td class="py-0.5">
                  {#each one.templates as template, i (template.id)}
                    <a class="text-plum underline underline-offset-2" href="/studio/workbench/{template.id}"
                      >{template.name}</a
                    >
                    {#if one.templates.length > 1}<span class="text-faded">{i === 0 ? 'answers' : 'stands behind'}</span
                      >{/if}
                  {:else}
                    <span class="text-faded">A plain readable one.</span>
                    <button
                      type="button"
                      class="text-plum underline underline-offset-2"
                      aria-label="Make a template for {one.what}"
                      onclick={() => start('archive', '', one.target)}>Make a template</button
                    >
                  {/each}
                </td>
              </tr>
            {/each}
          </tbody>
        </table>
        <p class="mt-1 text-faded">
          Years and months, such as <span class="font-mono text-xs">/{data.types[0]?.base}/2026/05/</span>, are answered
          by the archive page of their type, or by a template of their own.
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
          {#each data.frames as frame, i (frame.id)}
            <p class="mt-1">
              <a class="text-plum underline underline-offset-2" href="/studio/workbench/{frame.id}">{frame.name}</a>
              <span class="text-faded">{i ? 'stands behind' : 'stands around every page'}</span>
            </p>
          {:else}
            <p class="mt-1 text-faded">
              Every page has a plain head and foot.
              <button type="button" class="text-plum underline underline-offset-2" onclick={() => start('frame', '')}
                >Make a frame</button
              >
            </p>
          {/each}
        </div>
      </section>

      <section class="mt-8">
        <h2 class="text-xl font-medium">Loose ends</h2>
        {#each data.looseEnds as end, i (i)}
          <p class="mt-2 flex items-center gap-2 bg-ochre px-3 py-1.5">
            <span aria-hidden="true">≋</span>{end.what}
            <a class="text-plum underline" href="/studio/workbench/{end.templateId}">{end.templateName}</a>
          </p>
        {:else}
          <p class="mt-1 text-moss">Every thread holds.</p>
        {/each}
        {#each data.orphans as template (template.id)}
          <p class="mt-2 bg-ochre px-3 py-1.5">≋ The content type that {template.name} was made for is gone.</p>
        {/each}
      </section>
    {/if}
  </div>
</main>

<Sheet bind:open={making} title="New template" about="You see the values of real records from the first field on.">
  <form class="flex flex-col gap-3" onsubmit={make}>
    <fieldset class="flex flex-wrap gap-x-4 gap-y-1">
      <legend class="dye-label mb-1">It is for</legend>
      <label class="flex items-center gap-2"
        ><input type="radio" bind:group={purpose} value="record" />a record page</label
      >
      <label class="flex items-center gap-2"
        ><input type="radio" bind:group={purpose} value="archive" />an archive page</label
      >
      <label class="flex items-center gap-2"
        ><input type="radio" bind:group={purpose} value="part" />a part of pages</label
      >
      <label class="flex items-center gap-2"
        ><input type="radio" bind:group={purpose} value="frame" />the frame around pages</label
      >
    </fieldset>
    {#if purpose === 'archive'}
      <label class="flex flex-col gap-1"
        ><span class="dye-label">of</span>
        <select bind:value={archiveOf}>
          {#each archives as one (one.what)}<option value={JSON.stringify(one.target)}>{one.what}</option>{/each}
        </select>
      </label>
    {:else if purpose !== 'frame'}
      <label class="flex flex-col gap-1"
        ><span class="dye-label">{purpose === 'part' ? 'that shows' : 'of'}</span>
        <select bind:value={typeId}>
          {#if purpose === 'part'}<option value="">no record</option>{/if}
          {#each data.types as one (one.id)}<option value={one.id}
              >{purpose === 'record'
                ? `every ${one.name.toLowerCase()} (${one.published})`
                : `a ${one.name.toLowerCase()}`}</option
            >{/each}
        </select>
      </label>
    {/if}
    {#if purpose === 'record' || purpose === 'archive'}
      <fieldset class="flex flex-wrap gap-x-4">
        <legend class="dye-label mb-1">It begins</legend>
        <label class="flex items-center gap-2"
          ><input type="radio" bind:group={ready} value={true} />with what its fields call for</label
        >
        <label class="flex items-center gap-2"><input type="radio" bind:group={ready} value={false} />blank</label>
      </fieldset>
    {/if}
    {#if standing?.length}
      <p class="bg-ochre px-2 py-1">
        {standing[0]?.name} answers these addresses already. The new one stands behind it.
      </p>
    {/if}
    <label class="flex flex-col gap-1"
      ><span class="dye-label">Name</span><input bind:value={name} placeholder={suggested} /></label
    >
    {#if wrong}<p role="alert" class="text-madder">{wrong}</p>{/if}
    <div class="mt-1 flex justify-end gap-2">
      <Button onclick={() => (making = false)}>Cancel</Button><Button tone="main" type="submit">Make it</Button>
    </div>
  </form>
</Sheet>
