<script lang="ts">
  import { fieldsIn, targetsIn } from '$lib/core/model/settings';
  import { counted } from '$lib/core/base/counted';
  import { leadsOf } from '$lib/core/model/field';
  import { partsFor, patternOf } from '$lib/core/addresses/patterns';
  import { indexModel, type Field } from '$lib/core/model/model';
  import StructuredEditor from './StructuredEditor.svelte';
  import { goto, invalidateAll } from '$app/navigation';
  import { newId } from '$lib/core/base/ids';
  import type { ContentType, Model } from '$lib/core/schema/model';
  import type { Problem } from '$lib/core/base/result';
  import { keyOf, slugOf } from '$lib/core/base/text';
  import { type RequestFailed } from '$lib/studio/base/request';
  import { api } from '$lib/studio/base/api';
  import { offerUndo } from '$lib/studio/base/undo.svelte';
  import Button from '$lib/ui/Button.svelte';
  import Sheet from '$lib/ui/Sheet.svelte';
  import FieldList from './FieldList.svelte';
  import type { OtherSides } from './field-list';
  import { optionsGone, type OptionAnswer, type OptionGoingSeen } from '$lib/core/content/options';
  import OptionsGone from './OptionsGone.svelte';
  import Uses from '../media/Uses.svelte';

  let {
    model,
    type,
    fill,
    start,
    seen = [],
    said = $bindable(''),
  }: {
    model: Model;
    type?: ContentType;
    /** How many records have a value in each field; undefined while they are counted. */
    fill?: { total: number; fields: Record<string, number> };
    start?: ContentType;
    /** Ids of the type and of those of its fields that visitors see. */
    seen?: readonly string[];
    /** What became of the last saving; kept by the screen where the form begins anew with other fields. */
    said?: string;
  } = $props();

  const counting = $derived(Boolean(type) && !fill);
  const copy = (one: ContentType): ContentType => JSON.parse(JSON.stringify(one)) as ContentType;
  // svelte-ignore state_referenced_locally
  let draft: ContentType = $state(
    type
      ? copy(type)
      : start
        ? copy(start)
        : { id: newId('t'), key: '', name: '', plural: '', base: '', fields: [], taxonomyIds: [] },
  );
  let others: OtherSides = $state({});
  let problems: Problem[] = $state([]);
  let going: { field?: Field; uses: { what: string; href?: string }[]; count: number } | undefined = $state();
  let asking = $state(false);
  const stays = $derived(seen.includes(going?.field?.id ?? draft.id) ? ' Visitors see it until the next release.' : '');
  const at = (place: string) => problems.find((p) => p.at === place || p.at.startsWith(`${place}.`));
  let pagesOpen = $state(false);
  // What is wrong in there is not hidden.
  $effect(() => {
    if (at('address') || at('structured')) pagesOpen = true;
  });
  const index = $derived(indexModel(model));
  const shown = $derived({
    ...($state.snapshot(draft) as ContentType),
    base: draft.base || slugOf(draft.plural || (draft.name ? `${draft.name}s` : 'records')) || 'records',
  });
  const tabs = $derived([...new Set(draft.fields.map((field) => field.tab).filter(Boolean))]);

  const withKeys = (fields: Field[]): Field[] => {
    const taken = new Set(fields.map((field) => field.key).filter(Boolean));
    return fields.map((field, i) => {
      let key = field.key || keyOf(field.label, `field_${i + 1}`);
      if (!field.key) while (taken.has(key)) key = `${key}_2`;
      taken.add(key);
      const sub =
        leadsOf(field) === 'entry'
          ? { settings: { ...field.settings, fields: withKeys(fieldsIn(field.settings)) } }
          : {};
      return { ...field, key, ...sub };
    });
  };

  /** The types on the far side of relations that were given a name there, each with the field for it. */
  function farTypes(own: ContentType): ContentType[] {
    const far = new Map<string, ContentType>();
    for (const field of own.fields) {
      const named = others[field.id];
      if (leadsOf(field) !== 'record' || !named?.label.trim()) continue;
      for (const id of targetsIn(field.settings)) {
        const target = id === own.id ? own : (far.get(id) ?? model.types.find((t) => t.id === id));
        if (!target) continue;
        const side: Field = {
          id: newId('f'),
          key: '',
          label: named.label.trim(),
          kind: field.kind,
          help: '',
          required: false,
          unique: false,
          tab: '',
          settings: {
            relationId: field.settings.relationId,
            side: field.settings.side === 'a' ? 'b' : 'a',
            many: named.many,
            typeIds: [own.id],
          },
        };
        const next = { ...target, fields: withKeys([...target.fields, side]) };
        if (id === own.id) own.fields = next.fields;
        else far.set(id, next);
      }
    }
    return [...far.values()];
  }

  /** Options that would go, until it is said what becomes of them. */
  let optionsGoing: { going: OptionGoingSeen[]; own: ContentType } | undefined = $state.raw();

  async function save(event?: SubmitEvent, becomes?: OptionAnswer[]) {
    event?.preventDefault();
    optionsGoing = undefined;
    said = '';
    problems = [];
    const name = draft.name.trim();
    const plural = draft.plural.trim() || (name && `${name}s`);
    const own: ContentType = {
      ...($state.snapshot(draft) as ContentType),
      name,
      plural,
      key: draft.key || keyOf(name, 'type'),
      base: draft.base || slugOf(plural),
      fields: withKeys($state.snapshot(draft.fields) as Field[]),
    };
    const far = farTypes(own);
    try {
      if (type && !becomes && optionsGone(type, own).length) {
        const going = await api('POST /types/{typeId}/options', { typeId: type.id, body: own });
        if (going.some(({ records, uses }) => records || uses.length)) {
          optionsGoing = { going, own };
          return;
        }
      }
      const { removal, types } = await api('PUT /types', {
        body: {
          types: [own, ...far],
          ...(becomes?.length && { becomes }),
        },
      });
      said = 'Saved';
      others = {};
      draft = copy(types[0] ?? own);
      if (removal) offerUndo(removal, 'Saved, with fields taken away.');
      if (type) await invalidateAll();
      else await goto(`/studio/content/${own.id}/fields`);
    } catch (error) {
      problems = (error as RequestFailed).problems ?? [];
      said = (error as Error).message;
    }
  }

  async function askField(field: Field) {
    try {
      const { uses, values } = await api('GET /types/{typeId}/uses', {
        typeId: type?.id ?? '',
        query: { field: field.id },
      });
      going = { field, uses, count: values ?? 0 };
      asking = true;
    } catch (error) {
      said = (error as Error).message;
    }
  }
  async function askType() {
    try {
      const { uses, records } = await api('GET /types/{typeId}/uses', { typeId: type?.id ?? '' });
      going = { uses, count: records ?? 0 };
      asking = true;
    } catch (error) {
      said = (error as Error).message;
    }
  }
  async function goAhead() {
    const now = going;
    asking = false;
    if (now?.field) {
      draft.fields = draft.fields.filter((field) => field.id !== now.field?.id);
      await save();
    } else if (type) {
      try {
        const { removal } = await api('DELETE /types/{typeId}', { typeId: type.id });
        offerUndo(removal, `${type.name} is deleted, with ${counted(now?.count ?? 0, 'record')}.`);
      } catch (error) {
        said = (error as Error).message;
        return;
      }
      await goto('/studio/content');
    }
  }
</script>

{#snippet wrong(place: string)}
  {@const found = at(place)}
  {#if found}<p class="mt-0.5 text-madder" role="alert">{found.what} {found.fix ?? ''}</p>{/if}
{/snippet}

<form class="flex min-h-0 grow flex-col" onsubmit={save} novalidate>
  <div class="min-h-0 grow overflow-y-auto px-8 py-5">
    <div class="mx-auto max-w-6xl">
      <div class="flex gap-4">
        <label class="grow"
          ><span class="dye-label">One is called</span><input
            class="block w-full"
            placeholder="Hut"
            bind:value={draft.name}
            aria-invalid={Boolean(at('name'))}
          />{@render wrong('name')}</label
        >
        <label class="grow"
          ><span class="dye-label">Many are called</span><input
            class="block w-full"
            placeholder={draft.name ? `${draft.name}s` : 'Huts'}
            bind:value={draft.plural}
            aria-invalid={Boolean(at('plural'))}
          />{@render wrong('plural')}</label
        >
        <label class="grow"
          ><span class="dye-label">Address</span><span class="flex items-center gap-1 font-mono text-xs"
            >/<input
              class="block min-w-0 grow"
              placeholder={slugOf(draft.plural || (draft.name ? `${draft.name}s` : 'huts'))}
              bind:value={draft.base}
              aria-invalid={Boolean(at('base'))}
            />/</span
          >{@render wrong('base')}</label
        >
        <label class="w-32"
          ><span class="dye-label">Key</span><input
            class="block w-full font-mono text-xs"
            placeholder={keyOf(draft.name, 'type')}
            bind:value={draft.key}
            aria-invalid={Boolean(at('key'))}
          />{@render wrong('key')}</label
        >
      </div>
      <label class="mt-3 block"
        ><span class="dye-label">What its archive says of it</span><textarea
          class="block w-full"
          rows="1"
          placeholder="Huts to sleep in, high up and low down."
          bind:value={draft.description}
          aria-invalid={Boolean(at('description'))}
        ></textarea>{@render wrong('description')}</label
      >
      {#if model.taxonomies.length}
        <fieldset class="mt-4 flex items-center gap-4">
          <legend class="dye-label float-left mr-2">Filed under</legend>
          {#each model.taxonomies as taxonomy (taxonomy.id)}
            <label class="flex items-center gap-1.5"
              ><input type="checkbox" value={taxonomy.id} bind:group={draft.taxonomyIds} />{taxonomy.name}</label
            >
          {/each}
        </fieldset>
      {/if}
      <details class="mt-4" bind:open={pagesOpen}>
        <summary
          >Pages of its records: <span class="font-mono text-xs text-faded">{patternOf(shown)}</span
          >{#if draft.structured}<span class="text-faded">, told to programs as {draft.structured.is}</span
            >{/if}</summary
        >
        <div class="mt-2 flex flex-col gap-4 border-l-2 border-hairline pl-4">
          <div>
            <label class="block"
              ><span class="dye-label">Address of each record</span><input
                class="mt-0.5 block w-96 font-mono text-xs"
                placeholder={patternOf({ base: shown.base })}
                value={draft.address ?? ''}
                oninput={(e) => (draft.address = e.currentTarget.value.trim() || undefined)}
                aria-invalid={Boolean(at('address'))}
              /></label
            >
            {@render wrong('address')}
            <p class="mt-1 text-xs text-faded">
              Parts: {#each Object.entries(partsFor(shown, index)) as [name, what], i (name)}{i ? ', ' : ''}<button
                  type="button"
                  class="font-mono underline-offset-2 hover:underline"
                  title="Put it at the end: {what}"
                  onclick={() =>
                    (draft.address = `${(draft.address ?? `/${shown.base}`).replace(/\/$/, '')}/{${name}}`)}
                  >&#123;{name}&#125;</button
                >{/each}. One for which a record has nothing is left out. Former addresses lead on for good.
            </p>
          </div>
          <StructuredEditor {model} type={shown} onchange={(structured) => (draft.structured = structured)} />
          {@render wrong('structured')}
        </div>
      </details>
      <div class="mt-5 mb-2 flex items-baseline gap-3">
        <h2 class="text-xl font-medium">Fields</h2>
        <p class="text-faded">Every record has a title, an address, a status and an author without a field for them.</p>
        {#if counting}<span role="status" class="ml-auto flex items-center gap-2 pr-9 text-faded"
            ><progress class="w-24" aria-label="Counting values"></progress> Values are being counted</span
          >{:else if fill && fill.total > 0}<span class="dye-label ml-auto pr-9">How many have a value</span>{/if}
      </div>
      <FieldList
        fields={draft.fields}
        saved={type?.fields ?? []}
        {model}
        typeId={draft.id}
        at="fields"
        {problems}
        {others}
        {tabs}
        {fill}
        {counting}
        onchange={(fields) => (draft.fields = fields)}
        onremove={type ? askField : undefined}
      />
    </div>
  </div>
  <div class="flex h-12 shrink-0 items-center gap-3 border-t border-hairline bg-paper px-8">
    <Button tone="main" type="submit">Save</Button>
    <span role="status" class={said === 'Saved' ? 'text-moss' : 'text-madder'}>{said}</span>
    {#if type}<button type="button" class="ml-auto text-madder underline underline-offset-2" onclick={askType}
        >Delete this content type</button
      >{/if}
  </div>
</form>

<Sheet
  bind:open={asking}
  title={going?.field ? `Take “${going.field.label}” away?` : `Delete ${type?.plural ?? 'it'}?`}
  about={going?.field
    ? `${counted(going.count, 'record has', 'records have')} a value in it.${stays} It can be brought back.`
    : `${going?.count === 1 ? '1 record goes' : `${counted(going?.count ?? 0, 'record')} go`} with it.${stays} It can be undone.`}
>
  <Uses uses={going?.uses ?? []} />
  <div class="mt-4 flex gap-2">
    <Button tone="main" onclick={goAhead}>{going?.field ? 'Take it away' : 'Delete all of it'}</Button>
    <Button onclick={() => (asking = false)}>Leave it</Button>
  </div>
</Sheet>
{#if optionsGoing}
  <OptionsGone
    going={optionsGoing.going}
    type={optionsGoing.own}
    onclose={() => (optionsGoing = undefined)}
    onanswer={(answers) => void save(undefined, answers)}
  />
{/if}
