<script lang="ts">
  import type { SvelteSet } from 'svelte/reactivity';
  import { invalidateAll } from '$app/navigation';
  import type { Problem } from '$lib/core/base/result';
  import type { ModelIndex } from '$lib/core/model/model-index';
  import type { ContentType } from '$lib/core/schema/model';
  import { failureWords } from '$lib/studio/base/request';
  import { api } from '$lib/studio/base/api';
  import { offerUndo } from '$lib/studio/base/undo.svelte';
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
      const answer = await api('PATCH /records/bulk', {
        body: {
          ids: [...picked],
          ...change,
        },
      });
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
      await api('POST /templates/{templateId}/assign', { templateId, body: { typeId: type.id, ids: [...picked] } });
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
      const { removal, deleted } = await api('DELETE /records/bulk', {
        body: {
          ids: [...picked],
        },
      });
      offerUndo(removal, `${deleted} deleted, with every link to them.`);
      picked.clear();
      await invalidateAll();
    } catch (error) {
      said = (error as Error).message;
    }
  }
  const terms = $derived(model.terms.filter((term) => type.taxonomyIds.includes(term.taxonomyId)));
  const named = $derived(
    terms.map(({ id, taxonomyId, name }) => ({ id, name: `${model.taxonomy(taxonomyId)?.name}: ${name}` })),
  );
</script>

{#snippet choose(label: string, options: { id: string; name: string }[], pick: (id: string) => Promise<void>)}
  <select
    aria-label={label}
    value=""
    onchange={(e) => {
      const id = e.currentTarget.value;
      e.currentTarget.value = '';
      if (id) void pick(id);
    }}
  >
    <option value="">{label} …</option>
    {#each options as option (option.id)}<option value={option.id}>{option.name}</option>{/each}
  </select>
{/snippet}

{#if picked.size}
  <div
    class="mt-3 flex flex-wrap items-center gap-2 rounded-sm bg-linen-deep px-3 py-1.5"
    role="group"
    aria-label="With what is chosen"
  >
    <span class="font-medium">{n(picked.size)} chosen</span>
    <Button onclick={() => bulk({ status: 'published' }, (k) => `${n(k)} published.`)}>Publish</Button>
    <Button onclick={() => bulk({ status: 'draft' }, (k) => `${n(k)} made drafts.`)}>Make drafts</Button>
    {#if templates.length}{@render choose('Show with', templates, assign)}{/if}
    {#if terms.length}
      {@render choose('File under', named, (id) =>
        bulk({ addTerms: [id] }, (k) => `${n(k)} filed under ${model.term(id)?.name}.`),
      )}
      {@render choose('Take out of', named, (id) =>
        bulk({ takeTerms: [id] }, (k) => `${n(k)} taken out of ${model.term(id)?.name}.`),
      )}
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
