<script lang="ts">
  import { Copy, Trash2 } from '@lucide/svelte';
  import { Tabs } from 'bits-ui';
  import { elementNamed } from '$lib/core/elements';
  import { ruleWords } from '$lib/core/rules/explain';
  import type { Group } from '$lib/core/rules/rule';
  import LoopEditor from './LoopEditor.svelte';
  import RuleEditor from './RuleEditor.svelte';
  import SlotEditor from './SlotEditor.svelte';
  import type { Workbench } from './workbench.svelte';

  let { wb }: { wb: Workbench } = $props();

  const element = $derived(wb.element(wb.selected) ?? wb.element(wb.tree.root)!);
  const kind = $derived(elementNamed(element.kind));
  const isRoot = $derived(element.id === wb.tree.root);
  const scopes = $derived(wb.compiledOf(element.id)?.scopes ?? wb.scopes);
  const rule: Group = $derived(element.rule ?? { group: 'all', rules: [] });
  const slots = $derived(Object.entries(kind?.slots ?? {}));
  const tabs = $derived([
    ...(kind?.loop ? [{ value: 'repeats', label: 'Repeats' }] : []),
    ...(slots.length ? [{ value: 'values', label: 'Values' }] : []),
    { value: 'looks', label: 'Looks' },
    { value: 'rule', label: `Appears${rule.rules.length ? ' by rule' : ''}` },
  ]);
  let wanted = $state('values');
  const tab = $derived(tabs.some((t) => t.value === wanted) ? wanted : (tabs[0]?.value ?? 'looks'));
  const sentence = $derived.by(() => {
    const made = wb.compiledOf(element.id)?.rule;
    return made ? ruleWords(made, wb.envAt(scopes)) : undefined;
  });
  const fates = $derived(wb.drawing.fates.get(element.id));

  const setProp = (name: string, label: string, value: unknown) =>
    wb.edit(`Set ${label.toLowerCase()} of ${wb.nameOf(element.id)}`, {
      do: 'put',
      id: element.id,
      at: ['props', name],
      value,
    });

  function setRule(next: Group) {
    wb.edit(
      next.rules.length ? `Changed when ${wb.nameOf(element.id)} appears` : `${wb.nameOf(element.id)} appears always`,
      { do: 'put', id: element.id, at: ['rule'], value: next.rules.length ? next : undefined },
    );
  }
</script>

<section
  aria-label="Settings of {wb.nameOf(element.id)}"
  class="flex max-h-64 min-h-28 shrink-0 flex-col border-t border-hairline bg-paper"
>
  <Tabs.Root value={tab} onValueChange={(value) => (wanted = value)} class="flex min-h-0 grow flex-col">
    <div class="flex h-9 shrink-0 items-center gap-3 border-b border-hairline pr-2 pl-3">
      <span class="font-mono text-faded" aria-hidden="true">{kind?.glyph}</span>
      <input
        class="w-40 border-transparent! bg-transparent! px-1! font-semibold hover:border-hairline!"
        aria-label="Name of the element"
        value={element.name ?? ''}
        placeholder={kind?.label}
        onchange={(e) =>
          wb.edit(`Renamed ${wb.nameOf(element.id)}`, {
            do: 'put',
            id: element.id,
            at: ['name'],
            value: e.currentTarget.value.trim() || undefined,
          })}
      />
      <Tabs.List class="flex h-full gap-1">
        {#each tabs as one (one.value)}
          <Tabs.Trigger
            value={one.value}
            class="h-full border-b-2 border-transparent px-2 text-faded data-[state=active]:border-plum data-[state=active]:text-ink"
            >{one.label}</Tabs.Trigger
          >
        {/each}
      </Tabs.List>
      {#if !isRoot}
        <button
          type="button"
          class="ml-auto flex h-7 items-center gap-1 rounded-sm px-2 text-faded hover:bg-linen hover:text-ink"
          onclick={() => wb.duplicate(element.id)}><Copy size={14} />Duplicate</button
        >
        <button
          type="button"
          class="flex h-7 items-center gap-1 rounded-sm px-2 text-faded hover:bg-linen hover:text-ink"
          onclick={() => wb.remove(element.id)}><Trash2 size={14} />Remove</button
        >
      {/if}
    </div>
    <div class="min-h-0 grow overflow-y-auto">
      {#each wb.looseEnds.filter((end) => end.elementId === element.id && end.via === 'level') as end (end.at)}
        <p class="bg-ochre px-3 py-1">{end.what} {end.fix}</p>
      {/each}
      <Tabs.Content value="repeats"
        >{#if kind?.loop}<LoopEditor {wb} {element} />{/if}</Tabs.Content
      >
      <Tabs.Content value="values">
        {#each slots as [name, slot] (`${element.id} ${name}`)}<SlotEditor {wb} {element} {name} {slot} />{/each}
      </Tabs.Content>
      <Tabs.Content value="looks" class="flex flex-wrap gap-x-6 gap-y-3 px-3 py-3">
        {#each kind?.controls ?? [] as control (control.name)}
          <label class="flex flex-col gap-1">
            <span class="dye-label">{control.label}</span>
            {#if control.as === 'pick'}
              <select
                value={element.props[control.name]}
                onchange={(e) =>
                  setProp(
                    control.name,
                    control.label,
                    control.options?.find((o) => String(o.value) === e.currentTarget.value)?.value,
                  )}
              >
                {#each control.options ?? [] as option (option.value)}<option value={option.value}
                    >{option.label}</option
                  >{/each}
              </select>
            {/if}
          </label>
        {/each}
      </Tabs.Content>
      <Tabs.Content value="rule" class="flex flex-col gap-2 px-3 py-2">
        <p>
          {#if sentence}<span class="font-medium">Appears when {sentence}.</span>{:else}Appears always. Add a test, and
            it appears only where that holds.{/if}
          {#if sentence && fates}
            <span
              class="ml-2 rounded-sm px-1.5 py-0.5 {fates.drawn || fates.empty
                ? 'bg-moss/15 text-moss'
                : 'bg-weld/15 text-weld'}"
            >
              {fates.drawn + fates.empty + fates.rule > 1
                ? `Its rule holds in ${fates.drawn + fates.empty} of ${fates.drawn + fates.empty + fates.rule} turns`
                : fates.rule
                  ? 'Hidden here'
                  : 'Appears here'}
            </span>
          {/if}
        </p>
        <RuleEditor {wb} {scopes} {rule} onchange={setRule} />
      </Tabs.Content>
    </div>
  </Tabs.Root>
</section>
