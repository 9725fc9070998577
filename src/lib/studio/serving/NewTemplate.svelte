<script lang="ts" module>
  import type { Purpose } from '$lib/core/schema/template';
  import type { Target } from '$lib/core/schema/target';

  /** What a new template may be for at first: a record page or archive that has none, a part, a frame. */
  export interface Start {
    purpose: Purpose;
    target?: Target;
  }
</script>

<script lang="ts">
  import { untrack } from 'svelte';
  import { goto } from '$app/navigation';
  import type { Model } from '$lib/core/schema/model';
  import { taxonomyBase } from '$lib/core/base/reserved';
  import { failureWords } from '$lib/studio/base/request';
  import { api } from '$lib/studio/base/api';
  import Button from '$lib/ui/Button.svelte';
  import Sheet from '$lib/ui/Sheet.svelte';
  import TargetsEditor from '../workbench/serves/TargetsEditor.svelte';

  let {
    model,
    start,
    served,
    onclose,
  }: {
    model: Model;
    start: Start | undefined;
    /** Whether something is answered by a template already, and by which. */
    served: (purpose: Purpose, target: Target) => string | undefined;
    onclose: () => void;
  } = $props();

  interface Choice {
    key: string;
    words: string;
    address?: string;
    purpose: Purpose;
    target?: Target;
    by?: string;
  }
  const key = (purpose: Purpose, target?: Target) => `${purpose} ${JSON.stringify(target ?? null)}`;
  const choices = $derived.by((): Choice[] => {
    const one = (purpose: Purpose, target: Target, words: string, address?: string): Choice => ({
      key: key(purpose, target),
      words,
      address,
      purpose,
      target,
      by: served(purpose, target),
    });
    return [
      ...model.types.map(({ id, name }) =>
        one('record', { on: 'type', typeId: id }, `The page of every ${name.toLowerCase()}`),
      ),
      one('archive', { on: 'front' }, 'The front page', '/'),
      ...model.types.map(({ id, plural, base }) =>
        one('archive', { on: 'type', typeId: id }, `The archive of ${plural.toLowerCase()}`, `/${base}/`),
      ),
      ...model.taxonomies.map((taxonomy) =>
        one(
          'archive',
          { on: 'taxonomy', taxonomyId: taxonomy.id },
          `Each term of ${taxonomy.name}`,
          `/${taxonomyBase(taxonomy.key)}/…/`,
        ),
      ),
      ...model.types.map(({ id, plural, base }) =>
        one('archive', { on: 'dates', typeId: id }, `${plural} by year and month`, `/${base}/2026/…`),
      ),
      one('archive', { on: 'authors' }, 'Each author', '/by/…/'),
      one('archive', { on: 'search' }, 'The search', '/search/'),
      one('archive', { on: 'missing' }, 'Addresses where there is no page'),
    ];
  });

  let chosen = $state('');
  let own = $state(false);
  let purpose: Purpose = $state('record');
  let serves: Target[] = $state([]);
  let except: Target[] = $state([]);
  let ready = $state(true);
  let shows = $state('');
  let name = $state('');
  let wrong = $state('');
  let open = $state(false);

  $effect(() => {
    open = Boolean(start);
    if (!start) return;
    purpose = start.purpose;
    serves = start.target ? [start.target] : [];
    except = [];
    chosen = key(start.purpose, start.target);
    own = start.purpose === 'frame';
    // Without a wish of its own, what is not served yet comes first.
    const first =
      start.target || start.purpose !== 'record'
        ? undefined
        : untrack(() => choices.find((one) => !one.by) ?? choices[0]);
    if (first) choose(first);
    shows = '';
    name = wrong = '';
    ready = true;
  });

  function choose(choice: Choice) {
    chosen = choice.key;
    own = false;
    purpose = choice.purpose;
    serves = choice.target ? [choice.target] : [];
    except = [];
  }
  const picked = $derived(choices.find((one) => one.key === chosen));
  const nameOfType = (typeId: string) => model.types.find((type) => type.id === typeId);
  const suggested = $derived.by(() => {
    if (purpose === 'frame') return 'Frame';
    if (purpose === 'part') return shows ? `${nameOfType(shows)?.name ?? ''} card` : 'Part';
    const [first] = serves;
    if (!first) return '';
    if (first.on === 'type')
      return purpose === 'record'
        ? `${nameOfType(first.typeId)?.name ?? ''} page`
        : `All ${nameOfType(first.typeId)?.plural.toLowerCase() ?? ''}`;
    return picked && !own ? picked.words : 'Special page';
  });
  const page = $derived(purpose === 'record' || purpose === 'archive');

  async function make(event: SubmitEvent) {
    event.preventDefault();
    wrong = '';
    const target: Target[] = purpose === 'part' ? (shows ? [{ on: 'type', typeId: shows }] : []) : serves;
    try {
      const template = await api('POST /templates', {
        body: {
          name: name.trim() || suggested || 'Template',
          purpose,
          ready: ready && page,
          serves: target,
          ...(except.length ? { except } : {}),
        },
      });
      await goto(`/studio/workbench/${template.id}`);
    } catch (error) {
      wrong = failureWords(error);
    }
  }
</script>

{#snippet option(choice: Choice)}
  <label
    class="flex items-baseline gap-2 rounded-sm px-2 py-1 {chosen === choice.key && !own
      ? 'bg-linen-deep'
      : 'hover:bg-linen'}"
  >
    <input
      type="radio"
      name="target"
      checked={chosen === choice.key && !own}
      onchange={() => choose(choice)}
      class="translate-y-0.5"
    />
    <span class="grow"
      >{choice.words}{#if choice.by}<span class="block text-xs text-faded">answered by {choice.by}</span>{/if}</span
    >
    {#if choice.address}<span class="font-mono text-xs text-faded">{choice.address}</span>{/if}
  </label>
{/snippet}

<Sheet bind:open wide title="New template" about="First: which pages should it answer?" {onclose}>
  <form onsubmit={make}>
    <fieldset class="mb-3 flex gap-4">
      <legend class="sr-only">It is</legend>
      {#each [['page', 'Pages of the site'], ['part', 'A part of pages'], ['frame', 'The frame around pages']] as [is, words] (is)}
        <label class="flex items-center gap-2"
          ><input
            type="radio"
            name="kind"
            checked={is === 'page' ? page : purpose === is}
            onchange={() => {
              if (is === 'page') {
                const first = choices.find((one) => !one.by) ?? choices[0];
                if (first) choose(first);
              } else {
                purpose = is as Purpose;
                serves = [];
                own = is === 'frame';
              }
            }}
          />{words}</label
        >
      {/each}
    </fieldset>
    {#if page && !own}
      <div class="grid max-h-[22rem] grid-cols-2 gap-x-6 overflow-y-auto rounded-sm border border-hairline p-2">
        <div>
          <h3 class="dye-label px-2">Not served yet</h3>
          {#each choices.filter((one) => !one.by) as choice (choice.key)}{@render option(choice)}{:else}<p
              class="px-2 text-faded"
            >
              Every page has a template.
            </p>{/each}
        </div>
        <div>
          <h3 class="dye-label px-2">Served already</h3>
          {#each choices.filter((one) => one.by) as choice (choice.key)}{@render option(choice)}{:else}<p
              class="px-2 text-faded"
            >
              Nothing yet.
            </p>{/each}
        </div>
      </div>
      {#if picked?.by}
        <p class="mt-2 rounded-sm bg-ochre px-2 py-1">
          {picked.by} answers these already. The new one stands behind it, unless it names something nearer.
        </p>
      {/if}
      <button type="button" class="mt-2 text-plum underline underline-offset-2" onclick={() => (own = true)}
        >Only for some: by a term, a rule, an author, or chosen records</button
      >
    {:else if own}
      <TargetsEditor {model} {purpose} bind:serves bind:except />
      {#if page}<button
          type="button"
          class="mt-2 text-plum underline underline-offset-2"
          onclick={() => picked && choose(picked)}>Back to the list</button
        >{/if}
    {:else if purpose === 'part'}
      <label class="flex flex-col items-start gap-1"
        ><span class="dye-label">It shows</span>
        <select bind:value={shows}>
          <option value="">no record</option>
          {#each model.types as type (type.id)}<option value={type.id}>a {type.name.toLowerCase()}</option>{/each}
        </select>
      </label>
    {/if}
    <div class="mt-4 flex items-end gap-6">
      <label class="flex grow flex-col gap-1"
        ><span class="dye-label">Name</span><input bind:value={name} placeholder={suggested} /></label
      >
      {#if page}
        <fieldset class="flex gap-4 pb-1">
          <legend class="dye-label mb-1">It begins</legend>
          <label class="flex items-center gap-2"
            ><input type="radio" bind:group={ready} value={true} />with what its fields call for</label
          >
          <label class="flex items-center gap-2"><input type="radio" bind:group={ready} value={false} />blank</label>
        </fieldset>
      {/if}
    </div>
    {#if wrong}<p role="alert" class="mt-2 text-madder">{wrong}</p>{/if}
    <div class="mt-4 flex justify-end gap-2">
      <Button onclick={onclose}>Cancel</Button><Button tone="main" type="submit" disabled={page && !serves.length}
        >Make it</Button
      >
    </div>
  </form>
</Sheet>
