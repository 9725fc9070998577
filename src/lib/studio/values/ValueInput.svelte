<script lang="ts">
  import { formerOptionsIn, optionsIn, unitIn } from '$lib/core/model/settings';
  import Self from './ValueInput.svelte';
  import { readMoment, shownMoment } from '$lib/studio/base/site-clock';
  import type { Component } from 'svelte';
  import type { Control } from '$lib/core/model/kinds/kind';
  import { goneWords } from '$lib/core/model/kinds/choice';
  import { kindOf } from '$lib/core/model/model';
  import ChoicesInput from './ChoicesInput.svelte';
  import ColourInput from './ColourInput.svelte';
  import EmbedInput from './EmbedInput.svelte';
  import IconInput from './IconInput.svelte';
  import MediaInput from './MediaInput.svelte';
  import MoneyInput from './MoneyInput.svelte';
  import PlaceInput from './PlaceInput.svelte';
  import RecordsInput from './RecordsInput.svelte';
  import RowsInput from './RowsInput.svelte';
  import type { InputProps, ValueInputProps } from './input';

  let { field, value, id, invalid, describedby, onchange }: ValueInputProps = $props();

  const known = $derived(kindOf(field));
  const control = $derived(known?.kind.control ?? 'line');
  const settings = $derived((known?.settings ?? {}) as Record<string, unknown>);
  const link = $derived((value ?? { url: '' }) as { url: string; label?: string });
  const options = $derived(optionsIn(settings));

  /** Inputs of several parts; the others are single controls, below. */
  const LARGE: Partial<Record<Control, Component<InputProps>>> = {
    choices: ChoicesInput,
    media: MediaInput,
    embed: EmbedInput,
    icon: IconInput,
    colour: ColourInput,
    money: MoneyInput,
    place: PlaceInput,
    records: RecordsInput,
    rows: RowsInput,
  };
  const Large = $derived(LARGE[control]);

  /** What was typed, in the form in which it is kept. */
  const asTyped = (text: string): unknown =>
    text === '' ? null : (known?.kind.fromCell?.(text, known.settings) ?? text);

  const attributes = $derived({ id, 'aria-invalid': invalid, 'aria-describedby': describedby });
</script>

{#snippet input(inner: ValueInputProps)}<Self {...inner} />{/snippet}

{#if control === 'rich'}
  {#await import('./RichInput.svelte')}
    <div class="h-40 rounded-sm border border-hairline bg-paper" aria-busy="true"></div>
  {:then { default: RichInput }}
    <RichInput {field} {settings} {value} {id} {invalid} {describedby} {onchange} {input} />
  {/await}
{:else if Large}
  <Large {field} {settings} {value} {id} {invalid} {describedby} {onchange} {input} />
{:else if control === 'line'}
  <input
    {...attributes}
    type={known?.kind.input ?? 'text'}
    class="w-full {known?.kind.input === 'tel' ? 'max-w-64' : ''}"
    placeholder={known?.kind.example}
    value={value ?? ''}
    oninput={(e) => onchange(e.currentTarget.value || null)}
    onchange={(e) => onchange(asTyped(e.currentTarget.value))}
  />
{:else if control === 'area'}
  <textarea
    {...attributes}
    class="field-sizing-content min-h-20 w-full"
    value={(value as string) ?? ''}
    oninput={(e) => onchange(e.currentTarget.value || null)}
  ></textarea>
{:else if control === 'number'}
  <span class="flex items-center gap-2">
    <input
      {...attributes}
      type="number"
      step="any"
      class="w-full max-w-40"
      value={value ?? ''}
      oninput={(e) => onchange(e.currentTarget.value === '' ? null : Number(e.currentTarget.value))}
    />
    {#if unitIn(settings).unit}<span class="text-faded">{unitIn(settings).unit}</span>{/if}
  </span>
{:else if control === 'yesno'}
  <select
    {...attributes}
    class="max-w-full"
    value={value === undefined || value === null ? '' : String(value)}
    onchange={(e) => onchange(e.currentTarget.value === '' ? null : e.currentTarget.value === 'true')}
  >
    <option value="">Not said</option>
    <option value="true">{settings.yes || 'Yes'}</option>
    <option value="false">{settings.no || 'No'}</option>
  </select>
{:else if control === 'date' || control === 'time'}
  <input {...attributes} type={control} value={value ?? ''} onchange={(e) => onchange(e.currentTarget.value || null)} />
{:else if control === 'datetime'}
  <input
    {...attributes}
    type="datetime-local"
    value={shownMoment(value)}
    onchange={(e) => onchange(readMoment(e.currentTarget.value) ?? null)}
  />
{:else if control === 'choice'}
  <select
    {...attributes}
    class="max-w-full"
    value={value ?? ''}
    onchange={(e) => onchange(e.currentTarget.value || null)}
  >
    <option value="">Not chosen</option>
    {#each options as option (option.key)}<option value={option.key}>{option.label}</option>{/each}
    {#if value && !options.some(({ key }) => key === value)}<option value={value as string}
        >{goneWords(value as string, { options, gone: formerOptionsIn(settings) })}</option
      >{/if}
  </select>
{:else if control === 'link'}
  <span class="flex gap-2">
    <input
      {...attributes}
      class="min-w-0 grow"
      placeholder="https://"
      value={link.url}
      oninput={(e) => onchange(e.currentTarget.value || link.label ? { ...link, url: e.currentTarget.value } : null)}
    />
    <input
      class="w-48 min-w-0 shrink"
      aria-label="Words for {field.label}"
      placeholder="Words, if you like"
      value={link.label ?? ''}
      oninput={(e) => {
        const { label: _, ...rest } = link;
        onchange(e.currentTarget.value ? { ...rest, label: e.currentTarget.value } : rest.url ? rest : null);
      }}
    />
  </span>
{/if}
