<script lang="ts">
  import { X } from '@lucide/svelte';
  import { compilePath } from '$lib/core/paths/compile';
  import { pathWords } from '$lib/core/paths/built-ins';
  import type { Path } from '$lib/core/schema/path';
  import type { Scopes, ValueType } from '$lib/core/paths/scopes';
  import { compileFormats, isWritten, misfit, startingTake, type SlotShape } from '$lib/core/bindings/slots';
  import type { Binding, Fallback, FormatUse, Take } from '$lib/core/schema/binding';
  import { fittingTakes, startBinding, takeWords } from '$lib/core/templates/bring';
  import { takeOf, takesFor, typeAfter } from '$lib/core/paths/takes';
  import FormatPicker from './FormatPicker.svelte';
  import PathPicker from './PathPicker.svelte';
  import type { Workbench } from '../state/workbench.svelte';

  let {
    wb,
    scopes,
    shape,
    binding,
    whose,
    onchange,
    onrepeat,
  }: {
    wb: Workbench;
    scopes: Scopes;
    shape: SlotShape;
    binding: Binding;
    /** What is bound, in words for the history, such as “text of Facts”. */
    whose: string;
    onchange: (label: string, next: Binding) => void;
    onrepeat?: (path: Path, type: ValueType) => void;
  } = $props();

  const type: ValueType | undefined = $derived.by(() => {
    const made = compilePath(binding.path, scopes, wb.index);
    return made.ok ? made.value.type : undefined;
  });
  const after = $derived(type && typeAfter(type, binding.take));
  /** The value on screen after its take; undefined where it is empty. */
  const value = $derived.by(() => {
    const made = compilePath(binding.path, scopes, wb.index);
    if (!made.ok) return undefined;
    const read = made.value.read(wb.preview.envAt(scopes));
    const one = Array.isArray(read) && binding.take ? takeOf(read, binding.take, made.value.type) : read;
    return Array.isArray(one) && !one.length ? undefined : one;
  });

  const change = (label: string, part: Partial<Binding>) => onchange(label, { ...binding, ...part });
  const refuse = (t: ValueType) => misfit(t, shape, startingTake(t, shape))?.what;

  const fieldFallbacks = $derived(binding.fallbacks.filter((f) => 'path' in f));
  const textFallback = $derived(binding.fallbacks.filter((f) => 'text' in f));
  const fallbackWords = $derived(textFallback[0] && 'text' in textFallback[0] ? textFallback[0].text : '');

  function addFallback(path: Path, t: ValueType, take?: Take) {
    const started = startBinding(path, t, shape, take);
    if ('bound' in started)
      change(`Added a fallback for ${whose}`, {
        fallbacks: [...fieldFallbacks, { path, take: started.bound.take } as Fallback, ...textFallback],
      });
  }
  const setFormats = (next: FormatUse[]) => change(`Set the format of ${whose}`, { formats: next });

  /** What the value comes to after the formats up to one of them. */
  function resultAfter(count: number): string {
    if (!after || value === undefined) return '';
    return compileFormats(binding.formats.slice(0, count), after, scopes, wb.index).write(
      value,
      wb.preview.envAt(scopes),
    );
  }
  const wrong = $derived(after ? compileFormats(binding.formats, after, scopes, wb.index).problems : []);
</script>

{#if type && takesFor(type).length && fittingTakes(type, shape).length}
  <div class="flex flex-wrap items-center gap-2 pl-30">
    <label class="flex items-center gap-1.5">
      <span class="dye-label">Of several, use</span>
      <select
        aria-label="How many values become one"
        value={binding.take ?? 'listed'}
        onchange={(e) => {
          if (e.currentTarget.value === 'repeat') onrepeat?.(binding.path, type);
          else change(`Set how ${whose} is taken`, { take: e.currentTarget.value as Take });
        }}
      >
        {#each fittingTakes(type, shape) as take (take)}<option value={take}>{takeWords(take)}</option>{/each}
        {#if onrepeat}<option value="repeat">Repeat over them</option>{/if}
      </select>
    </label>
  </div>
{/if}
{#if isWritten(shape)}
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
    {#if after}
      <FormatPicker
        {wb}
        {scopes}
        type={after}
        used={binding.formats}
        {value}
        onpick={(use) => setFormats([...binding.formats, use])}
      />
    {/if}
  </div>
  {#each binding.formats as use, i (i)}
    {#await import('./FormatEditor.svelte') then { default: FormatEditor }}
      <FormatEditor
        {wb}
        {scopes}
        {use}
        result={resultAfter(i + 1)}
        onchange={(next) => setFormats(next ? binding.formats.with(i, next) : binding.formats.toSpliced(i, 1))}
      />
    {/await}
  {/each}
  {#each wrong.slice(0, 1) as problem (problem.what)}<p class="pl-30 text-madder">{problem.what}</p>{/each}
{/if}
<div class="flex flex-wrap items-center gap-2 pl-30">
  {#each fieldFallbacks as fallback, i (i)}
    {#if 'path' in fallback}
      <span class="flex items-center gap-1 rounded-sm border border-hairline px-2"
        >or {pathWords(fallback.path, wb.index)}
        <button
          type="button"
          class="p-1"
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
    takes={(t) => fittingTakes(t, shape).slice(0, 1)}
    onpick={addFallback}
  />
</div>
