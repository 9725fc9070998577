<script lang="ts">
  import { X } from '@lucide/svelte';
  import { noFacet, searchedFields } from '$lib/core/loops/visitors';
  import type { VisitorSettings } from '$lib/core/schema/loop';
  import { compilePath } from '$lib/core/paths/compile';
  import { pathWords } from '$lib/core/paths/built-ins';
  import type { Path } from '$lib/core/schema/path';
  import type { Scopes, ValueType } from '$lib/core/paths/scopes';
  import { pieceFrom } from '$lib/core/templates/build';
  import { parentOf } from '$lib/core/templates/tree';
  import type { Element } from '$lib/core/schema/element';
  import PathPicker from './PathPicker.svelte';
  import type { Workbench } from '../state/workbench.svelte';

  let { wb, element, scopes }: { wb: Workbench; element: Element; scopes: Scopes } = $props();

  const own = $derived(`loop:${element.id}`);
  const now: VisitorSettings = $derived({
    search: [],
    facets: [],
    sorts: [],
    ...(element.props.visitors as Partial<VisitorSettings> | undefined),
  });
  const searchable = $derived([
    { id: '@title', label: 'Title' },
    ...searchedFields(scopes.loops[0]?.typeIds ?? [], wb.index).map(({ id, label }) => ({ id, label })),
  ]);
  const placed = $derived(
    wb.selection.rows.some(
      ({ element: { kind, props } }) => kind === 'filters' && (!props.loop || props.loop === element.id),
    ),
  );
  const any = $derived(now.search.length + now.facets.length + now.sorts.length > 0);

  /** Where visitors choose comes along with the first thing that they may choose. */
  function change(next: VisitorSettings, label: string) {
    const nothing = !(next.search.length || next.facets.length || next.sorts.length);
    const place = parentOf(wb.tree, element.id);
    const piece = pieceFrom({ kind: 'filters', props: { flow: 'row' } });
    wb.edit(
      `${label} of ${wb.nameOf(element.id)}`,
      { do: 'put', id: element.id, at: ['props', 'visitors'], value: nothing ? undefined : next },
      ...(any || placed || nothing || !place
        ? []
        : [{ do: 'insert' as const, parent: place.parent.id, index: place.index, piece }]),
    );
  }

  const words = (step: string) => pathWords({ from: own, steps: [step] }, wb.index);
  const one = (path: Path, type: ValueType, wrong: string | undefined) =>
    path.steps.length > 1 ? `Visitors choose by values of the ${wb.nameOf(element.id).toLowerCase()} itself.` : wrong;
  const typeOf = (path: Path) => {
    const made = compilePath(path, scopes, wb.index);
    return made.ok ? made.value.type : undefined;
  };
  const noSort = (type: ValueType) => (type.kind.family.order && !type.many ? undefined : 'This has no order.');
  let wrong = $state('');
  function addFacet(path: Path) {
    const type = typeOf(path);
    wrong = (type && one(path, type, noFacet(type))) ?? '';
    if (!wrong) change({ ...now, facets: [...now.facets, { step: path.steps[0]!, label: '' }] }, 'Let visitors filter');
  }
  function addSort(path: Path) {
    const type = typeOf(path);
    wrong = (type && one(path, type, noSort(type))) ?? '';
    if (!wrong)
      change(
        { ...now, sorts: [...now.sorts, { step: path.steps[0]!, label: '', down: false }] },
        'Let visitors choose an order',
      );
  }
</script>

<!-- One thing that visitors choose: its words, which way an order goes, and how to be rid of it. -->
{#snippet chip(
  what: 'filter' | 'order',
  one: { step: string; label: string },
  rename: (label: string) => void,
  remove: () => void,
  order?: { down: boolean; turn: () => void },
)}
  <span class="flex items-center gap-1 rounded-sm border border-hairline bg-linen pl-1">
    <input
      class="h-6! w-28 border-0! bg-transparent!"
      aria-label="Words for the {what} by {words(one.step)}"
      value={one.label}
      placeholder={words(one.step)}
      oninput={(e) => rename(e.currentTarget.value)}
    />
    {#if order}
      <button
        type="button"
        class="px-1 font-mono"
        aria-label="Turn this order round"
        title={order.down ? 'Largest first' : 'Smallest first'}
        onclick={order.turn}>{order.down ? '↓' : '↑'}</button
      >
    {/if}
    <button
      type="button"
      class="p-1 text-faded"
      aria-label="Do not offer the {what} by {words(one.step)}"
      onclick={remove}><X size={12} /></button
    >
  </span>
{/snippet}

<fieldset class="flex flex-col gap-2 px-3 py-2">
  <legend class="sr-only">What visitors choose</legend>
  <p class="text-faded">
    What visitors of the page may choose of this list; it stands in the address, and works without a script.
  </p>
  <div class="flex flex-wrap items-center gap-2">
    <span class="w-24 shrink-0 font-medium">Filter by</span>
    {#each now.facets as facet, i (facet.step)}
      {@render chip(
        'filter',
        facet,
        (label) => change({ ...now, facets: now.facets.with(i, { ...facet, label }) }, 'Changed the filters'),
        () => change({ ...now, facets: now.facets.toSpliced(i, 1) }, 'Changed the filters'),
      )}
    {/each}
    <PathPicker
      {wb}
      {scopes}
      only={own}
      label="Let visitors filter by"
      empty={now.facets.length ? 'and by …' : 'nothing'}
      refuse={noFacet}
      onpick={addFacet}
    />
  </div>
  <div class="flex flex-wrap items-center gap-2">
    <span class="w-24 shrink-0 font-medium">Order by</span>
    {#each now.sorts as sort, i (`${sort.step} ${i}`)}
      {@render chip(
        'order',
        sort,
        (label) => change({ ...now, sorts: now.sorts.with(i, { ...sort, label }) }, 'Changed the orders'),
        () => change({ ...now, sorts: now.sorts.toSpliced(i, 1) }, 'Changed the orders'),
        {
          down: sort.down,
          turn: () => change({ ...now, sorts: now.sorts.with(i, { ...sort, down: !sort.down }) }, 'Turned an order'),
        },
      )}
    {/each}
    <PathPicker
      {wb}
      {scopes}
      only={own}
      label="Let visitors choose the order by"
      empty={now.sorts.length ? 'or by …' : 'nothing'}
      refuse={noSort}
      onpick={addSort}
    />
  </div>
  <div class="flex flex-wrap items-center gap-x-3 gap-y-1">
    <span class="w-24 shrink-0 font-medium">Search in</span>
    {#each searchable as field (field.id)}
      <label class="flex items-center gap-1.5"
        ><input
          type="checkbox"
          checked={now.search.includes(field.id)}
          onchange={(e) =>
            change(
              {
                ...now,
                search: e.currentTarget.checked
                  ? [...now.search, field.id]
                  : now.search.filter((id) => id !== field.id),
              },
              'Changed what visitors search in',
            )}
        />{field.label}</label
      >
    {/each}
  </div>
  {#if any && !placed}<p class="rounded-sm bg-ochre px-2 py-1">
      Nothing on the page lets them: place <em>Filters for visitors</em> from the palette.
    </p>{/if}
  {#if wrong}<p role="alert" class="text-madder">{wrong}</p>{/if}
</fieldset>
