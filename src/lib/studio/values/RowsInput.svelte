<script lang="ts">
  import { countsIn, fieldsIn } from '$lib/core/model/settings';
  import { ChevronDown, ChevronRight, Copy, X } from '@lucide/svelte';
  import { untrack, tick } from 'svelte';
  import { SvelteSet } from 'svelte/reactivity';
  import { kindOf, leadsOf } from '$lib/core/model/field';
  import type { Field } from '$lib/core/schema/field';
  import { widthOf } from './width';
  import Button from '$lib/ui/Button.svelte';
  import Grip from '$lib/ui/carry/Grip.svelte';
  import { ListOrder, moved } from '$lib/ui/carry/list-order.svelte';
  import type { InputProps } from './input';

  type Row = Record<string, unknown>;

  let { field, settings, value, id, describedby, onchange, input }: InputProps = $props();

  const fields = $derived(fieldsIn(settings));
  const most = $derived(countsIn(settings).most);
  let items: { id: string; row: Row }[] = $state([]);
  let next = 0;
  const folded = new SvelteSet<string>();

  const order = new ListOrder(
    () => items.length,
    (from, gap) => {
      items = moved(items, from, gap);
      tell();
    },
  );

  const own = (row: Row) => ({ id: `${id}-${next++}`, row });
  $effect(() => {
    const given = (Array.isArray(value) ? value : []) as Row[];
    untrack(() => {
      if (JSON.stringify(items.map((item) => item.row)) !== JSON.stringify(given)) {
        items = given.map((row, i) => ({ id: items[i]?.id ?? own(row).id, row }));
        // Long lists begin folded, each row told by its words.
        if (given.length > 3 && next <= given.length + 1) for (const item of items) folded.add(item.id);
      }
    });
  });

  function tell() {
    onchange(items.length ? items.map((item) => $state.snapshot(item.row)) : null);
  }
  function set(item: { row: Row }, subId: string, inner: unknown) {
    const { [subId]: _, ...rest } = item.row;
    item.row = inner === null || inner === undefined ? rest : { ...rest, [subId]: inner };
    tell();
  }
  function add(row: Row = {}) {
    const item = own(row);
    items.push(item);
    tell();
    void tick().then(() =>
      document.querySelector<HTMLElement>(`[data-row="${item.id}"] :is(input,select,textarea,button[id])`)?.focus(),
    );
  }

  const isWide = (sub: Field): boolean => widthOf(sub) === 'whole';
  const summary = (row: Row): string =>
    fields
      .flatMap((sub) => {
        const known = kindOf(sub);
        const inner = row[sub.id];
        if (!known || inner === undefined || inner === null) return [];
        if (leadsOf(sub) === 'entry') return [`${(inner as unknown[]).length} × ${sub.label.toLowerCase()}`];
        if (known.kind.pointsAt || typeof inner === 'object') return [];
        return [known.kind.family.answers ? known.kind.text(inner, known.settings, {} as never) : String(inner)];
      })
      .slice(0, 5)
      .join(' · ') || 'Nothing in it yet';
</script>

<div {id} role="group" aria-label={field.label} aria-describedby={describedby} class="border-l-2 border-hairline pl-3">
  <ol class="flex flex-col gap-1.5" {@attach order.list}>
    {#each items as item, i (item.id)}
      {@const shut = folded.has(item.id)}
      <li
        class="gap-mark rounded-sm border border-hairline bg-paper {order.isMoving(i) ? 'opacity-50' : ''}"
        data-gap={order.sideOf(i)}
        data-row={item.id}
      >
        <div class="flex items-center gap-1 px-1 {shut ? '' : 'border-b border-hairline bg-linen/60'}">
          <Grip label="Move {field.label} {i + 1}" hold={order.grip(() => i)} />
          <button
            type="button"
            class="flex min-w-0 grow items-center gap-1.5 py-1 text-left"
            aria-expanded={!shut}
            onclick={() => (shut ? folded.delete(item.id) : folded.add(item.id))}
          >
            {#if shut}<ChevronRight size={14} class="shrink-0 text-faded" />{:else}<ChevronDown
                size={14}
                class="shrink-0 text-faded"
              />{/if}
            <span class="text-faded tabular-nums">{i + 1}</span>
            <span class="truncate {shut ? '' : 'text-faded'}">{summary(item.row)}</span>
          </button>
          <button
            type="button"
            class="p-1 text-faded hover:text-ink"
            aria-label="Copy {field.label} {i + 1}"
            onclick={() => add($state.snapshot(item.row))}><Copy size={13} /></button
          >
          <button
            type="button"
            class="p-1 text-faded hover:text-madder"
            aria-label="Take {field.label} {i + 1} away"
            onclick={() => {
              items = items.filter((other) => other.id !== item.id);
              tell();
            }}><X size={14} /></button
          >
        </div>
        {#if !shut}
          <div class="grid grid-cols-[repeat(auto-fill,minmax(8.5rem,1fr))] gap-x-3 gap-y-2 p-2.5">
            {#each fields as sub (sub.id)}
              <div class="min-w-0 {isWide(sub) ? 'col-span-full' : ''}">
                <label class="dye-label block" for="{item.id}-{sub.id}"
                  >{sub.label}{sub.required ? ' (required)' : ''}</label
                >
                {@render input?.({
                  field: sub,
                  id: `${item.id}-${sub.id}`,
                  value: item.row[sub.id],
                  invalid: false,
                  onchange: (inner) => set(item, sub.id, inner),
                })}
              </div>
            {/each}
          </div>
        {/if}
      </li>
    {/each}
  </ol>
  <div class="mt-1.5 flex items-center gap-3">
    <Button disabled={most !== undefined && items.length >= most} onclick={() => add()}
      >Add {items.length ? 'another' : 'a row'}</Button
    >
    {#if items.length > 1}<button
        type="button"
        class="text-xs text-faded underline underline-offset-2"
        onclick={() => {
          const all = items.every((item) => folded.has(item.id));
          for (const item of items)
            if (all) folded.delete(item.id);
            else folded.add(item.id);
        }}>{items.every((item) => folded.has(item.id)) ? 'Unfold all' : 'Fold all'}</button
      >{/if}
  </div>
</div>
