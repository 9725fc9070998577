<script lang="ts">
  import { dayWords } from '$lib/studio/base/site-clock';
  import ActivityBeside from '$lib/studio/people/ActivityBeside.svelte';
  import LookOnly from '$lib/studio/people/LookOnly.svelte';
  import { me } from '$lib/studio/people/me';
  import SharingPart, { type Sharing } from '$lib/studio/people/SharingPart.svelte';
  import type { Snippet } from 'svelte';
  import { addressOf } from '$lib/core/addresses/addresses';
  import type { Addressed } from '$lib/core/addresses/patterns';
  import type { Problem } from '$lib/core/base/result';
  import { indexModel } from '$lib/core/model/model';
  import type { ContentType, Model } from '$lib/core/schema/model';
  import type { ContentRecord } from '$lib/core/schema/record';
  import { clockWords, readMoment, shownMoment } from '$lib/studio/base/site-clock';
  import type { Draft } from './draft';
  import TermChoice from './TermChoice.svelte';

  /** What every record has beside its fields: status, address, author, terms. Changes the draft in place. */
  let {
    model,
    type,
    record,
    editable,
    sharing,
    addressed,
    draft = $bindable(),
    problemsAt,
    wrong,
    onremove,
  }: {
    model: Model;
    type: ContentType;
    record?: ContentRecord;
    editable: boolean;
    sharing?: Sharing;
    /** How addresses of its type are made for visitors. */
    addressed?: Addressed;
    draft: Draft;
    problemsAt: (at: string) => Problem[];
    wrong: Snippet<[string]>;
    onremove: () => void;
  } = $props();

  const publishes = $derived(me()?.role !== 'author' || me()?.mayPublish);
  const index = $derived(
    indexModel({ ...model, types: model.types.map((one) => (one.id === type.id ? { ...one, ...addressed } : one)) }),
  );
  /** What of its address stands before its own part and after it. */
  const addressParts = $derived.by(() => {
    const shown = { typeId: type.id, published: null, terms: draft.terms, authorId: draft.authorId };
    const [before = '', after = ''] = addressOf({ ...shown, ...record, ...draft, slug: 'SLUG' }, index).split('SLUG');
    return [before, after];
  });
</script>

<aside class="flex flex-col gap-4">
  {#if record && sharing}<SharingPart recordId={record.id} status={record.status} {sharing} {editable} />{/if}
  <LookOnly allowed={editable}>
    {#if record?.generated}<p class="rounded-sm bg-ochre px-2 py-1">
        Made up by the application. Saved by you, it counts as real.
      </p>{/if}
    <label class="block"
      ><span class="dye-label">Status</span>
      <select class="mt-0.5 block w-full" bind:value={draft.status} aria-invalid={problemsAt('status').length > 0}
        ><option value="draft">Draft</option>{#if publishes || draft.status !== 'draft'}<option value="published"
            >Published</option
          ><option value="scheduled">Scheduled</option>{/if}</select
      >
      {@render wrong('status')}</label
    >
    {#if draft.status === 'scheduled'}
      <label class="block"
        ><span class="dye-label">Published at</span>
        <input
          type="datetime-local"
          class="mt-0.5 block w-full"
          value={shownMoment(draft.published)}
          aria-invalid={problemsAt('published').length > 0}
          onchange={(e) => (draft.published = readMoment(e.currentTarget.value) ?? null)}
        />
        <span class="mt-0.5 block text-xs text-faded">{clockWords()}</span></label
      >
      {@render wrong('published')}
    {/if}
    <label class="block">
      <span class="dye-label">Address</span>
      <span class="mt-0.5 flex items-center gap-1 font-mono text-xs"
        ><span class="text-faded">{addressParts[0]}</span><input
          class="min-w-0 grow"
          bind:value={draft.slug}
          placeholder="from the title"
          aria-invalid={problemsAt('slug').length > 0}
        />{#if addressParts[1]}<span class="text-faded">{addressParts[1]}</span>{/if}</span
      >
      {@render wrong('slug')}
    </label>
    <label class="block"
      ><span class="dye-label">Author</span>
      <select
        class="mt-0.5 block w-full"
        value={draft.authorId ?? ''}
        aria-invalid={problemsAt('authorId').length > 0}
        onchange={(e) => (draft.authorId = e.currentTarget.value ? Number(e.currentTarget.value) : null)}
      >
        <option value="">Nobody in particular</option>
        {#each model.authors as author (author.id)}<option value={author.id}>{author.name}</option>{/each}
      </select>
      {@render wrong('authorId')}</label
    >
    {#each type.taxonomyIds as taxonomyId (taxonomyId)}
      {@const taxonomy = index.taxonomy(taxonomyId)}
      {#if taxonomy}<TermChoice
          {model}
          {taxonomy}
          chosen={draft.terms}
          onchange={(terms) => (draft.terms = terms)}
        />{/if}
    {/each}
    {@render wrong('terms')}
  </LookOnly>
  {#if record}
    <dl class="grid grid-cols-[auto_1fr] gap-x-3 text-xs text-faded">
      {#each [['Created', record.created], ['Changed', record.changed], ['Published', record.published]] as [label, when] (label)}
        {#if when}<dt>{label}</dt>
          <dd>
            {dayWords(when)}
          </dd>{/if}
      {/each}
    </dl>
    <ActivityBeside subject="record {record.id}" />
    {#if editable}<button type="button" class="self-start text-madder underline underline-offset-2" onclick={onremove}
        >Delete this {type.name.toLowerCase()}</button
      >{/if}{/if}
</aside>
