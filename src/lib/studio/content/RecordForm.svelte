<script lang="ts">
  import { momentWords } from '$lib/studio/base/site-clock';
  import LookOnly from '$lib/studio/people/LookOnly.svelte';
  import type { Sharing } from '$lib/studio/people/SharingPart.svelte';
  import { widthOf } from '$lib/studio/values/width';
  import { onMount } from 'svelte';
  import { beforeNavigate, goto } from '$app/navigation';
  import type { ContentRecord } from '$lib/core/schema/record';
  import { indexModel } from '$lib/core/model/model';
  import type { ContentType, Model } from '$lib/core/schema/model';
  import type { Problem } from '$lib/core/base/result';
  import type { Addressed } from '$lib/core/addresses/patterns';
  import { forgetRemembered, recall, remember } from '$lib/studio/base/remembered';
  import { type RequestFailed } from '$lib/studio/base/request';
  import { api } from '$lib/studio/base/api';
  import { offerUndo } from '$lib/studio/base/undo.svelte';
  import ValueInput from '$lib/studio/values/ValueInput.svelte';
  import Button from '$lib/ui/Button.svelte';
  import Conflict from './Conflict.svelte';
  import { changesOf, differences, draftOf, StoredDraft as Kept, merged, sameDraft, type Draft } from './draft';
  import RecordAside from './RecordAside.svelte';

  let {
    model,
    type,
    record,
    editable,
    sharing,
    addressed,
    onSite,
  }: {
    model: Model;
    type: ContentType;
    record?: ContentRecord;
    editable: boolean;
    sharing?: Sharing;
    /** How addresses of its type are made for visitors; none where they see nothing of it. */
    addressed?: Addressed;
    /** Where visitors find it. */
    onSite?: string;
  } = $props();

  // svelte-ignore state_referenced_locally
  let draft: Draft = $state(draftOf(record, type));
  // svelte-ignore state_referenced_locally
  let kept: Draft = $state.raw(draftOf(record, type));
  // svelte-ignore state_referenced_locally
  let version = $state(record?.version);
  let problems: Problem[] = $state([]);
  let note = $state('');
  let failed = $state('');
  let theirs: ContentRecord | undefined = $state();
  let looking = $state(false);
  let broughtBack = $state('');
  let saving = $state(false);

  const changed = $derived(editable && !sameDraft(kept, draft, type));
  const index = $derived(indexModel(model));
  const problemsAt = (at: string) => problems.filter((p) => p.at === at || p.at.startsWith(`${at}.`));
  const OWN = ['title', 'slug', 'terms', 'authorId', 'status', 'published'];
  const loose = $derived(
    problems.filter(
      (p) =>
        !OWN.includes(p.at) &&
        !type.fields.some((f) => p.at === `values.${f.id}` || p.at.startsWith(`values.${f.id}.`)),
    ),
  );
  const tabs = $derived(
    [...new Set(['', ...type.fields.map((field) => field.tab)])].filter(
      (tab) => tab !== '' || type.fields.some((f) => f.tab === ''),
    ),
  );
  let tab = $state('');
  const current = $derived(tabs.includes(tab) ? tab : (tabs[0] ?? ''));
  const tabProblems = (name: string) =>
    type.fields.filter((f) => f.tab === name && problemsAt(`values.${f.id}`).length).length;
  const conflict = $derived(theirs ? differences(kept, draftOf(theirs, type), draft, type) : []);

  // What is typed is kept on this computer too, for when the page goes before it is saved.
  // svelte-ignore state_referenced_locally
  const place = `plum-thread:record:${record?.id ?? `new-${type.id}`}`;
  onMount(() => {
    const stored = recall(place, Kept);
    if (!stored || sameDraft(stored.draft, stored.kept, type)) return;
    draft = stored.draft;
    // Saved over another version it will be told as a change by two people.
    kept = stored.kept;
    version = stored.version;
    broughtBack = momentWords(stored.when);
  });
  const keepHere = () =>
    remember(place, { draft: $state.snapshot(draft), kept, version, when: new Date().toISOString() });
  $effect(() => {
    // Read here, so that every change begins the wait anew.
    const now = changed && $state.snapshot(draft);
    const timer = setTimeout(() => (now ? keepHere() : forgetRemembered(place)), 300);
    return () => clearTimeout(timer);
  });

  function throwAway() {
    forgetRemembered(place);
    broughtBack = '';
    draft = draftOf(record, type);
    kept = draftOf(record, type);
    version = record?.version;
    problems = [];
  }

  function takeIn(saved: ContentRecord) {
    version = saved.version;
    draft = draftOf(saved, type);
    kept = draftOf(saved, type);
    theirs = undefined;
    broughtBack = '';
    forgetRemembered(place);
  }

  async function save(event?: SubmitEvent) {
    event?.preventDefault();
    if (saving) return;
    failed = note = '';
    problems = [];
    saving = true;
    try {
      const changes = changesOf(kept, draft, type);
      const saved = record
        ? await api('PATCH /records/{recordId}', {
            recordId: record.id,
            body: {
              ...changes,
              ...(record.generated ? { generated: false } : {}),
              version,
            },
          })
        : await api('POST /records', {
            body: {
              typeId: type.id,
              ...changes,
              values: Object.fromEntries(
                Object.entries(draft.values).filter(([, value]) => value !== null && value !== undefined),
              ),
            },
          });
      takeIn(saved);
      note = 'Saved';
      if (!record) await goto(`/studio/content/${type.id}/${saved.id}`);
    } catch (error) {
      const refused = error as RequestFailed;
      problems = refused.problems ?? [];
      failed = refused.message;
      if (refused.status === 409 && refused.more?.record) {
        theirs = refused.more.record as ContentRecord;
        looking = true;
      }
      const first = type.fields.find((f) => problemsAt(`values.${f.id}`).length);
      if (first && !OWN.some((at) => problemsAt(at).length)) tab = first.tab;
    }
    saving = false;
  }

  async function merge(mine: ReadonlySet<string>) {
    if (!theirs) return;
    const base = draftOf(theirs, type);
    draft = merged(base, conflict, mine);
    kept = base;
    version = theirs.version;
    theirs = undefined;
    looking = false;
    if (!changed) note = 'Nothing of yours was left to save.';
    else await save();
  }

  async function remove() {
    if (!record) return;
    try {
      const { removal } = await api('DELETE /records/{recordId}', { recordId: record.id });
      forgetRemembered(place);
      kept = $state.snapshot(draft) as Draft;
      offerUndo(removal, `“${record.title}” is deleted, with every link to it.`);
      await goto(`/studio/content/${type.id}`);
    } catch (error) {
      failed = (error as Error).message;
    }
  }

  beforeNavigate((navigation) => {
    if (!changed) return;
    // Nothing is lost by leaving: it is brought back when this record is opened again on this computer.
    if (navigation.willUnload) return;
    keepHere();
  });

  function keys(event: KeyboardEvent) {
    if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === 's') {
      event.preventDefault();
      void save();
    }
  }
</script>

<!-- What was typed a moment before the page goes is kept as well. -->
<svelte:window onkeydown={keys} onpagehide={() => changed && keepHere()} />

{#snippet wrong(at: string)}
  {@const found = problemsAt(at)}
  {#each found.slice(0, 4) as one, i (i)}
    {@const rows = /^values\.[^.]+\.(\d+)/.exec(one.at)}
    <p id={i === 0 ? `wrong-${at}` : undefined} class="mt-1 text-madder">
      {rows ? `Row ${Number(rows[1]) + 1}: ` : ''}{one.what}
      {one.fix ?? ''}
    </p>
  {/each}
{/snippet}

<form class="flex min-h-0 grow flex-col" onsubmit={save} novalidate>
  {#if broughtBack}
    <p class="flex items-center gap-3 bg-ochre px-8 py-1.5">
      What you typed here on {broughtBack} and did not save is back.
      <button type="button" class="underline underline-offset-2" onclick={throwAway}>Throw it away</button>
    </p>
  {/if}
  {#if theirs && looking}<Conflict
      list={conflict}
      {type}
      model={index}
      onmerge={merge}
      onlook={() => (looking = false)}
    />{/if}
  <div class="min-h-0 grow overflow-y-auto">
    <div class="mx-auto grid max-w-5xl grid-cols-[minmax(0,1fr)_16rem] gap-8 px-8 py-5">
      <div class="flex flex-col gap-4">
        <label class="block">
          <span class="dye-label">Title</span>
          <input
            class="mt-0.5 w-full font-display text-xl"
            readonly={!editable}
            bind:value={draft.title}
            aria-invalid={problemsAt('title').length > 0}
          />
          {@render wrong('title')}
        </label>
        {#if tabs.length > 1}
          <div role="tablist" aria-label="Parts of the form" class="flex gap-1 border-b border-hairline">
            {#each tabs as name (name)}
              <button
                type="button"
                role="tab"
                aria-selected={name === current}
                class="-mb-px border-b-2 px-3 py-1.5 {name === current
                  ? 'border-plum font-medium'
                  : 'border-transparent text-faded hover:text-ink'}"
                onclick={() => (tab = name)}
                >{name || 'Main'}{#if tabProblems(name)}<span
                    class="ml-1.5 rounded-sm bg-madder px-1 text-xs text-paper">{tabProblems(name)}</span
                  >{/if}</button
              >
            {/each}
          </div>
        {/if}
        <LookOnly allowed={editable}
          ><div class="grid grid-cols-2 gap-x-6 gap-y-4">
            {#each type.fields as field (field.id)}
              {@const at = `values.${field.id}`}
              {@const bad = problemsAt(at).length > 0}
              <div
                class="min-w-0 {field.tab === current ? '' : 'hidden'} {widthOf(field) === 'half' ? '' : 'col-span-2'}"
              >
                <label class="dye-label mb-0.5 block" for={field.id}
                  >{field.label}{field.required ? ' (required)' : ''}</label
                >
                <ValueInput
                  {field}
                  id={field.id}
                  value={draft.values[field.id]}
                  invalid={bad}
                  describedby={bad ? `wrong-${at}` : field.help ? `help-${field.id}` : undefined}
                  onchange={(value) => {
                    const { [field.id]: _, ...rest } = draft.values;
                    draft.values = value === null || value === undefined ? rest : { ...rest, [field.id]: value };
                  }}
                />
                {#if field.help}<p id="help-{field.id}" class="mt-0.5 text-xs text-faded">{field.help}</p>{/if}
                {@render wrong(at)}
              </div>
            {/each}
          </div></LookOnly
        >
      </div>
      <RecordAside
        {model}
        {type}
        {record}
        {editable}
        {sharing}
        {addressed}
        bind:draft
        {problemsAt}
        {wrong}
        onremove={remove}
      />
    </div>
  </div>
  <div class="flex h-12 shrink-0 items-center gap-3 border-t border-hairline bg-paper px-8">
    {#if editable}<Button tone="main" type="submit" disabled={saving || (!changed && Boolean(record))}>Save</Button>
    {:else}<span class="text-faded">You look at this; your account does not change it.</span>{/if}
    <span role="status" class={failed ? 'text-madder' : changed ? 'text-faded' : 'text-moss'}
      >{failed || (saving ? 'Saving' : changed ? 'Not saved yet' : note)}</span
    >
    {#if theirs && !looking}<Button onclick={() => (looking = true)}>Show what is different</Button>{/if}
    {#each loose as problem, i (i)}<span class="text-madder">{problem.what}</span>{/each}
    {#if onSite}<a class="ml-auto text-plum underline" href={onSite} target="_blank">On the site</a
      >{:else if record?.status === 'published'}<span class="ml-auto text-faded"
        >Visitors see it once {type.plural} are released</span
      >{/if}
  </div>
</form>
