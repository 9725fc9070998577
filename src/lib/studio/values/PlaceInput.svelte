<script lang="ts">
  import type { InputProps } from './input';

  interface Place {
    lat: number;
    lon: number;
    label?: string;
  }

  let { field, value, id, invalid, describedby, onchange }: InputProps = $props();

  const place = $derived(value as Partial<Place> | null | undefined);
  let half: Partial<Place> = $state({});
  const shown = $derived({ ...half, ...place });

  function set(part: keyof Place, text: string) {
    const next: Partial<Place> = { ...shown };
    if (text === '') delete next[part];
    else if (part === 'label') next.label = text;
    else next[part] = Number(text);
    // A place is whole or none; what is typed of it stays here until it is.
    half = next;
    onchange(next.lat === undefined && next.lon === undefined ? null : next);
  }

  /** Both numbers pasted into one box, as maps give them. */
  function paste(event: ClipboardEvent) {
    const both = /^\s*([+-]?\d+(?:\.\d+)?)\s*[,;]\s*([+-]?\d+(?:\.\d+)?)\s*$/.exec(
      event.clipboardData?.getData('text') ?? '',
    );
    if (!both) return;
    event.preventDefault();
    half = { ...shown, lat: Number(both[1]), lon: Number(both[2]) };
    onchange({ ...half });
  }
</script>

<div class="flex flex-wrap items-end gap-2">
  <label
    ><span class="dye-label block">Latitude</span><input
      {id}
      type="number"
      step="any"
      class="w-32"
      placeholder="57.1200"
      aria-invalid={invalid}
      aria-describedby={describedby}
      value={shown.lat ?? ''}
      oninput={(e) => set('lat', e.currentTarget.value)}
      onpaste={paste}
    /></label
  >
  <label
    ><span class="dye-label block">Longitude</span><input
      type="number"
      step="any"
      class="w-32"
      placeholder="-4.7100"
      value={shown.lon ?? ''}
      oninput={(e) => set('lon', e.currentTarget.value)}
      onpaste={paste}
    /></label
  >
  <label class="grow"
    ><span class="dye-label block">Words for it</span><input
      class="w-full"
      aria-label="Words for {field.label}"
      value={shown.label ?? ''}
      oninput={(e) => set('label', e.currentTarget.value)}
    /></label
  >
</div>
