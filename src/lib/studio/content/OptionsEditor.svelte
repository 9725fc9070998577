<script lang="ts">
  import { optionsIn } from '$lib/core/model/settings';
  import { X } from '@lucide/svelte';
  import { keyOf } from '$lib/core/base/text';
  import { goneOptions } from '$lib/core/content/options';
  import type { Field } from '$lib/core/model/model';
  import Grip from '$lib/ui/carry/Grip.svelte';
  import { ListOrder, moved } from '$lib/ui/carry/list-order.svelte';

  interface Option {
    key: string;
    label: string;
  }
  let {
    field,
    of,
    onchange,
  }: {
    field: Field;
    /** What the field is called. */
    of: string;
    onchange: (options: Option[]) => void;
  } = $props();

  const options = $derived(optionsIn(field.settings));
  const gone = $derived(goneOptions(field));
  let adding = $state('');
  const order = new ListOrder(
    () => options.length,
    (from, gap) => onchange(moved(options, from, gap)),
  );

  /** Each line is one more option; one of those that are gone comes back as it was. */
  function add() {
    const next = [...options];
    for (const label of adding
      .split('\n')
      .map((line) => line.trim())
      .filter(Boolean)) {
      if (next.some((one) => one.label === label)) continue;
      const taken = new Set([...next, ...gone].map(({ key }) => key));
      const back = gone.find((one) => one.label === label && !next.some(({ key }) => key === one.key));
      const plain = keyOf(label, `option_${next.length + 1}`);
      let key = back?.key ?? plain;
      for (let n = 2; !back && taken.has(key); n++) key = `${plain}_${n}`;
      next.push({ key, label });
    }
    adding = '';
    if (next.length > options.length) onchange(next);
  }
</script>

<div class="col-span-2">
  <span class="dye-label block">Options</span>
  {#if options.length}
    <ol class="mb-1.5 flex flex-col gap-1" aria-label="Options of {of}" {@attach order.list}>
      {#each options as option, i (option.key)}
        <li class="gap-mark flex items-center gap-1 {order.isMoving(i) ? 'opacity-50' : ''}" data-gap={order.sideOf(i)}>
          <Grip label="Move {option.label}" hold={order.grip(() => i)} />
          <input
            class="min-w-0 grow"
            aria-label="Words of option {i + 1} of {of}"
            value={option.label}
            onchange={(e) =>
              onchange(options.with(i, { ...option, label: e.currentTarget.value.trim() || option.label }))}
          />
          <button
            type="button"
            class="size-6 text-faded hover:text-madder"
            aria-label="Take {option.label} away"
            onclick={() => onchange(options.toSpliced(i, 1))}><X size={14} /></button
          >
        </li>
      {/each}
    </ol>
  {/if}
  <textarea
    rows={options.length ? 1 : 4}
    class="block field-sizing-content w-full"
    placeholder={options.length ? 'One more, or several lines' : 'One on each line'}
    aria-label="More options of {of}"
    bind:value={adding}
    onchange={add}
  ></textarea>
  {#if gone.length}<p class="mt-0.5 text-xs text-faded">
      No longer offered, though records may have it: {gone.map(({ label }) => label).join(', ')}.
    </p>{/if}
</div>
