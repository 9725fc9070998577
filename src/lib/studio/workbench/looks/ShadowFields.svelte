<script lang="ts">
  import type { StyleValue } from '$lib/core/schema/style';

  let {
    label,
    value,
    begin,
    set,
  }: {
    label: string;
    /** A shadow of its own, as it is kept; '' while there is none. */
    value: string;
    /** What one begins from. */
    begin: string;
    set: (value: StyleValue | undefined) => void;
  } = $props();

  const PARTS = ['Sideways', 'Down', 'Blur', 'Spread'] as const;
  const pixels = (length: string) => Number.parseFloat(length) * (length.endsWith('rem') ? 16 : 1) || 0;
  const parts = $derived((value || begin).split(' '));
  const colour = $derived(/^#[0-9a-f]{6,8}$/.test(parts[4] ?? '') ? parts[4]! : '#00000040');
  const strength = $derived(Math.round((Number.parseInt(colour.slice(7) || 'ff', 16) / 255) * 100));
  const hex = (percent: number) =>
    Math.round((percent / 100) * 255)
      .toString(16)
      .padStart(2, '0');

  const change = (at: number, next: string) =>
    set([0, 1, 2, 3].map((i) => (i === at ? next : `${pixels(parts[i] ?? '0')}px`)).join(' ') + ` ${colour}`);
  const recolour = (next: string, percent: number) =>
    set([0, 1, 2, 3].map((i) => `${pixels(parts[i] ?? '0')}px`).join(' ') + ` ${next.slice(0, 7)}${hex(percent)}`);
  let open = $state(false);
</script>

{#if value || open}
  <div class="mt-1 flex flex-wrap items-end gap-1">
    {#each PARTS as part, i (part)}
      <label class="flex flex-col text-xs text-faded"
        >{part}<input
          type="number"
          class="h-6! min-h-0! w-12 px-1! text-xs"
          aria-label="{label}, {part.toLowerCase()}, px"
          min={i === 2 ? 0 : undefined}
          value={pixels(parts[i] ?? '0')}
          onchange={(e) =>
            change(i, `${Number.isNaN(e.currentTarget.valueAsNumber) ? 0 : e.currentTarget.valueAsNumber}px`)}
        /></label
      >
    {/each}
    <label class="flex flex-col text-xs text-faded"
      >Colour<input
        type="color"
        class="h-6! min-h-0! w-9 p-0!"
        aria-label="{label}, colour"
        value={colour.slice(0, 7)}
        onchange={(e) => recolour(e.currentTarget.value, strength)}
      /></label
    >
    <label class="flex flex-col text-xs text-faded"
      >Strength, %<input
        type="number"
        class="h-6! min-h-0! w-12 px-1! text-xs"
        aria-label="{label}, strength, %"
        min="0"
        max="100"
        value={strength}
        onchange={(e) => recolour(colour, Math.min(100, Math.max(0, e.currentTarget.valueAsNumber || 0)))}
      /></label
    >
  </div>
{:else}
  <button type="button" class="text-xs text-faded underline hover:text-ink" onclick={() => (open = true)}
    >One of its own</button
  >
{/if}
