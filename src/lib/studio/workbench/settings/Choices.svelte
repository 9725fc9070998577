<script lang="ts" generics="V extends string | number">
  import { ToggleGroup } from 'bits-ui';
  import type { Snippet } from 'svelte';
  import type { Drawing } from '../looks/drawn';

  let {
    label,
    options,
    value,
    drawings = {},
    toggles = false,
    set,
    drawn,
  }: {
    label: string;
    options: { value: V; label: string }[];
    value: V | undefined;
    drawings?: Record<string, Drawing> | undefined;
    /** Whether choosing what is chosen already takes it away. */
    toggles?: boolean;
    set: (value: V | undefined) => void;
    /** Draws an option that no drawing is known of; undefined leaves it to its words. */
    drawn?: Snippet<[V]> | undefined;
  } = $props();

  function choose(next: string) {
    const option = options.find((one) => String(one.value) === next);
    if (option || toggles) set(option?.value);
  }
</script>

<ToggleGroup.Root
  type="single"
  bind:value={() => (value === undefined ? '' : String(value)), choose}
  aria-label={label}
  class="flex min-w-0 flex-wrap gap-0.5"
>
  {#each options as option (option.value)}
    {@const drawing = drawings[String(option.value)]}
    <ToggleGroup.Item
      value={String(option.value)}
      aria-label={option.label}
      title={drawing || drawn ? option.label : undefined}
      class="choice"
      >{#if Array.isArray(drawing)}<svg
          width="20"
          height="14"
          viewBox="0 0 20 14"
          fill="currentColor"
          aria-hidden="true"
          >{#each drawing as [x, y, width, height, corner = 0.5, strength = 1] (`${x} ${y}`)}<rect
              {x}
              {y}
              {width}
              {height}
              rx={corner}
              opacity={strength}
            />{/each}</svg
        >{:else if drawing}{@const Icon = drawing}<Icon size={15} />{:else if drawn}{@render drawn(
          option.value,
        )}{:else}{option.label}{/if}</ToggleGroup.Item
    >
  {/each}
</ToggleGroup.Root>
