<script lang="ts">
  import { kindOf } from '$lib/core/model/field';
  import { terms } from '$lib/core/model/kinds/terms';
  import { ChevronDown } from '@lucide/svelte';
  import type { LoopSource } from '$lib/core/schema/loop';
  import { fieldsOf } from '$lib/core/paths/items';
  import type { CompiledElement } from '$lib/core/render/compile';
  import type { Path } from '$lib/core/schema/path';
  import type { ValueType } from '$lib/core/paths/scopes';
  import { plainField } from '$lib/core/model/field';
  import { asWords } from '$lib/core/rules/explain';
  import RecordsInput from '../../values/RecordsInput.svelte';
  import PathPicker from './PathPicker.svelte';
  import type { Workbench } from '../state/workbench.svelte';

  let {
    wb,
    made,
    source,
    onchange,
  }: { wb: Workbench; made: CompiledElement; source: LoopSource; onchange: (source: LoopSource) => void } = $props();

  const WORDS: Record<LoopSource['from'], string> = {
    archive: 'the archive’s own list',
    query: 'all records of a type',
    relation: 'the records of a relation',
    values: 'rows, pictures, choices or terms of a field',
    chosen: 'records picked one by one',
    terms: 'terms of a taxonomy',
  };
  const offered = $derived(
    (Object.keys(WORDS) as LoopSource['from'][]).filter(
      (from) => (from !== 'archive' || wb.scopes.archive) && (from !== 'terms' || wb.model.taxonomies.length > 0),
    ),
  );
  const notRecords = (type: ValueType) => (type.kind.family.leads === 'record' ? undefined : 'This holds no records.');
  const notValues = (type: ValueType) => (fieldsOf(type) ? undefined : 'This holds nothing to repeat over.');
  const notTerms = (type: ValueType) => (type.kind === terms ? undefined : 'These are no terms.');

  /** The kind of source is asked first; which field, type or taxonomy it is begins with one that works. */
  let pending: 'relation' | 'values' | undefined = $state();
  function choose(from: LoopSource['from']) {
    pending = undefined;
    if (from === 'archive') onchange({ from });
    if (from === 'query')
      onchange({ from, typeIds: [made.loop?.scope.typeIds[0] ?? (wb.typeId || wb.model.types[0]!.id)] });
    if (from === 'chosen') onchange({ from, ids: [], typeIds: [made.loop?.scope.typeIds[0] ?? wb.model.types[0]!.id] });
    if (from === 'terms') onchange({ from, taxonomyId: wb.model.taxonomies[0]!.id, which: 'top' });
    if (from === 'relation' || from === 'values') pending = from;
  }
  const shown = $derived(pending ?? source.from);

  const toggled = (list: string[], id: string) =>
    list.includes(id) ? list.filter((one) => one !== id) : [...list, id];
  const choosing = (typeIds: string[]) =>
    plainField('chosen', 'Records', 'relation', { relationId: 'chosen', side: 'a', many: true, typeIds });

  /** What it comes to for the record on screen: how many candidates, what each test removed, how many are left. */
  const list = $derived.by(() => {
    if (!made.loop) return undefined;
    const env = wb.preview.envAt(made.scopes);
    return { ...env.pool.list(made.loop, env), env };
  });
  function nameOf(item: unknown): string {
    const { fields } = made.loop!.scope;
    if (!fields) return (item as { title: string }).title;
    const row = item as Record<string, unknown>;
    const first = fields.find((field) => row[field.id] !== undefined);
    const known = first && kindOf(first);
    const type = known && { ...known, label: first.label, typeIds: [] };
    return type && list ? asWords(row[first.id], type, list.env) : '…';
  }
</script>

<div class="flex flex-wrap items-center gap-2">
  <span class="w-20 shrink-0 font-medium">Goes over</span>
  <select aria-label="Source" value={shown} onchange={(e) => choose(e.currentTarget.value as LoopSource['from'])}>
    {#each offered as from (from)}<option value={from}>{WORDS[from]}</option>{/each}
  </select>
  {#if shown === 'query' && source.from === 'query'}
    <!-- svelte-ignore a11y_no_noninteractive_element_interactions -->
    <details
      class="relative"
      onkeydown={(event) => {
        if (event.key !== 'Escape' || !event.currentTarget.open) return;
        event.currentTarget.open = false;
        event.stopPropagation();
        event.currentTarget.querySelector<HTMLElement>('summary')?.focus();
      }}
    >
      <summary
        class="flex h-7 max-w-64 cursor-pointer items-center gap-1.5 truncate rounded-sm border border-hairline bg-paper px-2"
        aria-label="Content types"
        >{source.typeIds.map((id) => wb.index.type(id)?.plural ?? 'a deleted type').join(', ')}<ChevronDown
          size={13}
          class="shrink-0 text-faded"
        /></summary
      >
      <div class="absolute z-40 mt-1 flex w-56 flex-col gap-1 rounded-md border border-hairline bg-paper p-2">
        {#each wb.model.types as type (type.id)}
          <label class="flex items-center gap-2"
            ><input
              type="checkbox"
              checked={source.typeIds.includes(type.id)}
              disabled={source.typeIds.length === 1 && source.typeIds[0] === type.id}
              onchange={() => onchange({ from: 'query', typeIds: toggled(source.typeIds, type.id) })}
            />{type.plural}</label
          >
        {/each}
      </div>
    </details>
  {:else if shown === 'relation' || shown === 'values'}
    <PathPicker
      {wb}
      scopes={made.scopes}
      path={!pending && (source.from === 'relation' || source.from === 'values') ? source.path : undefined}
      label={shown === 'relation' ? 'Relation' : 'Field to repeat over'}
      refuse={shown === 'relation' ? notRecords : notValues}
      onpick={(path: Path) => {
        onchange({ from: shown, path });
        pending = undefined;
      }}
    />
  {:else if source.from === 'chosen'}
    <select
      aria-label="Content type"
      value={source.typeIds[0]}
      onchange={(e) => onchange({ from: 'chosen', ids: [], typeIds: [e.currentTarget.value] })}
    >
      {#each wb.model.types as type (type.id)}<option value={type.id}>{type.plural}</option>{/each}
    </select>
  {:else if source.from === 'terms'}
    <select
      aria-label="Taxonomy"
      value={source.taxonomyId}
      onchange={(e) => onchange({ ...source, taxonomyId: e.currentTarget.value })}
    >
      {#each wb.model.taxonomies as taxonomy (taxonomy.id)}<option value={taxonomy.id}>{taxonomy.name}</option>{/each}
    </select>
    <select
      aria-label="Which terms"
      value={source.which}
      onchange={(e) => onchange({ ...source, which: e.currentTarget.value as 'all' | 'top' | 'below' })}
    >
      <option value="top">at the top</option><option value="all">all of them</option>
      <option value="below">right below those at</option>
    </select>
    {#if source.which === 'below'}
      <PathPicker
        {wb}
        scopes={made.scopes}
        path={source.path}
        label="Terms that they lie below"
        refuse={notTerms}
        onpick={(path) => onchange({ ...source, path })}
      />
    {/if}
  {/if}
  {#if list && !pending}
    <span class="min-w-0 truncate text-faded" data-yields>
      {list.total === 0 ? 'Yields nothing here' : `Yields ${list.total.toLocaleString('en')}`}{list.items.length
        ? `: ${list.items.slice(0, 3).map(nameOf).join(', ')}${list.total > 3 ? ' …' : ''}`
        : ''}
    </span>
  {:else if pending}<span class="text-faded">Choose the field.</span>{/if}
</div>
{#if source.from === 'chosen' && !pending}
  <div class="pl-22">
    <RecordsInput
      field={choosing(source.typeIds)}
      settings={{ typeIds: source.typeIds, many: true }}
      value={source.ids}
      id="chosen-records"
      invalid={false}
      onchange={(ids) => onchange({ ...source, ids: (ids as number[] | null) ?? [] })}
    />
  </div>
{/if}
