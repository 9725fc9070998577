<script lang="ts">
  import { beforeNavigate, goto } from '$app/navigation';
  import type { ContentRecord, Media } from '$lib/core/content/record';
  import { indexModel, type ContentType, type Model } from '$lib/core/model/model';
  import type { Problem } from '$lib/core/result';
  import { addressOf } from '$lib/core/serving/addresses';
  import { send, type RequestFailed } from '$lib/studio/request';
  import ValueInput from '$lib/studio/values/ValueInput.svelte';
  import Button from '$lib/ui/Button.svelte';

  let {
    model,
    type,
    record,
    records,
    media,
  }: {
    model: Model;
    type: ContentType;
    record?: ContentRecord;
    records: Pick<ContentRecord, 'id' | 'title' | 'typeId' | 'status'>[];
    media: Media[];
  } = $props();

  const start = () => ({
    title: record?.title ?? '',
    slug: record?.slug ?? '',
    status: record?.status ?? 'draft',
    values: { ...record?.values } as Record<string, unknown>,
    terms: [...(record?.terms ?? [])],
  });
  let draft = $state(start());
  let kept = $state(JSON.stringify(start()));
  // svelte-ignore state_referenced_locally
  let version = $state(record?.version);
  let problems: Problem[] = $state([]);
  let note = $state('');
  let failed = $state('');

  const changed = $derived(JSON.stringify(draft) !== kept);
  const index = $derived(indexModel(model));
  const problemAt = (at: string) => problems.find((p) => p.at === at || p.at.startsWith(`${at}.`));
  const loose = $derived(
    problems.filter(
      (p) =>
        p.at !== 'title' &&
        p.at !== 'slug' &&
        p.at !== 'terms' &&
        !type.fields.some((f) => p.at.startsWith(`values.${f.id}`)),
    ),
  );

  /** Only what differs from the kept state is sent, so that nobody else's change to another value is undone. */
  function difference() {
    const before = JSON.parse(kept) as ReturnType<typeof start>;
    const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);
    const ids = new Set([...Object.keys(before.values), ...Object.keys(draft.values)]);
    const values = Object.fromEntries(
      [...ids].filter((id) => !same(before.values[id], draft.values[id])).map((id) => [id, draft.values[id] ?? null]),
    );
    return {
      ...(before.title !== draft.title ? { title: draft.title } : {}),
      ...(before.slug !== draft.slug && draft.slug ? { slug: draft.slug } : {}),
      ...(before.status !== draft.status ? { status: draft.status } : {}),
      ...(same(before.terms, draft.terms) ? {} : { terms: draft.terms }),
      values,
    };
  }

  async function save(event?: SubmitEvent) {
    event?.preventDefault();
    failed = note = '';
    problems = [];
    try {
      const saved = record
        ? await send<ContentRecord>('PATCH', `/api/records/${record.id}`, { ...difference(), version })
        : await send<ContentRecord>('POST', '/api/records', { typeId: type.id, ...difference() });
      version = saved.version;
      draft = {
        title: saved.title,
        slug: saved.slug,
        status: saved.status,
        values: { ...saved.values },
        terms: [...saved.terms],
      };
      kept = JSON.stringify(draft);
      note = 'Saved';
      if (!record) await goto(`/studio/content/${type.id}/${saved.id}`);
    } catch (error) {
      const refused = error as RequestFailed;
      problems = refused.problems ?? [];
      failed = refused.message;
    }
  }

  async function remove() {
    if (!record || !confirm(`Delete “${record.title}”? Links to it go with it. This cannot be undone.`)) return;
    try {
      await send('DELETE', `/api/records/${record.id}`);
      kept = JSON.stringify(draft);
      await goto(`/studio/content/${type.id}`);
    } catch (error) {
      failed = (error as Error).message;
    }
  }

  beforeNavigate((navigation) => {
    if (!changed) return;
    if (navigation.willUnload) navigation.cancel();
    else if (!confirm('There are changes that are not saved. Leave all the same?')) navigation.cancel();
  });

  function setTerm(id: string, on: boolean) {
    draft.terms = on ? [...draft.terms, id] : draft.terms.filter((term) => term !== id);
  }
  const termRows = (
    taxonomyId: string,
    parent: string | null = null,
    depth = 0,
  ): { id: string; name: string; depth: number }[] =>
    model.terms
      .filter((t) => t.taxonomyId === taxonomyId && t.parentId === parent)
      .flatMap((t) => [{ id: t.id, name: t.name, depth }, ...termRows(taxonomyId, t.id, depth + 1)]);
</script>

{#snippet wrong(at: string)}
  {@const found = problemAt(at)}
  {#if found}<p id="wrong-{at}" class="mt-1 text-madder">{found.what} {found.fix ?? ''}</p>{/if}
{/snippet}

<form class="flex min-h-0 grow flex-col" onsubmit={save} novalidate>
  <div class="min-h-0 grow overflow-y-auto">
    <div class="mx-auto grid max-w-5xl grid-cols-[minmax(0,1fr)_17rem] gap-8 px-8 py-6">
      <div class="flex flex-col gap-4">
        <label class="block">
          <span class="dye-label">Title</span>
          <input
            class="mt-0.5 w-full font-display text-xl"
            bind:value={draft.title}
            aria-invalid={Boolean(problemAt('title'))}
          />
          {@render wrong('title')}
        </label>
        {#each type.fields as field (field.id)}
          {@const at = `values.${field.id}`}
          <div>
            <label class="dye-label mb-0.5 block" for={field.id}
              >{field.label}{field.required ? ' (required)' : ''}</label
            >
            <ValueInput
              {field}
              {records}
              {media}
              value={draft.values[field.id]}
              invalid={Boolean(problemAt(at))}
              describedby={problemAt(at) ? `wrong-${at}` : field.help ? `help-${field.id}` : undefined}
              onchange={(value) => (draft.values = { ...draft.values, [field.id]: value })}
            />
            {#if field.help}<p id="help-{field.id}" class="mt-0.5 text-xs text-faded">{field.help}</p>{/if}
            {@render wrong(at)}
          </div>
        {/each}
      </div>
      <aside class="flex flex-col gap-5">
        <label class="block"
          ><span class="dye-label">Status</span>
          <select class="mt-0.5 block w-full" bind:value={draft.status}
            ><option value="draft">Draft</option><option value="published">Published</option></select
          ></label
        >
        <label class="block">
          <span class="dye-label">Address</span>
          <span class="mt-0.5 flex items-center gap-1 font-mono text-xs"
            ><span class="text-faded">/{type.base}/</span><input
              class="min-w-0 grow"
              bind:value={draft.slug}
              placeholder="from the title"
              aria-invalid={Boolean(problemAt('slug'))}
            /></span
          >
          {@render wrong('slug')}
        </label>
        {#each type.taxonomyIds as taxonomyId (taxonomyId)}
          <fieldset>
            <legend class="dye-label mb-1">{index.taxonomy(taxonomyId)?.name}</legend>
            <div class="border border-hairline bg-paper p-2">
              {#each termRows(taxonomyId) as term (term.id)}
                <label class="flex items-center gap-2 py-0.5" style="padding-left:{term.depth * 16}px"
                  ><input
                    type="checkbox"
                    checked={draft.terms.includes(term.id)}
                    onchange={(e) => setTerm(term.id, e.currentTarget.checked)}
                  />{term.name}</label
                >
              {/each}
            </div>
          </fieldset>
        {/each}
        {@render wrong('terms')}
        {#if record}<button type="button" class="self-start text-madder underline underline-offset-2" onclick={remove}
            >Delete this {type.name.toLowerCase()}</button
          >{/if}
      </aside>
    </div>
  </div>
  <div class="flex h-12 shrink-0 items-center gap-3 border-t border-hairline bg-paper px-8">
    <Button tone="main" type="submit" disabled={!changed && Boolean(record)}>Save</Button>
    <span role="status" class={failed ? 'text-madder' : changed ? 'text-faded' : 'text-moss'}
      >{failed || (changed ? 'Not saved yet' : note)}</span
    >
    {#each loose as problem, i (i)}<span class="text-madder">{problem.what}</span>{/each}
    {#if record && record.status === 'published'}<a
        class="ml-auto text-plum underline"
        href={addressOf({ ...record, slug: draft.slug || record.slug }, index)}
        target="_blank">On the site</a
      >{/if}
  </div>
</form>
