<script lang="ts">
  import type { SvelteSet } from 'svelte/reactivity';
  import { invalidateAll } from '$app/navigation';
  import type { Problem } from '$lib/core/base/result';
  import type { ModelIndex } from '$lib/core/model/model-index';
  import type { ContentType } from '$lib/core/schema/model';
  import { send, failureWords } from '$lib/studio/request';
  import { offerUndo } from '$lib/studio/undo.svelte';
  import Button from '$lib/ui/Button.svelte';

  /** What can be done with the records that were chosen in the table, and what came of it. */
  let {
    type,
    templates,
    model,
    picked,
    words: n,
  }: {
    type: ContentType;
    /** Templates that records of the type can be shown with. */
    templates: { id: string; name: string }[];
    model: ModelIndex;
    picked: SvelteSet<number>;
    /** So many records of the type, in words. */
    words(count: number): string;
  } = $props();

  let said = $state('');
  let left: { id: number; title: string; problems: Problem[] }[] = $state([]);

  async function bulk(change: Record<string, unknown>, words: (n: number) => string) {
    said = '';
    left = [];
    try {
      const answer = await send<{ removal: string; changed: number; left: typeof left }>(
        'PATCH',
        '/api/v1/records/bulk',
        {
          ids: [...picked],
          ...change,
        },
      );
      left = answer.left;
      if (answer.changed) offerUndo(answer.removal, words(answer.changed));
      picked.clear();
      for (const record of left) picked.add(record.id);
      await invalidateAll();
    } catch (error) {
      said = (error as Error).message;
    }
  }
  async function assign(templateId: string) {
    said = '';
    try {
      await send('POST', `/api/v1/templates/${templateId}/assign`, { typeId: type.id, ids: [...picked] });
      const name = templates.find(({ id }) => id === templateId)?.name;
      said = `${n(picked.size)} shown with “${name}” once it is released.`;
      picked.clear();
      await invalidateAll();
    } catch (error) {
      said = failureWords(error);
    }
  }
  async function removePicked() {
    said = '';
    try {
      const { removal, deleted } = await send<{ removal: string; deleted: number }>('DELETE', '/api/v1/records/bulk', {
        ids: [...picked],
      });
      offerUndo(removal, `${deleted} deleted, with every link to them.`);
      picked.clear();
      await invalidateAll();
    } catch (error) {
      said = (error as Error).message;
    }
  }
  const terms = $derived(model.terms.filter((term) => type.taxonomyIds.includes(term.taxonomyId)));
</script>

{#if picked.size}
  <div
    class="mt-3 flex flex-wrap items-center gap-2 rounded-sm bg-linen-deep px-3 py-1.5"
    role="group"
    aria-label="With what is chosen"
  >
    <span class="font-medium">{n(picked.size)} chosen</span>
    <Button onclick={() => bulk({ status: 'published' }, (k) => `${n(k)} published.`)}>Publish</Button>
    <Button onclick={() => bulk({ status: 'draft' }, (k) => `${n(k)} made drafts.`)}>Make drafts</Button>
    {#if templates.length}
      <select
        aria-label="Show with"
        value=""
        onchange={(e) => {
          const id = e.currentTarget.value;
          e.currentTarget.value = '';
          if (id) void assign(id);
        }}
      >
        <option value="">Show with …</option>
        {#each templates as template (template.id)}<option value={template.id}>{template.name}</option>{/each}
      </select>
    {/if}
    {#if terms.length}
      <select
        aria-label="File under"
        value=""
        onchange={(e) => {
          const id = e.currentTarget.value;
          e.currentTarget.value = '';
          if (id) void bulk({ addTerms: [id] }, (k) => `${n(k)} filed under ${model.term(id)?.name}.`);
        }}
      >
        <option value="">File under …</option>
        {#each terms as term (term.id)}<option value={term.id}
            >{model.taxonomy(term.taxonomyId)?.name}: {term.name}</option
          >{/each}
      </select>
      <select
        aria-label="Take out of"
        value=""
        onchange={(e) => {
          const id = e.currentTarget.value;
          e.currentTarget.value = '';
          if (id) void bulk({ takeTerms: [id] }, (k) => `${n(k)} taken out of ${model.term(id)?.name}.`);
        }}
      >
        <option value="">Take out of …</option>
        {#each terms as term (term.id)}<option value={term.id}
            >{model.taxonomy(term.taxonomyId)?.name}: {term.name}</option
          >{/each}
      </select>
    {/if}
    <Button class="text-madder" onclick={removePicked}>Delete</Button>
    <Button tone="bare" onclick={() => picked.clear()}>Choose none</Button>
  </div>
{/if}
{#if said}<p class="mt-2 text-madder" role="alert">{said}</p>{/if}
{#if left.length}
  <div class="mt-2 text-madder" role="alert">
    {#each left.slice(0, 5) as record (record.id)}<p>
        “{record.title}” stays as it is: {record.problems.map((p) => p.what).join(' ')}
      </p>{/each}
  </div>
{/if}
