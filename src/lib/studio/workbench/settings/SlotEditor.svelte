<script lang="ts">
  import { Pencil, Type, X } from '@lucide/svelte';
  import type { SlotDefinition } from '$lib/core/elements/element';
  import { compilePath } from '$lib/core/paths/compile';
  import type { Path } from '$lib/core/schema/path';
  import type { ValueType } from '$lib/core/paths/scopes';
  import { compileSlot, misfit, startingTake } from '$lib/core/bindings/slots';
  import { asWords } from '$lib/core/rules/explain';
  import type { Binding, Run, SlotValue } from '$lib/core/schema/binding';
  import { fittingTakes } from '$lib/core/templates/bring';
  import type { Element } from '$lib/core/schema/element';
  import { plainField } from '$lib/core/model/field';
  import ColourInput from '../../values/ColourInput.svelte';
  import BindingEditor from './BindingEditor.svelte';
  import { changeable } from '../state/suppose';
  import PathPicker from './PathPicker.svelte';
  import type { Workbench } from '../state/workbench.svelte';

  let {
    wb,
    element,
    name,
    slot,
    oncorrect,
  }: {
    wb: Workbench;
    element: Element;
    name: string;
    slot: SlotDefinition;
    oncorrect: (path: Path) => void;
  } = $props();

  const value: SlotValue | undefined = $derived(element.slots[name]);
  const binding: Binding | undefined = $derived(value && 'bound' in value ? value.bound : undefined);
  const words: Run[][] | undefined = $derived(value && 'words' in value ? value.words : undefined);
  const fixed = $derived(value && 'fixed' in value ? value.fixed : undefined);
  const scopes = $derived(wb.scopesAt(element.id));
  const problems = $derived(wb.looseEnds.filter((end) => end.elementId === element.id && end.via === name));
  const whose = $derived(`${slot.label.toLowerCase()} of ${wb.nameOf(element.id)}`);
  const written = $derived(slot.shape === 'inline' || slot.shape === 'blocks');

  /** What the slot comes to for the record on screen, in words. */
  const result = $derived.by(() => {
    if (!binding) return '';
    const env = wb.preview.envAt(scopes);
    if (written || slot.shape === 'url') {
      const made = compileSlot(value, slot.shape === 'blocks' ? 'inline' : slot.shape, scopes, wb.index);
      const html = slot.shape === 'url' ? made.url(env) : made.inline(env);
      return html ? (new DOMParser().parseFromString(html, 'text/html').body.textContent ?? '') : '';
    }
    const made = compileSlot(value, slot.shape, scopes, wb.index);
    if (slot.shape === 'picture') {
      const id = made.picture(env);
      return wb.media.find((one) => one.id === id)?.name ?? '';
    }
    const found = made.found(env);
    return found ? asWords(found.value, found.type, env) : '';
  });

  const put = (label: string, next: SlotValue | undefined) =>
    wb.edit(label, { do: 'put', id: element.id, at: ['slots', name], value: next });
  const write = (next: string | number | number[] | null | undefined) =>
    put(
      `Wrote ${whose}`,
      next === null || next === undefined || next === '' || (Array.isArray(next) && !next.length)
        ? undefined
        : { fixed: next },
    );
  const refuse = (t: ValueType) => misfit(t, slot.shape, startingTake(t, slot.shape))?.what;

  /** A sentence begins with what stands in the slot now. */
  function toSentence() {
    const runs: Run[] = binding
      ? [{ bound: binding }, { text: ' ' }]
      : [{ text: fixed === undefined ? '' : String(fixed) }];
    put(`Made a sentence of ${whose}`, { words: [runs] });
  }
  const choices = (kind: string) => plainField(name, slot.label, kind);

  /** What is wrong with the thread, and offers that mend it. */
  const mends = $derived.by((): { words: string; run: () => void }[] => {
    if (!binding || !problems.length) return [];
    const made = compilePath(binding.path, scopes, wb.index);
    const out: { words: string; run: () => void }[] = [];
    if (made.ok) {
      const { type } = made.value;
      for (const take of fittingTakes(type, slot.shape).slice(0, 1))
        out.push({
          words: 'Use the first',
          run: () => put(`Mended ${whose}`, { bound: { ...binding, take } }),
        });
      if (wb.repeating(binding.path, type, scopes))
        out.push({ words: 'Repeat over them', run: () => wb.commands.repeatInPlace(element.id, binding.path, type) });
      if (binding.formats.length)
        out.push({
          words: 'Take the formats away',
          run: () => put(`Mended ${whose}`, { bound: { ...binding, formats: [] } }),
        });
    }
    const next = binding.fallbacks.find((f) => 'path' in f);
    if (next && 'path' in next)
      out.push({
        words: 'Use the fallback instead',
        run: () =>
          put(`Mended ${whose}`, {
            bound: {
              ...binding,
              path: next.path,
              take: next.take,
              fallbacks: binding.fallbacks.filter((f) => f !== next),
            },
          }),
      });
    out.push({ words: 'Unbind', run: () => put(`Unbound ${whose}`, undefined) });
    return out;
  });
</script>

<div class="flex flex-col gap-1.5 border-b border-hairline px-3 py-2 last:border-0" data-slot-editor={name}>
  <div class="flex flex-wrap items-center gap-2">
    <span class="w-28 shrink-0 font-medium">{slot.label}</span>
    {#if words}
      <span class="text-faded">A sentence with values</span>
      <button
        type="button"
        aria-label="Take the sentence away"
        class="rounded-sm p-1 text-faded hover:bg-linen hover:text-ink"
        onclick={() => put(`Took the sentence of ${whose} away`, undefined)}><X size={14} /></button
      >
    {:else}
      <PathPicker
        {wb}
        {scopes}
        path={binding?.path}
        label="Bind {slot.label.toLowerCase()}"
        empty="Bind to a field"
        {refuse}
        takes={(t) => fittingTakes(t, slot.shape)}
        onpick={(path, t, take) => wb.bind(element.id, name, path, t, take)}
        onrepeat={(path, t) => wb.commands.repeatInPlace(element.id, path, t)}
      />
      {#if binding}
        <button
          type="button"
          aria-label="Unbind {slot.label.toLowerCase()}"
          class="rounded-sm p-1 text-faded hover:bg-linen hover:text-ink"
          onclick={() => put(`Unbound ${whose}`, undefined)}><X size={14} /></button
        >
        <span class="min-w-0 truncate text-xs text-faded" title={result}
          >{result ? `Now: ${result}` : 'Now: empty'}</span
        >
        {#if changeable(wb, binding.path, scopes)}
          <button
            type="button"
            aria-label="Correct this value"
            title="Correct this value in the record"
            class="rounded-sm p-1 text-faded hover:bg-linen hover:text-ink"
            onclick={() => oncorrect(binding.path)}><Pencil size={13} /></button
          >
        {/if}
      {:else if slot.shape === 'picture' || slot.shape === 'pictures'}
        <div class="min-w-0 grow">
          {#await import('../../values/MediaInput.svelte') then { default: MediaInput }}
            <MediaInput
              field={choices(slot.shape === 'picture' ? 'picture' : 'pictures')}
              settings={{}}
              value={fixed}
              id="slot-{element.id}-{name}"
              invalid={false}
              onchange={(next) => write(next as number | number[] | null)}
            />
          {/await}
        </div>
      {:else if slot.shape === 'icon'}
        {#await import('../../values/IconInput.svelte') then { default: IconInput }}<IconInput
            field={choices('icon')}
            settings={{}}
            value={fixed}
            id="slot-{element.id}-{name}"
            invalid={false}
            onchange={(next) => write(next as string | null)}
          />{/await}
      {:else if slot.shape === 'colour'}
        <ColourInput
          field={choices('colour')}
          settings={{}}
          value={fixed}
          id="slot-{element.id}-{name}"
          invalid={false}
          onchange={(next) => write(next as string | null)}
        />
      {:else if slot.shape === 'number'}
        <input
          type="number"
          step="any"
          class="w-28"
          aria-label={slot.label}
          placeholder="or a number"
          value={fixed ?? ''}
          oninput={(e) => write(e.currentTarget.value === '' ? undefined : Number(e.currentTarget.value))}
        />
      {:else if slot.shape === 'list'}
        <textarea
          class="field-sizing-content min-h-14 min-w-40 grow"
          aria-label={slot.label}
          placeholder="or one on each line"
          value={fixed === undefined ? '' : String(fixed)}
          oninput={(e) => write(e.currentTarget.value)}
        ></textarea>
      {:else if written || slot.shape === 'url' || slot.shape === 'embed'}
        <input
          class="min-w-40 grow"
          aria-label={slot.label}
          placeholder={slot.shape === 'url'
            ? 'or an address, such as /huts/'
            : slot.shape === 'embed'
              ? 'or the site’s own player, such as /player/winter-on-the-ridge'
              : 'or fixed words'}
          value={fixed === undefined ? '' : String(fixed)}
          oninput={(e) => write(e.currentTarget.value)}
        />
      {/if}
      {#if written}
        <button
          type="button"
          class="ml-auto flex h-7 shrink-0 items-center gap-1 rounded-sm px-2 text-faded hover:bg-linen hover:text-ink"
          title="Words and values together in one text"
          onclick={toSentence}><Type size={13} />Sentence</button
        >
      {/if}
    {/if}
  </div>
  {#each problems as problem, i (i)}
    <p class="flex flex-wrap items-center gap-2 rounded-sm bg-ochre px-2 py-1" data-broken>
      <span>{problem.what} {problem.fix ?? ''}</span>
      {#if i === 0}
        {#each mends as mend (mend.words)}
          <button
            type="button"
            class="rounded-sm border border-faded/50 bg-paper px-2 py-0.5 hover:border-ink"
            onclick={mend.run}>{mend.words}</button
          >
        {/each}
      {/if}
    </p>
  {/each}
  {#if words}
    {#key element.id}
      {#await import('./WordsInput.svelte')}
        <div class="h-16 rounded-sm border border-hairline bg-paper" aria-busy="true"></div>
      {:then { default: WordsInput }}
        <WordsInput
          {wb}
          {scopes}
          {words}
          label={slot.label}
          {whose}
          onchange={(label, next) => put(label, { words: next })}
        />
      {/await}
    {/key}
  {:else if binding}
    <BindingEditor
      {wb}
      {scopes}
      shape={slot.shape}
      {binding}
      {whose}
      onchange={(label, next) => put(label, { bound: next })}
      onrepeat={(path, t) => wb.commands.repeatInPlace(element.id, path, t)}
    />
  {/if}
</div>
