<script lang="ts">
  import { X } from '@lucide/svelte';
  import { formatNamed } from '$lib/core/formats';
  import type { FormatUse } from '$lib/core/templates/binding';

  let { use, onchange }: { use: FormatUse; onchange: (next: FormatUse | undefined) => void } = $props();

  const format = $derived(formatNamed(use.format));
  /** The options in force, with the format's own where none are set; as written where they do not hold together. */
  const options = $derived.by((): Record<string, unknown> => {
    const parsed = format?.options.safeParse(use.options);
    return parsed?.success ? (parsed.data as Record<string, unknown>) : use.options;
  });
  const set = (name: string, value: string | number | boolean) =>
    onchange({ ...use, options: { ...(options as FormatUse['options']), [name]: value } });
</script>

{#if format}
  <div class="flex flex-wrap items-center gap-2 pl-30">
    <span class="rounded-sm bg-linen px-2 py-0.5 font-medium">{format.label}</span>
    {#each format.controls.filter((control) => !control.when || options[control.when.name] === control.when.is) as control (control.name)}
      <label class="flex items-center gap-1.5">
        <span class="dye-label">{control.label}</span>
        {#if control.as === 'pick'}
          <select value={options[control.name]} onchange={(e) => set(control.name, e.currentTarget.value)}>
            {#each control.options ?? [] as option (option.value)}<option value={option.value}>{option.label}</option
              >{/each}
          </select>
        {:else if control.as === 'switch'}
          <input
            type="checkbox"
            checked={Boolean(options[control.name])}
            onchange={(e) => set(control.name, e.currentTarget.checked)}
          />
        {:else if control.as === 'number'}
          <input
            type="number"
            class="w-16"
            value={options[control.name]}
            oninput={(e) => e.currentTarget.value !== '' && set(control.name, Number(e.currentTarget.value))}
          />
        {:else}
          <input
            class="w-36 font-mono"
            value={options[control.name]}
            oninput={(e) => set(control.name, e.currentTarget.value)}
          />
        {/if}
      </label>
    {/each}
    <button
      type="button"
      aria-label="Take the format {format.label} away"
      class="rounded-sm p-1 text-faded hover:bg-linen"
      onclick={() => onchange(undefined)}><X size={13} /></button
    >
  </div>
{/if}
