<script lang="ts">
  import { unitIn } from '$lib/core/model/settings';
  import type { Operator } from '$lib/core/rules/operators/operator';
  import type { ValueType } from '$lib/core/paths/scopes';
  import type { ModelIndex } from '$lib/core/model/model-index';
  import { plainField } from '$lib/core/model/field';
  import RecordsInput from './RecordsInput.svelte';
  import { readMoment, shownMoment } from '$lib/studio/base/site-clock';

  let {
    model,
    operator,
    type,
    value,
    onchange,
  }: {
    model: ModelIndex;
    operator: Operator;
    type: ValueType;
    value: unknown;
    onchange: (value: unknown) => void;
  } = $props();

  const own = $props.id();
  const operand = $derived(type.kind.family.operand);
  const records = $derived(
    plainField(own, 'Records', 'relation', { relationId: 'chosen', side: 'a', many: true, typeIds: type.typeIds }),
  );
  const list = $derived(Array.isArray(value) ? (value as unknown[]) : []);
  const options = $derived(
    (type.kind.family.answers?.(type.settings, model) ?? []).map(({ key, label, depth }) => ({
      value: key as string | number,
      label: `${'\u2003'.repeat(depth)}${label}`,
    })),
  );
  const unit = $derived(unitIn(type.settings).unit);

  const INPUTS: Partial<Record<typeof operand, string>> = {
    date: 'date',
    time: 'time',
    instant: 'datetime-local',
    number: 'number',
  };
  const read = (text: string): unknown => {
    if (operand === 'instant') return readMoment(text);
    if (text === '') return undefined;
    return type.kind.fromCell && operand !== 'words' ? type.kind.fromCell(text, type.settings) : text;
  };
  const shown = (v: unknown): string => {
    if (operand === 'instant') return shownMoment(v);
    return v === undefined || v === null ? '' : String(v);
  };
  const withPart = (i: number, v: unknown) => onchange([i === 0 ? v : list[0], i === 1 ? v : list[1]]);
</script>

{#snippet line(v: unknown, label: string, set: (v: unknown) => void)}
  <input
    type={INPUTS[operand] ?? 'text'}
    step="any"
    aria-label={label}
    class={operand === 'words' ? 'w-40' : 'w-32'}
    value={shown(v)}
    oninput={(e) => set(read(e.currentTarget.value))}
  />
{/snippet}

{#if operator.operand === 'count' || operator.operand === 'days'}
  <!-- What is counted stays beside the number. -->
  <span class="inline-flex items-center gap-1.5">
    <input
      type="number"
      min="0"
      aria-label={operator.unit ? operator.unit.replace(/^./, (c) => c.toUpperCase()) : 'Number'}
      class="w-20"
      value={typeof value === 'number' ? value : ''}
      oninput={(e) => onchange(e.currentTarget.value === '' ? undefined : Number(e.currentTarget.value))}
    />
    {operator.unit ?? ''}
  </span>
{:else if operator.operand === 'range'}
  {@render line(list[0], 'From', (v) => withPart(0, v))}
  <span>and</span>
  {@render line(list[1], 'To', (v) => withPart(1, v))}
{:else if operator.operand === 'several'}
  {#if operand === 'words'}
    <input
      class="w-56"
      aria-label="Values, parted by commas"
      placeholder="parted by commas"
      value={list.join(', ')}
      onchange={(e) =>
        onchange(
          e.currentTarget.value
            .split(',')
            .map((part) => part.trim())
            .filter(Boolean),
        )}
    />
  {:else if operand === 'records'}
    <RecordsInput
      field={records}
      settings={records.settings}
      value={list}
      id="{own}-records"
      invalid={false}
      onchange={(ids) => onchange(ids ?? [])}
    />
  {:else}
    <span class="flex flex-wrap items-center gap-1">
      {#each list as one (one)}
        <button
          type="button"
          class="rounded-sm border border-hairline bg-linen px-1.5"
          title="Take it away"
          onclick={() => onchange(list.filter((v) => v !== one))}
          >{options.find((o) => o.value === one)?.label.trim() ?? String(one)} ×</button
        >
      {/each}
      <select
        aria-label="Add one"
        value=""
        onchange={(e) => {
          const chosen = options.find((o) => String(o.value) === e.currentTarget.value);
          if (chosen && !list.includes(chosen.value)) onchange([...list, chosen.value]);
          e.currentTarget.value = '';
        }}
      >
        <option value="">{list.length ? 'and …' : 'Choose'}</option>
        {#each options as option (option.value)}<option value={option.value}>{option.label}</option>{/each}
      </select>
    </span>
  {/if}
{:else if operator.operand === 'same'}
  {#if operand === 'answers'}
    <select aria-label="Choice" value={value ?? ''} onchange={(e) => onchange(e.currentTarget.value || undefined)}>
      <option value="">Choose</option>
      {#each options as option (option.value)}<option value={option.value}>{option.label}</option>{/each}
    </select>
  {:else}
    {@render line(value, 'Value', onchange)}
    {#if unit}<span class="text-faded">{unit}</span>{/if}
  {/if}
{/if}
