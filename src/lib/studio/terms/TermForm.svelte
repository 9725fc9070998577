<script lang="ts">
  import { counted } from '$lib/core/base/counted';
  import { invalidateAll } from '$app/navigation';
  import type { Term } from '$lib/core/schema/model';
  import type { Problem } from '$lib/core/base/result';
  import MediaPicker from '$lib/studio/media/MediaPicker.svelte';
  import { type RequestFailed } from '$lib/studio/base/request';
  import { api } from '$lib/studio/base/api';
  import { offerUndo } from '$lib/studio/base/undo.svelte';
  import Button from '$lib/ui/Button.svelte';
  import Sheet from '$lib/ui/Sheet.svelte';

  let {
    term,
    terms,
    below,
    tree,
    count,
    ongone,
  }: {
    term: Term;
    terms: Term[];
    /** The term itself and all below it. */ below: string[];
    tree: boolean;
    count: number;
    ongone: () => void;
  } = $props();

  // svelte-ignore state_referenced_locally
  let draft: Term = $state({ ...term });
  let problems: Problem[] = $state([]);
  let said = $state('');
  let choosing = $state(false);
  let merging = $state('');
  let deleting = $state(false);
  let goesTo: string = $state('');
  const changed = $derived(JSON.stringify(draft) !== JSON.stringify(term));
  const words = (one: Term): string => {
    const parent = terms.find((t) => t.id === one.parentId);
    return parent ? `${words(parent)} → ${one.name}` : one.name;
  };

  async function attempt(work: () => Promise<unknown>) {
    said = '';
    problems = [];
    try {
      await work();
      await invalidateAll();
    } catch (error) {
      const refused = error as RequestFailed;
      problems = refused.problems ?? [];
      said = refused.message;
    }
  }
  const save = (event: SubmitEvent) => {
    event.preventDefault();
    void attempt(() => api('PUT /terms/{termId}', { termId: term.id, body: $state.snapshot(draft) }));
  };
  const merge = () =>
    attempt(async () => {
      const into = terms.find((one) => one.id === merging);
      const { removal } = await api('POST /terms/{termId}/merge', { termId: term.id, body: { into: merging } });
      offerUndo(removal, `${term.name} is now part of ${into?.name}.`);
      ongone();
    });
  const remove = () =>
    attempt(async () => {
      const { removal } = await api('DELETE /terms/{termId}', {
        termId: term.id,
        query: { records: goesTo || undefined },
      });
      offerUndo(removal, `${term.name} is deleted.`);
      deleting = false;
      ongone();
    });
  const wrong = (at: string) => problems.find((p) => p.at === at);
</script>

<form class="flex flex-col gap-3" onsubmit={save}>
  <label
    ><span class="dye-label">Name</span><input
      class="block w-full font-display text-lg"
      bind:value={draft.name}
      aria-invalid={Boolean(wrong('name'))}
    /></label
  >
  <label
    ><span class="dye-label">Address part</span><input
      class="block w-full font-mono text-xs"
      bind:value={draft.slug}
      aria-invalid={Boolean(wrong('slug'))}
    /></label
  >
  <label
    ><span class="dye-label">Description</span><textarea
      class="field-sizing-content block min-h-20 w-full"
      bind:value={draft.description}
    ></textarea></label
  >
  <div>
    <span class="dye-label block">Picture</span>
    <span class="flex items-center gap-2">
      {#if draft.pictureId}<img src="/media/{draft.pictureId}/320.webp" alt="" class="h-14 rounded-sm" />{/if}
      <Button onclick={() => (choosing = true)}>{draft.pictureId ? 'Choose another' : 'Choose a picture'}</Button>
      {#if draft.pictureId}<Button tone="bare" onclick={() => (draft.pictureId = null)}>Take it away</Button>{/if}
    </span>
  </div>
  {#if tree}
    <label
      ><span class="dye-label">Lies below</span><select
        class="block w-full"
        value={draft.parentId ?? ''}
        onchange={(e) => (draft.parentId = e.currentTarget.value || null)}
      >
        <option value="">nothing; it stands at the top</option>
        {#each terms.filter((one) => !below.includes(one.id)) as one (one.id)}<option value={one.id}
            >{words(one)}</option
          >{/each}
      </select></label
    >
  {/if}
  <div class="flex items-center gap-3">
    <Button tone="main" type="submit" disabled={!changed}>Save</Button>
    {#if changed}<span class="text-faded">Not saved yet</span>{/if}
  </div>
  {#if said}<p class="text-madder" role="alert">
      {said}
      {problems.map((p) => [p.what, p.fix].filter(Boolean).join(' ')).join(' ')}
    </p>{/if}
</form>
<div class="mt-6 border-t border-hairline pt-4">
  <p class="text-faded">
    {count === 0 ? 'No record is' : count === 1 ? 'One record is' : `${count.toLocaleString('en')} records are`} filed under
    it.
  </p>
  {#if terms.length > 1}
    <label class="mt-3 block"
      ><span class="dye-label">Merge into</span><span class="flex gap-2"
        ><select class="min-w-0 grow" bind:value={merging}
          ><option value="">choose a term</option
          >{#each terms.filter((one) => one.id !== term.id) as one (one.id)}<option value={one.id}>{words(one)}</option
            >{/each}</select
        ><Button disabled={!merging} onclick={() => void merge()}>Merge</Button></span
      ></label
    >
    <p class="mt-1 text-xs text-faded">Its records and the terms below it go there, and it goes.</p>
  {/if}
  <button type="button" class="mt-4 text-madder underline underline-offset-2" onclick={() => (deleting = true)}
    >Delete this term</button
  >
</div>

<MediaPicker bind:open={choosing} onpick={(media) => (draft.pictureId = media.id)} />
<Sheet bind:open={deleting} title="Delete {term.name}?" about="Terms below it move up to where it was.">
  <label class="block"
    ><span class="dye-label">Its {counted(count, 'record')}</span><select class="block w-full" bind:value={goesTo}>
      <option value="">lose the term</option>
      {#each terms.filter((one) => one.id !== term.id) as one (one.id)}<option value={one.id}
          >are filed under {words(one)}</option
        >{/each}
    </select></label
  >
  <div class="mt-4 flex gap-2">
    <Button tone="main" onclick={() => void remove()}>Delete it</Button><Button onclick={() => (deleting = false)}
      >Leave it</Button
    >
  </div>
</Sheet>
