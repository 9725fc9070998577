<script lang="ts">
  import type { Written } from '$lib/core/model/family';
  import { X } from '@lucide/svelte';
  import { formatNamed } from '$lib/core/formats';
  import type { Path } from '$lib/core/schema/path';
  import type { Scopes, ValueType } from '$lib/core/paths/scopes';
  import type { FormatUse } from '$lib/core/schema/binding';
  import PathPicker from './PathPicker.svelte';
  import type { Workbench } from '../state/workbench.svelte';

  let {
    wb,
    scopes,
    use,
    result,
    onchange,
  }: {
    wb: Workbench;
    scopes: Scopes;
    use: FormatUse;
    /** What the value on screen comes to after this format. */
    result: string;
    onchange: (next: FormatUse | undefined) => void;
  } = $props();

  const format = $derived(formatNamed(use.format));
  /** The options in force, with the format's own where none are set; as written where they do not hold together. */
  const options = $derived.by((): Record<string, unknown> => {
    const parsed = format?.options.safeParse(use.options);
    return parsed?.success ? (parsed.data as Record<string, unknown>) : use.options;
  });
  const shown = $derived(
    (format?.controls ?? []).filter(
      ({ when }) => !when || (Array.isArray(when.is) ? when.is : [when.is]).includes(String(options[when.name])),
    ),
  );
  const set = (name: string, value: unknown) =>
    onchange({
      ...use,
      options: { ...(options as FormatUse['options']), [name]: value as FormatUse['options'][string] },
    });
  const refuse = (writes: Written | undefined) => (type: ValueType) =>
    !writes || type.kind.family.formats.includes(writes) ? undefined : 'This is no value of that kind.';
</script>

{#if format}
  <div class="flex flex-wrap items-center gap-2 pl-30">
    <span class="rounded-sm bg-linen px-2 py-0.5 font-medium">{format.label}</span>
    {#each shown as control (control.name)}
      {#if control.as === 'path'}
        <span class="flex items-center gap-1.5">
          <span class="dye-label">{control.label}</span>
          <PathPicker
            {wb}
            {scopes}
            path={options[control.name] as Path | undefined}
            label="{format.label}: {control.label}"
            refuse={refuse(control.writes)}
            onpick={(path) => set(control.name, path)}
          />
        </span>
      {:else}
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
              value={options[control.name] ?? ''}
              oninput={(e) => e.currentTarget.value !== '' && set(control.name, Number(e.currentTarget.value))}
              onchange={(e) => e.currentTarget.value === '' && set(control.name, undefined)}
            />
          {:else}
            <input
              class="w-36"
              value={options[control.name] ?? ''}
              title={control.hint}
              oninput={(e) => set(control.name, e.currentTarget.value || undefined)}
            />
          {/if}
        </label>
      {/if}
    {/each}
    {#each shown as control (control.name)}{#if control.hint}<p class="w-full text-xs text-faded">
          {control.hint}
        </p>{/if}{/each}
    <span class="min-w-0 truncate text-xs text-faded" data-format-result>{result ? `→ ${result}` : ''}</span>
    <button
      type="button"
      aria-label="Take the format {format.label} away"
      class="rounded-sm p-1 text-faded hover:bg-linen"
      onclick={() => onchange(undefined)}><X size={13} /></button
    >
  </div>
{/if}
