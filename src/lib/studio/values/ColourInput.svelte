<script lang="ts">
  import type { InputProps } from './input';

  let { field, value, id, invalid, describedby, onchange }: InputProps = $props();

  const words = $derived(typeof value === 'string' ? value : '');
  /** The browser's own chooser takes six digits only. */
  const hex = $derived(/^#[0-9a-f]{6}$/i.test(words) ? words : '#5b2b4c');
</script>

<span class="flex items-center gap-2">
  <span
    class="h-7 w-10 rounded-sm border border-hairline"
    style="background:{words || 'repeating-linear-gradient(45deg,#e9dfce 0 4px,#fffdf8 4px 8px)'}"
    aria-hidden="true"
  ></span>
  <input
    {id}
    class="w-44 font-mono text-xs"
    placeholder="#5b2b4c, or a name"
    aria-invalid={invalid}
    aria-describedby={describedby}
    value={words}
    oninput={(e) => onchange(e.currentTarget.value.trim().toLowerCase() || null)}
  />
  <input
    type="color"
    class="h-7 w-9 p-0.5"
    aria-label="Choose {field.label} by eye"
    value={hex}
    oninput={(e) => onchange(e.currentTarget.value)}
  />
</span>
