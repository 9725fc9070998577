<script lang="ts">
  import { ToggleGroup } from 'bits-ui';
  import type { StyleValue } from '$lib/core/schema/style';
  import type { Theme } from '$lib/core/schema/theme';
  import type { StyleProperty } from '$lib/core/styles/property';
  import { tokenValue } from '$lib/core/theme/theme';
  import Choices from '../settings/Choices.svelte';
  import { DRAWN, lengthWords } from './drawn';
  import ShadowFields from './ShadowFields.svelte';

  let {
    property,
    theme,
    value,
    note = '',
    set,
  }: {
    property: StyleProperty;
    theme: Theme;
    /** What holds, wherever it was said. */
    value: StyleValue | undefined;
    /** What is to be known of the choice, such as how well text reads. */
    note?: string;
    set: (value: StyleValue | undefined) => void;
  } = $props();

  const { control } = $derived(property);
  const text = $derived(value === undefined ? '' : String(value));
  const tokens = $derived(
    control.as === 'token'
      ? theme[control.of].map((token) => ({
          key: token.key,
          name: token.name,
          css: tokenValue(control.of, token.value),
        }))
      : [],
  );
  const at = $derived(tokens.findIndex(({ key }) => key === text));
  /** A scale that is gone along; colours, typefaces and shadows are chosen by their looks. */
  const scale = $derived(control.as === 'token' && !['colour', 'font', 'shadow'].includes(control.of));
  const options = $derived(control.as === 'pick' ? control.options : control.as === 'length' ? control.steps : []);
  const drawings = $derived(DRAWN[property.name]);
  const lengthShown = $derived(
    scale ? (at >= 0 ? tokens[at]!.css : text) : options.some((option) => option.value === text) ? '' : text,
  );
  const words = $derived(
    note ||
      (scale && at >= 0 ? tokens[at]!.name : '') ||
      (lengthShown && !(scale && at >= 0) ? lengthWords(lengthShown, property.name) : ''),
  );
  /** A figure without a unit is one of pixels. */
  const read = (typed: string) => (/^-?\d*\.?\d+$/.test(typed) && Number(typed) !== 0 ? `${typed}px` : typed);
  const PLACES = [
    'top-start',
    'top',
    'top-end',
    'start',
    'centre',
    'end',
    'bottom-start',
    'bottom',
    'bottom-end',
  ] as const;
  const label = $derived(property.label);
</script>

{#snippet border(width: string)}
  {#if width === '0'}None{:else}<span class="block w-4 border-current" style="border-top-width:{width}"></span>{/if}
{/snippet}
{#snippet field()}
  <input
    class="h-6! min-h-0! w-16 shrink-0 px-1! text-xs"
    aria-label="{label}, length"
    placeholder={value === undefined ? 'not set' : 'own'}
    value={lengthShown}
    onchange={(e) => set(read(e.currentTarget.value.trim()) || undefined)}
  />
{/snippet}

<div class="min-w-0 grow">
  {#if control.as === 'token' && control.of === 'colour'}
    <ToggleGroup.Root
      type="single"
      value={text}
      onValueChange={(next) => set(next || undefined)}
      aria-label={label}
      class="flex flex-wrap gap-0.5"
    >
      {#each tokens as token (token.key)}
        <ToggleGroup.Item
          value={token.key}
          aria-label={token.name}
          title={token.name}
          class="size-5 rounded-full border border-faded/40 outline-offset-1 data-[state=on]:outline-2 data-[state=on]:outline-plum"
          style="background:{token.css}"
        />
      {/each}
    </ToggleGroup.Root>
  {:else if control.as === 'token' && control.of === 'font'}
    <ToggleGroup.Root
      type="single"
      value={text}
      onValueChange={(next) => set(next || undefined)}
      aria-label={label}
      class="flex flex-wrap gap-1"
    >
      {#each tokens as token (token.key)}
        <ToggleGroup.Item value={token.key} class="choice" style="font-family:{token.css}"
          >{token.name}</ToggleGroup.Item
        >
      {/each}
    </ToggleGroup.Root>
  {:else if control.as === 'token' && control.of === 'shadow'}
    <ToggleGroup.Root
      type="single"
      value={at >= 0 ? text : ''}
      onValueChange={(next) => set(next || undefined)}
      aria-label={label}
      class="flex flex-wrap gap-1.5"
    >
      {#each tokens as token (token.key)}
        <ToggleGroup.Item value={token.key} aria-label={token.name} title={token.name} class="choice"
          ><span class="block size-4 rounded-sm border border-hairline bg-paper" style="box-shadow:{token.css}"
          ></span></ToggleGroup.Item
        >
      {/each}
    </ToggleGroup.Root>
    <ShadowFields {label} value={at >= 0 ? '' : text} begin={tokens[at]?.css ?? ''} {set} />
  {:else if scale}
    <div class="flex items-center gap-1.5">
      <input
        type="range"
        class="min-w-0 grow accent-plum {value === undefined ? 'opacity-35' : ''}"
        aria-label={label}
        min="0"
        max={tokens.length - 1}
        step="1"
        value={Math.max(0, at)}
        aria-valuetext={at >= 0 ? tokens[at]!.name : text || 'Not set'}
        oninput={(e) => set(tokens[e.currentTarget.valueAsNumber]?.key)}
      />
      {#if control.as === 'token' && control.own}{@render field()}{/if}
    </div>
  {:else if control.as === 'number'}
    <div class="flex items-center gap-1.5">
      <input
        type="range"
        class="min-w-0 grow accent-plum {value === undefined ? 'opacity-35' : ''}"
        aria-label={label}
        min={control.min}
        max={control.max}
        step={control.step ?? 1}
        value={value ?? control.min}
        aria-valuetext={value === undefined ? 'Not set' : text}
        oninput={(e) => set(e.currentTarget.valueAsNumber)}
      />
      <span class="w-10 shrink-0 text-right text-xs tabular-nums">{value ?? ''}</span>
    </div>
  {:else if property.name === 'place'}
    <ToggleGroup.Root
      type="single"
      value={text}
      onValueChange={(next) => set(next || undefined)}
      aria-label={label}
      class="flex items-center gap-2"
    >
      <span class="grid grid-cols-3 gap-0.5 rounded-sm border border-hairline p-0.5">
        {#each PLACES as place (place)}
          {@const option = options.find((one) => one.value === place)!}
          <ToggleGroup.Item
            value={place}
            aria-label={option.label}
            title={option.label}
            class="flex size-6 items-center justify-center rounded-[2px] hover:bg-linen-deep data-[state=on]:bg-plum data-[state=on]:text-paper"
            ><span class="block size-1.5 rounded-full bg-current"></span></ToggleGroup.Item
          >
        {/each}
      </span>
      <ToggleGroup.Item value="none" class="choice"
        >{options.find((one) => one.value === 'none')?.label}</ToggleGroup.Item
      >
    </ToggleGroup.Root>
  {:else}
    <div class="flex items-start gap-1.5">
      {#if options.length}
        <Choices
          {label}
          {options}
          {drawings}
          toggles
          value={value === undefined ? undefined : text}
          {set}
          drawn={property.name === 'border' ? border : undefined}
        />
      {/if}
      {#if control.as === 'length'}{@render field()}{/if}
    </div>
  {/if}
  {#if words}<p class="text-xs leading-tight text-faded" data-words={property.name}>{words}</p>{/if}
</div>
