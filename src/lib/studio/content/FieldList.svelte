<script lang="ts">
  import { fieldsIn } from '$lib/core/model/settings';
  import { counted } from '$lib/core/base/counted';
  import Self from './FieldList.svelte';
  import Sign from '$lib/ui/Sign.svelte';
  import { ChevronDown, ChevronRight, X } from '@lucide/svelte';
  import { dequal } from 'dequal/lite';
  import { untrack, tick } from 'svelte';
  import { SvelteSet } from 'svelte/reactivity';
  import { newId } from '$lib/core/base/ids';
  import { kindNamed } from '$lib/core/model/kinds';
  import type { Field } from '$lib/core/model/model';
  import Button from '$lib/ui/Button.svelte';
  import Grip from '$lib/ui/carry/Grip.svelte';
  import { ListOrder, moved } from '$lib/ui/carry/list-order.svelte';
  import FieldEditor from './FieldEditor.svelte';
  import type { FieldListProps } from './field-list';

  let {
    fields,
    saved,
    model,
    typeId,
    at,
    problems,
    others,
    tabs,
    fill,
    counting = false,
    inRows = false,
    onchange,
    onremove,
  }: FieldListProps = $props();

  // svelte-ignore state_referenced_locally
  let items: Field[] = $state(fields);
  const open = new SvelteSet<string>();
  const order = new ListOrder(
    () => items.length,
    (from, gap) => (items = moved(items, from, gap)),
  );
  $effect(() => {
    const given = fields;
    untrack(() => {
      // What was saved may have come back otherwise.
      if (!dequal($state.snapshot(given), $state.snapshot(items))) items = given;
    });
  });
  // A problem opens the field it is of.
  $effect(() => {
    for (const problem of problems) {
      const i = problem.at.startsWith(`${at}.`) ? Number(problem.at.slice(at.length + 1).split('.')[0]) : NaN;
      const field = untrack(() => items[i]);
      if (field) open.add(field.id);
    }
  });
  // Settings are changed in place; whoever holds the list is told of each change.
  $effect(() => {
    const now = $state.snapshot(items) as Field[];
    untrack(() => onchange(now));
  });

  function add() {
    const field: Field = {
      id: newId('f'),
      key: '',
      label: '',
      kind: 'text',
      help: '',
      required: false,
      unique: false,
      tab: items.at(-1)?.tab ?? '',
      settings: {},
    };
    items.push(field);
    open.add(field.id);
    void tick().then(() => document.querySelector<HTMLElement>(`[data-field="${field.id}"] input`)?.focus());
  }
  function remove(field: Field) {
    if (onremove && saved.some((f) => f.id === field.id)) onremove(field);
    else items = items.filter((f) => f.id !== field.id);
  }
</script>

{#snippet list(inner: FieldListProps)}<Self {...inner} />{/snippet}

<ol class="flex flex-col gap-1.5" {@attach order.list}>
  {#each items as field, i (field.id)}
    {@const kind = kindNamed(field.kind)}
    {@const shut = !open.has(field.id)}
    {@const filled = fill?.fields[field.id]}
    <li
      class="gap-mark border border-hairline bg-paper {order.isMoving(i) ? 'opacity-50' : ''}"
      data-gap={order.sideOf(i)}
      data-field={field.id}
    >
      <div class="flex items-center gap-1 pr-1">
        <Grip label="Move {field.label || `field ${i + 1}`}" hold={order.grip(() => i)} />
        <button
          type="button"
          class="flex min-w-0 grow items-center gap-2 py-1.5 text-left"
          aria-expanded={!shut}
          onclick={() => (shut ? open.add(field.id) : open.delete(field.id))}
        >
          {#if shut}<ChevronRight size={14} class="shrink-0 text-faded" />{:else}<ChevronDown
              size={14}
              class="shrink-0 text-faded"
            />{/if}
          <Sign sign={kind?.sign} class="text-faded" />
          <span class="truncate font-medium">{field.label || 'A new field'}</span>
          <span class="shrink-0 text-faded"
            >{kind?.label}{kind?.family.leads === 'entry' ? ` of ${fieldsIn(field.settings).length}` : ''}</span
          >
          {#if field.required}<span class="shrink-0 rounded-sm bg-linen-deep px-1 text-xs">required</span>{/if}
          {#if field.unique}<span class="shrink-0 rounded-sm bg-linen-deep px-1 text-xs">unique</span>{/if}
          {#if field.tab}<span class="shrink-0 text-xs text-faded">in {field.tab}</span>{/if}
        </button>
        {#if counting}<span class="w-52 shrink-0"></span>
        {:else if fill && fill.total > 0}
          <span
            class="flex w-52 shrink-0 items-center gap-2 text-xs text-faded"
            title="{(filled ?? 0).toLocaleString('en')} of {counted(fill.total, 'record')} {filled === 1
              ? 'has'
              : 'have'} a value"
          >
            <span class="h-2 grow rounded-sm bg-linen-deep" aria-hidden="true"
              ><span
                class="block h-2 rounded-sm {filled ? 'bg-moss' : ''}"
                style="width:{((filled ?? 0) / fill.total) * 100}%"
              ></span></span
            >
            <span class="min-w-16 text-right whitespace-nowrap tabular-nums"
              >{(filled ?? 0).toLocaleString('en')} of {fill.total.toLocaleString('en')}</span
            >
          </span>
        {/if}
        <button
          type="button"
          class="p-1.5 text-faded hover:text-madder"
          aria-label="Take {field.label || `field ${i + 1}`} away"
          onclick={() => remove(field)}><X size={15} /></button
        >
      </div>
      {#if !shut}
        <div class="border-t border-hairline {inRows ? '' : 'bg-linen/40'}">
          <FieldEditor
            field={items[i] as Field}
            saved={saved.find((f) => f.id === field.id)}
            {model}
            {typeId}
            number={i + 1}
            at="{at}.{i}"
            {problems}
            {others}
            {tabs}
            {inRows}
            {list}
          />
        </div>
      {/if}
    </li>
  {/each}
</ol>
<Button class="mt-2" onclick={add}>{inRows ? 'Add a sub-field' : 'Add a field'}</Button>
