<script lang="ts">
  import { counted } from '$lib/core/base/counted';
  import { X } from '@lucide/svelte';
  import { tellList } from '$lib/core/loops/evaluate';
  import type { LoopSettings, LoopSource } from '$lib/core/schema/loop';
  import { pathWords } from '$lib/core/paths/built-ins';
  import type { ValueType } from '$lib/core/paths/scopes';
  import { ruleWords } from '$lib/core/rules/explain';
  import type { Take } from '$lib/core/schema/binding';
  import { takeWords } from '$lib/core/templates/bring';
  import { boundTo, pieceFrom } from '$lib/core/templates/build';
  import { takesFor } from '$lib/core/paths/takes';
  import type { Group } from '$lib/core/schema/rule';
  import type { Element } from '$lib/core/schema/element';
  import PathPicker from './PathPicker.svelte';
  import RuleEditor from '../rules/RuleEditor.svelte';
  import SourcePicker from './SourcePicker.svelte';
  import type { Workbench } from '../state/workbench.svelte';

  let { wb, element }: { wb: Workbench; element: Element } = $props();

  const settings = $derived(element.props as Partial<LoopSettings>);
  const source: LoopSource = $derived(settings.source ?? { from: 'archive' });
  const made = $derived(wb.compiledOf(element.id));
  const own = $derived(`loop:${element.id}`);
  /** What the items themselves have, for orders and groups. */
  const ownScopes = $derived({ loops: made?.loop ? [made.loop.scope] : [] });
  const here = $derived(made?.loop ? wb.preview.envAt(made.scopes) : undefined);
  /** As the site tells it, where not all records are here. */
  const told = $derived(made?.loop && here ? wb.lists.story(made.loop, here) : undefined);
  const story = $derived(told ?? (made?.loop && here ? tellList(made.loop, here) : undefined));
  const isRows = $derived(Boolean(made?.loop?.scope.fields));
  const problems = $derived(wb.looseEnds.filter((end) => end.elementId === element.id && end.via === 'repeats'));
  const partly = $derived(made?.loop?.scope.typeIds.find((id) => wb.partial[id]));

  const set = (name: string, value: unknown, label: string) =>
    wb.edit(`${label} of ${wb.nameOf(element.id)}`, { do: 'put', id: element.id, at: ['props', name], value });
  /** Groups want a head: one with the name of the group comes along. */
  function setGroup(value: { steps: string[]; by: string; down: boolean }) {
    const has = element.children.some((id) => wb.element(id)?.kind === 'turn' && wb.element(id)?.props.as === 'group');
    const head = pieceFrom({
      kind: 'turn',
      name: 'Head of the group',
      props: { as: 'group' },
      children: [{ kind: 'heading', props: { level: 2, size: 's' }, slots: { text: boundTo(own, ['@group']) } }],
    });
    wb.edit(
      `Grouped ${wb.nameOf(element.id)}`,
      { do: 'put', id: element.id, at: ['props', 'group'], value },
      ...(has ? [] : [{ do: 'insert' as const, parent: element.id, index: 0, piece: head }]),
    );
  }
  const setSource = (value: LoopSource) => set('source', value, 'Set the source');
  const countTake = (type: ValueType) => takesFor(type).filter((take) => take !== 'listed');
  const noOrder = (type: ValueType) =>
    type.kind.family.order || (type.many && countTake(type).length) ? undefined : 'This has no order.';
  const noGroup = (type: ValueType) => (type.kind.family.groups ? undefined : 'Nothing is grouped by this.');
  const dated = (type: ValueType | undefined) => type?.kind.family.day !== undefined;
  const group = $derived(settings.group);
  const groupType = $derived(made?.loop?.group?.path.type);
  const leaveOut = $derived(settings.leaveOut ?? { current: false, above: false });
  const storyWords = $derived.by(() => {
    if (!story || !made?.loop) return '';
    const { candidates, leftOut, tests, found, total } = story;
    const env = wb.preview.envAt(made.scopes);
    return [
      counted(candidates, 'candidate'),
      ...(leftOut ? [`${leftOut.toLocaleString('en')} left out`] : []),
      ...tests.map(({ rule, removed }) => `${removed.toLocaleString('en')} removed by “${ruleWords(rule, env)}”`),
      ...(tests.length || leftOut ? [`${found.toLocaleString('en')} found`] : []),
      ...(total !== found ? [`${total.toLocaleString('en')} after “leave out the first” and “at most”`] : []),
    ].join(' · ');
  });
  const order = $derived(settings.order ?? []);
  const number = (text: string) => (text === '' ? undefined : Math.max(0, Math.round(Number(text))));
  const filter: Group = $derived(settings.filter ?? { group: 'all', rules: [] });
</script>

<div class="flex flex-col gap-2 px-3 py-2">
  {#if made}<SourcePicker {wb} {made} {source} onchange={setSource} />{/if}
  {#each problems as problem, i (i)}<p class="rounded-sm bg-ochre px-2 py-1">
      {problem.what}
      {problem.fix ?? ''}
    </p>{/each}
  {#if partly && !told}<p class="rounded-sm bg-ochre px-2 py-1">
      {wb.preview.isSupposing ? 'While something is supposed, the' : 'Until the site has answered, the'} canvas goes over
      the first {wb.atHand(partly).toLocaleString('en')} of {wb.partial[partly]?.toLocaleString('en')}
      {wb.index.type(partly)?.plural.toLowerCase()}.
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
        {pathWords({ from: own, steps: key.steps }, wb.index)}{#if made?.loop?.order[i]?.path.type.many}
          <select
            aria-label="Of several, go by"
            class="h-6! border-0!"
            value={key.take ?? 'first'}
            onchange={(e) =>
              set('order', order.with(i, { ...key, take: e.currentTarget.value as Take }), 'Changed the order')}
          >
            {#each countTake(made.loop.order[i]!.path.type) as take (take)}<option value={take}
                >{takeWords(take).toLowerCase()}</option
              >{/each}
          </select>
        {/if}
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
    <PathPicker
      {wb}
      scopes={ownScopes}
      only={own}
      label="Order by"
      empty={order.length ? 'then by …' : 'Choose a value'}
      refuse={noOrder}
      takes={countTake}
      onpick={(path, _type, take) =>
        set('order', [...order, { steps: path.steps, ...(take ? { take } : {}), down: false }], 'Changed the order')}
    />
  </div>
  <div class="flex flex-wrap items-center gap-2">
    <span class="w-20 shrink-0 font-medium">Grouped by</span>
    <PathPicker
      {wb}
      scopes={ownScopes}
      only={own}
      path={group ? { from: own, steps: group.steps } : undefined}
      label="Group by"
      empty="Nothing"
      refuse={noGroup}
      onpick={(path, type) => {
        const grouping = { steps: path.steps, by: dated(type) ? 'month' : 'value', down: false };
        setGroup(grouping);
      }}
    />
    {#if group}
      <select
        aria-label="Each group holds"
        value={group.by}
        onchange={(e) => set('group', { ...group, by: e.currentTarget.value }, 'Changed the groups')}
      >
        <option value="value">the same value</option>
        {#if dated(groupType)}<option value="month">the same month</option><option value="year">the same year</option
          >{:else}<option value="letter">the same first letter</option>{/if}
      </select>
      <button
        type="button"
        class="px-1 font-mono"
        aria-label="Turn the groups round"
        title={group.down ? 'Last first' : 'First first'}
        onclick={() => set('group', { ...group, down: !group.down }, 'Turned the groups')}
        >{group.down ? '↓' : '↑'}</button
      >
      <button
        type="button"
        class="p-1 text-faded"
        aria-label="Do not group"
        onclick={() => set('group', undefined, 'Took the groups away')}><X size={12} /></button
      >
    {/if}
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
    {#if !made?.scopes.loops.length}
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
  {#if !isRows}
    <div class="flex flex-wrap items-center gap-x-4 gap-y-1">
      <span class="w-20 shrink-0 font-medium">Leaves out</span>
      {#each [{ name: 'current' as const, words: 'the record of this page' }, { name: 'above' as const, words: 'what other loops above it show' }] as one (one.name)}
        <label class="flex items-center gap-1.5"
          ><input
            type="checkbox"
            checked={leaveOut[one.name]}
            onchange={(e) =>
              set('leaveOut', { ...leaveOut, [one.name]: e.currentTarget.checked }, 'Changed what is left out')}
          />{one.words}</label
        >
      {/each}
    </div>
  {/if}
  {#if storyWords}<p class="text-xs text-faded" data-story>{storyWords}</p>{/if}
</div>
