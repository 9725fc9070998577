<script lang="ts">
  import { counted } from '$lib/core/base/counted';
  import { may } from '$lib/studio/people/me';
  import LookOnly from '$lib/studio/people/LookOnly.svelte';
  import { goto, invalidateAll } from '$app/navigation';
  import { indexModel } from '$lib/core/model/model';
  import type { Taxonomy } from '$lib/core/schema/model';
  import { failureWords } from '$lib/studio/base/request';
  import { api } from '$lib/studio/base/api';
  import NewTaxonomy from '$lib/studio/terms/NewTaxonomy.svelte';
  import TermForm from '$lib/studio/terms/TermForm.svelte';
  import TermTree from '$lib/studio/terms/TermTree.svelte';
  import { offerUndo } from '$lib/studio/base/undo.svelte';
  import Button from '$lib/ui/Button.svelte';
  import Sheet from '$lib/ui/Sheet.svelte';

  let { data } = $props();

  let selected: string | undefined = $state();
  let failed = $state('');
  let adding = $state(false);
  let fresh = $state('');
  let deleting = $state(false);
  const index = $derived(indexModel(data.model));
  const terms = $derived(data.model.terms.filter((term) => term.taxonomyId === data.taxonomy.id));
  const term = $derived(terms.find((one) => one.id === selected));
  const filed = $derived(data.model.types.filter((type) => type.taxonomyIds.includes(data.taxonomy.id)));

  async function attempt(work: () => Promise<unknown>) {
    failed = '';
    try {
      await work();
      await invalidateAll();
    } catch (error) {
      failed = failureWords(error);
    }
  }
  const add = (event: SubmitEvent) => {
    event.preventDefault();
    void attempt(async () => {
      const created = await api('POST /terms', {
        body: {
          taxonomyId: data.taxonomy.id,
          parentId: term?.id && data.taxonomy.tree ? term.id : null,
          name: fresh,
        },
      });
      fresh = '';
      if (!term) selected = created.id;
    });
  };
  const move = (id: string, parentId: string | null, at?: number) =>
    attempt(() =>
      api('POST /terms/{termId}/move', { termId: id, body: { parentId, ...(at === undefined ? {} : { at }) } }),
    );
  const rename = (change: Partial<Taxonomy>) =>
    attempt(() =>
      api('PUT /taxonomies/{taxonomyId}', { taxonomyId: data.taxonomy.id, body: { ...data.taxonomy, ...change } }),
    );
  const removeTaxonomy = () =>
    attempt(async () => {
      const { removal } = await api('DELETE /taxonomies/{taxonomyId}', { taxonomyId: data.taxonomy.id });
      deleting = false;
      offerUndo(removal, `${data.taxonomy.name} is deleted with ${counted(terms.length, 'term')}.`);
      await goto('/studio/terms');
    });
</script>

<svelte:head><title>{data.taxonomy.name} · Plum Thread</title></svelte:head>

<main class="flex min-h-0 grow flex-col">
  <div class="flex shrink-0 items-end gap-1 border-b border-hairline px-8 pt-4">
    {#each data.model.taxonomies as one (one.id)}
      <a
        href="/studio/terms/{one.id}"
        aria-current={one.id === data.taxonomy.id ? 'page' : undefined}
        class="-mb-px border-b-2 px-3 py-1.5 font-display text-lg {one.id === data.taxonomy.id
          ? 'border-plum font-medium'
          : 'border-transparent text-faded hover:text-ink'}"
        onclick={() => (selected = undefined)}>{one.name}</a
      >
    {/each}
    {#if may('createTaxonomy')}<Button class="mb-1.5 ml-3" onclick={() => (adding = true)}>New taxonomy</Button>{/if}
  </div>
  <div class="grid min-h-0 grow grid-cols-[minmax(0,1fr)_26rem]">
    <section class="min-h-0 overflow-y-auto px-8 py-5" aria-label="Terms of {data.taxonomy.name}">
      <div class="mb-3 flex flex-wrap items-center gap-3">
        <input
          class="w-48 font-medium"
          aria-label="Name of the taxonomy"
          value={data.taxonomy.name}
          readonly={!may('saveTaxonomy')}
          onchange={(e) => void rename({ name: e.currentTarget.value })}
        />
        <label class="flex items-center gap-1.5"
          ><input
            type="checkbox"
            checked={data.taxonomy.tree}
            disabled={!may('saveTaxonomy')}
            onchange={(e) => {
              const on = e.currentTarget.checked;
              e.currentTarget.checked = data.taxonomy.tree;
              void rename({ tree: on });
            }}
          />a tree</label
        >
        <span class="text-faded"
          >{filed.length
            ? `${filed.map((type) => type.plural).join(', ')} are filed under it`
            : 'No content type is filed under it yet'}</span
        >
        {#if may('deleteTaxonomy')}<button
            type="button"
            class="ml-auto text-madder underline underline-offset-2"
            onclick={() => (deleting = true)}>Delete it</button
          >{/if}
      </div>
      {#if may('createTerm')}<form class="mb-3 flex items-center gap-2" onsubmit={add}>
          <input
            class="w-72"
            placeholder={term && data.taxonomy.tree ? `New term below ${term.name}` : 'New term'}
            aria-label="Name of a new term"
            bind:value={fresh}
          />
          <Button type="submit">Add</Button>
          {#if term && data.taxonomy.tree}<button
              type="button"
              class="text-xs text-faded underline"
              onclick={() => (selected = undefined)}>at the top instead</button
            >{/if}
        </form>{/if}
      {#if failed}<p class="mb-2 text-madder" role="alert">{failed}</p>{/if}
      <TermTree
        {terms}
        tree={data.taxonomy.tree}
        counts={data.counts}
        {selected}
        onselect={(id) => (selected = id)}
        onmove={move}
      />
    </section>
    <aside class="min-h-0 overflow-y-auto border-l border-hairline bg-paper px-6 py-5">
      {#if term}
        <LookOnly allowed={may('saveTerm')}>
          {#key `${term.id} ${JSON.stringify(term)}`}<TermForm
              {term}
              {terms}
              below={index.below(term.id)}
              tree={data.taxonomy.tree}
              count={data.counts[term.id] ?? 0}
              ongone={() => (selected = undefined)}
            />{/key}
        </LookOnly>
      {:else}
        <p class="font-display text-xl">Choose a term</p>
        <p class="mt-1 text-faded">
          Its name, description and picture stand here. {!may('moveTerm')
            ? ''
            : data.taxonomy.tree
              ? 'Drag terms, or press Alt with an arrow key, to move them with all that lies below.'
              : 'Drag terms, or press Alt with an arrow key, to put them in order.'}
        </p>
      {/if}
    </aside>
  </div>
</main>

<Sheet bind:open={adding} title="New taxonomy"><NewTaxonomy ondone={() => (adding = false)} /></Sheet>
<Sheet
  bind:open={deleting}
  title="Delete {data.taxonomy.name}?"
  about="{terms.length === 1
    ? 'Its term goes'
    : `Its ${counted(terms.length, 'term')} go`} with it, and records lose {terms.length === 1
    ? 'it'
    : 'them'}. It can be undone."
>
  <div class="flex gap-2">
    <Button tone="main" onclick={() => void removeTaxonomy()}>Delete it</Button><Button
      onclick={() => (deleting = false)}>Leave it</Button
    >
  </div>
</Sheet>
