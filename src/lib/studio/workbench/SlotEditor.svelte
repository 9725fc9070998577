<script lang="ts">
  import { X } from '@lucide/svelte';
  import type { SlotDefinition } from '$lib/core/elements/element';
  import { formats } from '$lib/core/formats';
  import { compilePath } from '$lib/core/paths/compile';
  import { pathWords } from '$lib/core/paths/built-ins';
  import type { Path, ValueType } from '$lib/core/paths/path';
  import { compileFormats, compileSlot, misfit, startingTake } from '$lib/core/render/slots';
  import type { Binding, Fallback, FormatUse, SlotValue, Take } from '$lib/core/templates/binding';
  import { startBinding } from '$lib/core/templates/bring';
  import { TAKE_LABELS, takesFor, typeAfter } from '$lib/core/templates/takes';
  import type { Element } from '$lib/core/templates/template';
  import { bindSlot } from './drag.svelte';
  import FormatEditor from './FormatEditor.svelte';
  import PathPicker from './PathPicker.svelte';
  import type { Workbench } from './workbench.svelte';

  let { wb, element, name, slot }: { wb: Workbench; element: Element; name: string; slot: SlotDefinition } = $props();

  const value: SlotValue | undefined = $derived(element.slots[name]);
  const binding: Binding | undefined = $derived(value && 'bound' in value ? value.bound : undefined);
  const scopes = $derived(wb.compiledOf(element.id)?.scopes ?? wb.scopes);
  const type: ValueType | undefined = $derived.by(() => {
    const made = binding && compilePath(binding.path, scopes, wb.index);
    return made?.ok ? made.value.type : undefined;
  });
  const problems = $derived(wb.looseEnds.filter((end) => end.elementId === element.id && end.via === name));
  const fitting = $derived(
    type
      ? formats.filter(
          (format) =>
            format.families.includes('text') || format.families.includes(typeAfter(type, binding?.take).kind.family),
        )
      : [],
  );
  const result = $derived.by(() => {
    if (!binding) return '';
    const made = compileSlot(value, slot.shape === 'blocks' ? 'inline' : slot.shape, scopes, wb.index);
    const env = wb.envAt(scopes);
    if (slot.shape === 'picture')
      return made.picture(env) === undefined ? '' : (wb.media.find((m) => m.id === made.picture(env))?.name ?? '');
    const escaped = slot.shape === 'url' ? made.url(env) : made.inline(env);
    return escaped
      .replace(/&lt;/g, '<')
      .replace(/&gt;/g, '>')
      .replace(/&quot;/g, '"')
      .replace(/&#39;/g, "'")
      .replace(/&amp;/g, '&');
  });

  const put = (label: string, next: SlotValue | undefined) =>
    wb.edit(label, { do: 'put', id: element.id, at: ['slots', name], value: next });
  const change = (label: string, part: Partial<Binding>) => binding && put(label, { bound: { ...binding, ...part } });
  const whose = $derived(`${slot.label.toLowerCase()} of ${wb.nameOf(element.id)}`);

  const refuse = (t: ValueType) => misfit(t, slot.shape, startingTake(t, slot.shape))?.what;

  function addFallback(path: Path, t: ValueType) {
    const started = startBinding(path, t, slot.shape);
    if ('bound' in started)
      change(`Added a fallback for ${whose}`, {
        fallbacks: [...fieldFallbacks, { path, take: started.bound.take } as Fallback, ...textFallback],
      });
  }
  const fieldFallbacks = $derived(binding?.fallbacks.filter((f) => 'path' in f) ?? []);
  const textFallback = $derived(binding?.fallbacks.filter((f) => 'text' in f) ?? []);
  const fallbackWords = $derived(textFallback[0] && 'text' in textFallback[0] ? textFallback[0].text : '');

  function setFormats(next: FormatUse[]) {
    change(`Set the format of ${whose}`, { formats: next });
  }
  const formatsRight = $derived(
    type ? compileFormats(binding?.formats ?? [], typeAfter(type, binding?.take), wb.model.site).problems : [],
  );
</script>

<div class="flex flex-col gap-1.5 border-b border-hairline px-3 py-2 last:border-0" data-slot-editor={name}>
  <div class="flex flex-wrap items-center gap-2">
    <span class="w-28 shrink-0 font-medium">{slot.label}</span>
    <PathPicker
      {wb}
      {scopes}
      path={binding?.path}
      label="Bind {slot.label.toLowerCase()}"
      empty="Bind to a field"
      {refuse}
      onpick={(path, t) => bindSlot(wb, element.id, name, path, t)}
    />
    {#if binding}
      {#if type && takesFor(type).length}
        <select
          aria-label="How many values become one"
          value={binding.take ?? 'listed'}
          onchange={(e) => change(`Set how ${whose} is taken`, { take: e.currentTarget.value as Take })}
        >
          {#each takesFor(type).filter((take) => !misfit(type, slot.shape, take)) as take (take)}<option value={take}
              >{TAKE_LABELS[take]}</option
            >{/each}
        </select>
      {/if}
      <button
        type="button"
        aria-label="Unbind {slot.label.toLowerCase()}"
        class="rounded-sm p-1 text-faded hover:bg-linen hover:text-ink"
        onclick={() => put(`Unbound ${whose}`, undefined)}><X size={14} /></button
      >
      <span class="min-w-0 grow truncate text-xs text-faded" title={result}
        >{result ? `Now: ${result}` : 'Now: empty'}</span
      >
    {:else if slot.shape !== 'picture'}
      <input
        class="min-w-40 grow"
        aria-label={slot.label}
        placeholder={slot.shape === 'url' ? 'or an address, such as /huts/' : 'or fixed words'}
        value={value && 'fixed' in value ? String(value.fixed) : ''}
        oninput={(e) => put(`Wrote ${whose}`, e.currentTarget.value ? { fixed: e.currentTarget.value } : undefined)}
      />
    {:else}
      <select
        aria-label="Picture from the library"
        value={value && 'fixed' in value ? value.fixed : ''}
        onchange={(e) =>
          put(`Chose ${whose}`, e.currentTarget.value ? { fixed: Number(e.currentTarget.value) } : undefined)}
      >
        <option value="">or one picture for all</option>
        {#each wb.media as medium (medium.id)}<option value={medium.id}>{medium.name}</option>{/each}
      </select>
    {/if}
  </div>
  {#each problems as problem, i (i)}
    <p class="rounded-sm bg-ochre px-2 py-1">{problem.what} {problem.fix ?? ''}</p>
  {/each}
  {#if binding && (slot.shape === 'inline' || slot.shape === 'blocks')}
    <div class="flex flex-wrap items-center gap-2 pl-30">
      <label class="flex items-center gap-1.5"
        ><span class="dye-label">Before</span><input
          class="w-24"
          value={binding.before}
          oninput={(e) => change(`Wrote before ${whose}`, { before: e.currentTarget.value })}
        /></label
      >
      <label class="flex items-center gap-1.5"
        ><span class="dye-label">After</span><input
          class="w-24"
          value={binding.after}
          oninput={(e) => change(`Wrote after ${whose}`, { after: e.currentTarget.value })}
        /></label
      >
      <label class="flex items-center gap-1.5"
        ><span class="dye-label">If empty</span><input
          class="w-28"
          placeholder="left out"
          value={fallbackWords}
          oninput={(e) =>
            change(`Wrote the fallback of ${whose}`, {
              fallbacks: [...fieldFallbacks, ...(e.currentTarget.value ? [{ text: e.currentTarget.value }] : [])],
            })}
        /></label
      >
      <select
        aria-label="Add a format"
        value=""
        onchange={(e) => {
          setFormats([...binding.formats, { format: e.currentTarget.value, options: {} }]);
          e.currentTarget.value = '';
        }}
      >
        <option value="">Add a format</option>
        {#each fitting as format (format.name)}<option value={format.name}>{format.label}</option>{/each}
      </select>
    </div>
    {#each binding.formats as use, i (i)}
      <FormatEditor
        {use}
        onchange={(next) => setFormats(next ? binding.formats.with(i, next) : binding.formats.toSpliced(i, 1))}
      />
    {/each}
    {#each formatsRight.slice(0, 1) as problem (problem.what)}<p class="pl-30 text-madder">{problem.what}</p>{/each}
  {/if}
  {#if binding}
    <div class="flex flex-wrap items-center gap-2 pl-30">
      {#each fieldFallbacks as fallback, i (i)}
        {#if 'path' in fallback}
          <span class="flex items-center gap-1 rounded-sm border border-hairline px-2"
            >or {pathWords(fallback.path, wb.index)}
            <button
              type="button"
              aria-label="Take this fallback away"
              onclick={() =>
                change(`Took a fallback of ${whose} away`, {
                  fallbacks: [...fieldFallbacks.toSpliced(i, 1), ...textFallback],
                })}><X size={12} /></button
            >
          </span>
        {/if}
      {/each}
      <PathPicker
        {wb}
        {scopes}
        label="Add a fallback field"
        empty="Another field if empty"
        {refuse}
        onpick={addFallback}
      />
    </div>
  {/if}
</div>
