<script lang="ts">
  import { optionsIn } from '$lib/core/model/settings';
  import type { InputProps } from './input';

  let { field, settings, value, id, describedby, onchange }: InputProps = $props();

  const options = $derived(optionsIn(settings));
  const chosen = $derived(Array.isArray(value) ? (value as string[]) : []);

  /** What it has that is no longer offered stands beside, to be taken away. */
  const gone = $derived(
    ((settings.gone ?? []) as { key: string; label: string }[]).filter(({ key }) => chosen.includes(key)),
  );
  const all = $derived([...options, ...gone]);

  function set(key: string, on: boolean) {
    const next = all.map((o) => o.key).filter((k) => (k === key ? on : chosen.includes(k)));
    onchange(next.length ? next : null);
  }
</script>

<div
  {id}
  role="group"
  aria-label={field.label}
  aria-describedby={describedby}
  class="flex flex-wrap gap-x-4 gap-y-1 py-0.5"
>
  {#each all as option (option.key)}
    <label class="flex items-center gap-1.5"
      ><input
        type="checkbox"
        checked={chosen.includes(option.key)}
        onchange={(e) => set(option.key, e.currentTarget.checked)}
      />{option.label}{gone.includes(option) ? ' (no longer an option)' : ''}</label
    >
  {/each}
</div>
