<script lang="ts">
  import { untrack } from 'svelte';
  import { indexModel } from '$lib/core/model/model';
  import type { Model } from '$lib/core/schema/model';
  import type { Problem } from '$lib/core/base/result';
  import { TARGETS_FOR } from '$lib/core/serving/targets';
  import { blankTree } from '$lib/core/templates/build';
  import type { Purpose } from '$lib/core/schema/template';
  import type { Target } from '$lib/core/schema/target';
  import { failureWords } from '$lib/studio/base/request';
  import { api } from '$lib/studio/base/api';
  import { Workbench } from '$lib/studio/workbench/state/workbench.svelte';
  import TargetRow from './TargetRow.svelte';
  import { freshTarget, TARGET_WORDS } from './words';

  let {
    model,
    purpose,
    serves = $bindable(),
    except = $bindable(),
    templateId,
    onpreview,
  }: {
    model: Model;
    purpose: Purpose;
    serves: Target[];
    except: Target[];
    templateId?: string;
    onpreview?: (preview: Preview | undefined) => void;
  } = $props();

  interface Preview {
    words: string;
    answers: string;
    pages: number;
    some: { address: string; title: string }[];
    changes: { address: string; title: string; from?: string; to?: string }[];
    changed: number;
    problems: Problem[];
  }

  const index = $derived(indexModel(model));
  let wb: Workbench | undefined = $state.raw();
  let preview: Preview | undefined = $state.raw();
  let failed = $state('');

  /** Rules are written beside the values of records, which are fetched when the first one is. */
  async function fetchRecords() {
    try {
      const data = await api('GET /workbench/site');
      const own = {
        id: 'targets',
        name: 'Targets',
        purpose: 'record' as const,
        order: 0,
        version: 1,
        tree: blankTree(),
      };
      const [first] = data.model.types;
      wb = new Workbench({
        ...data,
        parts: [],
        templates: [],
        template: { ...own, serves: first ? [{ on: 'type', typeId: first.id }] : [] },
      });
    } catch (error) {
      failed = failureWords(error);
    }
  }
  const rules = $derived([...serves, ...except].some((target) => target.on === 'rule'));
  $effect(() => {
    if (rules && !untrack(() => wb)) void fetchRecords();
  });

  let asked = 0;
  $effect(() => {
    const wanted = JSON.stringify({ ...(templateId && { id: templateId }), purpose, serves, except });
    const own = ++asked;
    const timer = setTimeout(() => {
      api('POST /serving/preview', { body: JSON.parse(wanted) })
        .then((found) => {
          if (own !== asked) return;
          preview = found;
          failed = '';
          onpreview?.(found);
        })
        .catch((error: unknown) => {
          if (own === asked) failed = failureWords(error);
        });
    }, 250);
    return () => clearTimeout(timer);
  });

  const wrongAt = (at: string) => preview?.problems.find((p) => p.at === at || p.at.startsWith(`${at}.`));
  const inWords = (p: Problem | undefined) => p && [p.what, p.fix].filter(Boolean).join(' ');
  const kinds = $derived(TARGETS_FOR[purpose].filter((on) => freshTarget(on, index)));
  const typeId = $derived([...serves].map((one) => ('typeId' in one ? one.typeId : undefined)).find(Boolean));
</script>

{#snippet list(name: 'serves' | 'except', targets: Target[], put: (next: Target[]) => void, add: string)}
  <div class="flex flex-col gap-1.5">
    {#each targets as target, i (i)}
      <TargetRow
        {target}
        {purpose}
        {index}
        {wb}
        wrong={inWords(wrongAt(`${name}.${i}`))}
        onchange={(next) => put(targets.map((one, at) => (at === i ? next : one)))}
        onremove={() => put(targets.filter((_, at) => at !== i))}
      />
    {/each}
    <select
      aria-label={add}
      class="self-start"
      value=""
      onchange={(e) => {
        const fresh = freshTarget(e.currentTarget.value as Target['on'], index, typeId);
        e.currentTarget.value = '';
        if (fresh) put([...targets, fresh]);
      }}
    >
      <option value="">{add} …</option>
      {#each kinds.filter((on) => name === 'serves' || on !== 'everything') as on (on)}<option value={on}
          >{TARGET_WORDS[on].replace(/:$/, '')}{['type', 'rule', 'records'].includes(on)
            ? ' of a type'
            : on === 'term'
              ? ' a term or below'
              : on === 'author'
                ? ' an author'
                : on === 'taxonomy'
                  ? ' a taxonomy'
                  : ''}</option
        >{/each}
    </select>
  </div>
{/snippet}

<div class="grid grid-cols-[minmax(0,1.2fr)_minmax(0,1fr)] gap-6">
  <div class="flex flex-col gap-3">
    <section aria-label="Serves">
      <h3 class="dye-label mb-1">Serves</h3>
      {@render list('serves', serves, (next) => (serves = next), serves.length ? 'And also' : 'Choose what')}
    </section>
    <section aria-label="Leaves out">
      <h3 class="dye-label mb-1">But not</h3>
      {@render list('except', except, (next) => (except = next), 'Leave out')}
    </section>
  </div>
  <section aria-label="What this comes to" aria-live="polite" class="min-w-0 border-l border-hairline pl-5">
    {#if failed}<p role="alert" class="text-madder">{failed}</p>{/if}
    {#if preview}
      <p class="font-display text-lg">{preview.words}.</p>
      {#if purpose === 'frame'}
        <p class="mt-2 text-faded">A frame that names pages goes before one that stands around every page.</p>
      {:else}
        <p class="mt-2">
          Answers <b>{preview.answers}</b> of the site.
        </p>
        {#if preview.changed}
          <p class="mt-3">
            {preview.changed}
            {preview.changed === 1 ? 'page is' : 'pages are'} answered differently than now:
          </p>
          <ul class="mt-1 max-h-52 overflow-y-auto">
            {#each preview.changes as change (change.address)}
              <li class="border-t border-hairline py-1">
                <span class="block truncate">{change.title}</span>
                <span class="text-xs text-faded"
                  >{change.from ?? 'drawn plainly'} → <b class="text-ink">{change.to ?? 'drawn plainly'}</b></span
                >
              </li>
            {/each}
          </ul>
          {#if preview.changed > preview.changes.length}<p class="text-faded">
              and {preview.changed - preview.changes.length} more
            </p>{/if}
        {:else if preview.pages}
          <details class="mt-3">
            <summary>Which</summary>
            <ul class="mt-1 max-h-52 overflow-y-auto">
              {#each preview.some as page (page.address)}
                <li class="flex gap-2 border-t border-hairline py-0.5">
                  <span class="truncate">{page.title}</span><span class="ml-auto shrink-0 font-mono text-xs text-faded"
                    >{page.address}</span
                  >
                </li>
              {/each}
            </ul>
          </details>
        {/if}
      {/if}
    {:else if !failed}<p class="text-faded">Counting …</p>{/if}
  </section>
</div>
