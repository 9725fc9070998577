<script lang="ts">
  import { X } from '@lucide/svelte';
  import { ORDERED, type LoopSettings, type LoopSource } from '$lib/core/loops/loop';
  import { reachable } from '$lib/core/paths/reach';
  import type { Path, ValueType } from '$lib/core/paths/path';
  import type { Group } from '$lib/core/rules/rule';
  import type { Element } from '$lib/core/templates/template';
  import PathPicker from './PathPicker.svelte';
  import RuleEditor from './RuleEditor.svelte';
  import type { Workbench } from './workbench.svelte';

  let { wb, element }: { wb: Workbench; element: Element } = $props();

  const settings = $derived(element.props as Partial<LoopSettings>);
  const source: LoopSource = $derived(settings.source ?? { from: 'archive' });
  const made = $derived(wb.compiledOf(element.id));
  const list = $derived.by(() => {
    if (!made?.loop) return undefined;
    const env = wb.envAt(made.scopes);
    return env.pool.list(made.loop, env);
  });
  const keys = $derived(
    made
      ? (reachable(made.inside, wb.index)[0]?.entries ?? []).filter(
          (e) =>
            !e.type.many &&
            ORDERED.has(e.type.kind.family) &&
            e.path.steps[0] !== '@position' &&
            e.path.steps[0] !== '@results',
        )
      : [],
  );
  const problems = $derived(wb.looseEnds.filter((end) => end.elementId === element.id && end.via === 'repeats'));
  const partly = $derived(made?.loop?.scope.typeIds.find((id) => wb.partial[id]));

  const set = (name: string, value: unknown, label: string) =>
    wb.edit(`${label} of ${wb.nameOf(element.id)}`, { do: 'put', id: element.id, at: ['props', name], value });
  const setSource = (value: LoopSource) => set('source', value, 'Set the source');
  const notRecords = (type: ValueType) => (type.kind.family === 'relation' ? undefined : 'This holds no records.');
  const order = $derived(settings.order ?? []);
  const number = (text: string) => (text === '' ? undefined : Math.max(0, Math.round(Number(text))));
  const filter: Group = $derived(settings.filter ?? { group: 'all', rules: [] });

  function pickRelation(path: Path) {
    setSource({ from: 'relation', path });
  }
</script>

<div class="flex flex-col gap-2 px-3 py-2">
  <div class="flex flex-wrap items-center gap-2">
    <span class="w-20 shrink-0 font-medium">Goes over</span>
    <select
      aria-label="Source"
      value={source.from}
      onchange={(e) => {
        const from = e.currentTarget.value;
        if (from === 'archive') setSource({ from: 'archive' });
        if (from === 'query') setSource({ from: 'query', typeIds: [made?.loop?.scope.typeIds[0] ?? wb.typeId] });
        if (from === 'relation') {
          const relation = reachable(made?.scopes ?? wb.scopes, wb.index)
            .flatMap((g) => g.entries)
            .find((entry) => entry.opens);
          if (relation) pickRelation(relation.path);
        }
      }}
    >
      {#if wb.scopes.archiveTypeId}<option value="archive">the archive’s own list</option>{/if}
      <option value="query">all records of a type</option>
      <option value="relation">the records of a relation</option>
    </select>
    {#if source.from === 'query'}
      <select
        aria-label="Content type"
        value={source.typeIds[0]}
        onchange={(e) => setSource({ from: 'query', typeIds: [e.currentTarget.value] })}
      >
        {#each wb.model.types as type (type.id)}<option value={type.id}>{type.plural}</option>{/each}
      </select>
    {:else if source.from === 'relation'}
      <PathPicker
        {wb}
        scopes={made?.scopes ?? wb.scopes}
        path={source.path}
        label="Relation"
        refuse={notRecords}
        onpick={pickRelation}
      />
    {/if}
    {#if list}
      <span class="text-faded">
        {list.total === 0 ? 'Yields nothing here' : `Yields ${list.total}`}{list.records.length
          ? `: ${list.records
              .slice(0, 3)
              .map((r) => r.title)
              .join(', ')}${list.total > 3 ? ' …' : ''}`
          : ''}
      </span>
    {/if}
  </div>
  {#each problems as problem, i (i)}<p class="rounded-sm bg-ochre px-2 py-1">
      {problem.what}
      {problem.fix ?? ''}
    </p>{/each}
  {#if partly}<p class="rounded-sm bg-ochre px-2 py-1">
      The canvas goes over the first 2,000 of {wb.partial[partly]}
      {wb.index.type(partly)?.plural.toLowerCase()}; the site goes over all of them.
    </p>{/if}
  <div class="flex items-start gap-2">
    <span class="mt-1 w-20 shrink-0 font-medium">Only where</span>
    {#if made}<RuleEditor
        {wb}
        scopes={made.inside}
        rule={filter}
        onchange={(next) => set('filter', next.rules.length ? next : undefined, 'Changed the filter')}
      />{/if}
  </div>
  <div class="flex flex-wrap items-center gap-2">
    <span class="w-20 shrink-0 font-medium">Ordered by</span>
    {#each order as key, i (i)}
      <span class="flex items-center gap-1 rounded-sm border border-hairline bg-linen pl-2">
        {keys.find((entry) => entry.path.steps[0] === key.steps[0])?.label ?? 'a deleted field'}
        <button
          type="button"
          class="px-1 font-mono"
          aria-label="Turn the order round"
          title={key.down ? 'Largest first' : 'Smallest first'}
          onclick={() => set('order', order.with(i, { ...key, down: !key.down }), 'Turned the order')}
          >{key.down ? '↓' : '↑'}</button
        >
        <button
          type="button"
          class="p-1 text-faded"
          aria-label="Take this order away"
          onclick={() => set('order', order.toSpliced(i, 1), 'Changed the order')}><X size={12} /></button
        >
      </span>
    {/each}
    <select
      aria-label="Order by"
      value=""
      onchange={(e) => {
        set('order', [...order, { steps: [e.currentTarget.value], down: false }], 'Changed the order');
        e.currentTarget.value = '';
      }}
    >
      <option value="">{order.length ? 'then by …' : 'Choose'}</option>
      {#each keys as entry (entry.path.steps[0])}<option value={entry.path.steps[0]}>{entry.label}</option>{/each}
    </select>
  </div>
  <div class="flex flex-wrap items-center gap-x-4 gap-y-2">
    <label class="flex items-center gap-2"
      ><span class="font-medium">Leave out the first</span><input
        type="number"
        min="0"
        class="w-18"
        value={settings.skip || ''}
        placeholder="0"
        oninput={(e) => set('skip', number(e.currentTarget.value) ?? 0, 'Changed what is left out')}
      /></label
    >
    <label class="flex items-center gap-2"
      ><span class="font-medium">At most</span><input
        type="number"
        min="1"
        class="w-18"
        value={settings.limit ?? ''}
        placeholder="all"
        oninput={(e) => set('limit', number(e.currentTarget.value) || undefined, 'Changed the limit')}
      /></label
    >
    {#if source.from === 'archive'}
      <label class="flex items-center gap-2"
        ><span class="font-medium">On a page</span><input
          type="number"
          min="1"
          class="w-18"
          value={settings.perPage ?? ''}
          placeholder="all"
          oninput={(e) => set('perPage', number(e.currentTarget.value) || undefined, 'Changed the page')}
        /></label
      >
    {/if}
  </div>
</div>
