<script lang="ts">
  import type { InputProps } from './input';

  let { field, settings, value, id, describedby, onchange }: InputProps = $props();

  const options = $derived((settings.options ?? []) as { key: string; label: string }[]);
  const chosen = $derived(Array.isArray(value) ? (value as string[]) : []);

  function set(key: string, on: boolean) {
    const next = options.map((o) => o.key).filter((k) => (k === key ? on : chosen.includes(k)));
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
  {#each options as option (option.key)}
    <label class="flex items-center gap-1.5"
      ><input
        type="checkbox"
        checked={chosen.includes(option.key)}
        onchange={(e) => set(option.key, e.currentTarget.checked)}
      />{option.label}</label
    >
  {/each}
</div>
