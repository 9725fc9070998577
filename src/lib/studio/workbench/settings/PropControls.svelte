<script lang="ts">
  import { fieldsIn } from '$lib/core/model/settings';
  import type { ElementKind, PropControl } from '$lib/core/elements/element';
  import { kindOf, type Field } from '$lib/core/model/model';
  import { compilePath, compileRecord } from '$lib/core/paths/compile';
  import type { Path } from '$lib/core/schema/path';
  import type { ValueType } from '$lib/core/paths/scopes';
  import { typeOf } from '$lib/core/templates/served';
  import type { Element } from '$lib/core/schema/element';
  import { Minus, Plus } from '@lucide/svelte';
  import Choices from './Choices.svelte';
  import { atAGlance, OPTIONS_DRAWN } from '../looks/drawn';
  import PathPicker from './PathPicker.svelte';
  import type { Workbench } from '../state/workbench.svelte';

  let { wb, element, kind }: { wb: Workbench; element: Element; kind: ElementKind } = $props();

  const scopes = $derived(wb.scopesAt(element.id));
  const shown = $derived(
    kind.controls.filter(
      ({ when, whenFilled }) =>
        (!when || when.is.includes(element.props[when.name] as string | number | boolean)) &&
        (whenFilled === undefined || element.slots[whenFilled] !== undefined),
    ),
  );
  const set = (control: PropControl, value: unknown) =>
    wb.edit(`Set ${control.label.toLowerCase()} of ${wb.nameOf(element.id)}`, {
      do: 'put',
      id: element.id,
      at: ['props', control.name],
      value,
    });

  /** Sub-fields of the rows that a slot is bound to. */
  function subfieldsOf(control: PropControl): Field[] {
    const slot = element.slots[control.slot ?? ''];
    const made = slot && 'bound' in slot ? compilePath(slot.bound.path, scopes, wb.index) : undefined;
    const fields = made?.ok ? fieldsIn(made.value.type.settings) : [];
    return fields.filter((field) => !control.fits || kindOf(field)?.kind.family.slots.includes(control.fits));
  }
  const chosen = $derived((element.props.columns ?? []) as string[]);
  function toggle(control: PropControl, id: string) {
    const all = subfieldsOf(control).map((field) => field.id);
    const now = chosen.length ? chosen : all;
    const next = now.includes(id)
      ? now.filter((one) => one !== id)
      : all.filter((one) => now.includes(one) || one === id);
    set(control, next.length === all.length ? [] : next);
  }

  /** How many parts of the room each column has. */
  const shares = $derived(element.children.map((_, i) => ((element.props.shares ?? []) as number[])[i] ?? 1));
  const whole = $derived(shares.reduce((sum, one) => sum + one, 0));
  const share = (control: PropControl, at: number, parts: number) =>
    set(
      control,
      shares.map((one, i) => (i === at ? parts : one)),
    );

  const parts = $derived(wb.parts.filter((part) => part.id !== wb.template.id));
  const part = $derived(wb.parts.find((one) => one.id === element.props.part));
  /** Why a value is no record that the chosen part can show. */
  const refuse = (type: ValueType) => {
    const wanted = typeOf(part ?? { serves: [] }, wb.index);
    if (!wanted) return 'This part shows no record.';
    if (type.kind.family.leads !== 'record') return 'This is no record.';
    return type.typeIds.includes(wanted)
      ? undefined
      : `This is no ${wb.index.type(wanted)?.name.toLowerCase() ?? 'record of that kind'}.`;
  };
  const starts = $derived.by(() => {
    const wanted = part && typeOf(part, wb.index);
    if (!wanted) return [];
    const names = [
      ...scopes.loops.map((loop) => ({ from: `loop:${loop.id}`, words: `each ${loop.name}` })).reverse(),
      { from: 'record', words: 'the record of this page' },
    ];
    return names.filter(({ from }) => compileRecord({ from, steps: [] }, [wanted], scopes, wb.index).ok);
  });
  const about = $derived(element.props.about as Path | undefined);
</script>

{#if shown.length}
  <div class="flex flex-wrap items-center gap-x-5 gap-y-1.5 px-3 pt-2" data-options>
    {#each shown as control (control.name)}
      {#if control.as === 'subfields'}
        <fieldset class="w-full">
          <legend class="dye-label mb-1">{control.label}</legend>
          <div class="flex flex-wrap gap-x-4 gap-y-1">
            {#each subfieldsOf(control) as field (field.id)}
              <label class="flex items-center gap-1.5"
                ><input
                  type="checkbox"
                  checked={!chosen.length || chosen.includes(field.id)}
                  onchange={() => toggle(control, field.id)}
                />{field.label}</label
              >
            {:else}<span class="text-faded">Bind rows first.</span>{/each}
          </div>
        </fieldset>
      {:else if control.as === 'shares'}
        <fieldset class="w-full" data-shares>
          <legend class="dye-label mb-1">{control.label}</legend>
          <div class="flex h-9 max-w-md gap-0.5">
            {#each shares as parts, i (i)}
              <div
                class="flex min-w-14 items-center justify-center gap-1 border border-indigo/40 bg-indigo/10 text-xs"
                style="flex:{parts} {parts} 0"
              >
                <button
                  type="button"
                  class="rounded-sm px-1 hover:bg-linen-deep disabled:opacity-40"
                  aria-label="Column {i + 1} narrower"
                  disabled={parts <= 1}
                  onclick={() => share(control, i, parts - 1)}><Minus size={12} /></button
                >
                <span>{parts} of {whole}</span>
                <button
                  type="button"
                  class="rounded-sm px-1 hover:bg-linen-deep disabled:opacity-40"
                  aria-label="Column {i + 1} wider"
                  disabled={parts >= 12}
                  onclick={() => share(control, i, parts + 1)}><Plus size={12} /></button
                >
              </div>
            {:else}<span class="text-faded">Columns have shares once something stands in them.</span>{/each}
          </div>
        </fieldset>
      {:else if control.as === 'pick' && atAGlance(control.name, control.options ?? [])}
        <div class="flex items-center gap-1.5" data-option={control.name}>
          <span class="dye-label">{control.label}</span>
          <Choices
            label={control.label}
            options={control.options ?? []}
            drawings={OPTIONS_DRAWN[control.name]}
            value={element.props[control.name] as string | number | undefined}
            set={(value) => set(control, value)}
          />
        </div>
      {:else if control.as === 'menu'}
        <label class="flex items-center gap-1.5"
          ><span class="dye-label">{control.label}</span>
          <select
            value={(element.props[control.name] as string | undefined) ?? ''}
            onchange={(e) => set(control, e.currentTarget.value)}
          >
            <option value="">{wb.model.menus.length ? 'None yet' : 'Make one under Menus first'}</option>
            {#each wb.model.menus as menu (menu.id)}<option value={menu.id}>{menu.name}</option>{/each}
          </select></label
        >
      {:else if control.as === 'about'}
        {#if part && typeOf(part, wb.index)}
          <div class="flex items-center gap-1.5">
            <span class="dye-label">{control.label}</span>
            <span class="flex items-center gap-2">
              <select
                aria-label={control.label}
                value={about ? (about.steps.length ? 'relation' : about.from) : ''}
                onchange={(e) => {
                  const { value } = e.currentTarget;
                  if (value !== 'relation') set(control, value ? { from: value, steps: [] } : undefined);
                }}
              >
                <option value="">the nearest {wb.index.type(typeOf(part, wb.index) ?? '')?.name.toLowerCase()}</option>
                {#each starts as start (start.from)}<option value={start.from}>{start.words}</option>{/each}
                {#if about?.steps.length}<option value="relation">a related record</option>{/if}
              </select>
              <PathPicker
                {wb}
                {scopes}
                path={about?.steps.length ? about : undefined}
                label="Show a related record"
                empty="or a related record"
                {refuse}
                onpick={(path) => set(control, path)}
              />
            </span>
          </div>
        {/if}
      {:else}
        <label class="flex items-center gap-1.5">
          <span class="dye-label">{control.label}</span>
          {#if control.as === 'pick'}
            <select
              value={element.props[control.name]}
              onchange={(e) =>
                set(control, control.options?.find((o) => String(o.value) === e.currentTarget.value)?.value)}
            >
              {#each control.options ?? [] as option (option.value)}<option value={option.value}>{option.label}</option
                >{/each}
            </select>
          {:else if control.as === 'number'}
            <input
              type="number"
              step="any"
              class="w-24"
              min={control.min}
              max={control.max}
              value={element.props[control.name]}
              oninput={(e) => {
                const n = e.currentTarget.valueAsNumber;
                if (!Number.isNaN(n) && n >= (control.min ?? -Infinity) && n <= (control.max ?? Infinity))
                  set(control, n);
              }}
            />
          {:else if control.as === 'switch'}
            <input
              type="checkbox"
              checked={Boolean(element.props[control.name])}
              onchange={(e) => set(control, e.currentTarget.checked)}
            />
          {:else if control.as === 'words'}
            <input
              class="w-48"
              value={element.props[control.name]}
              oninput={(e) => set(control, e.currentTarget.value)}
            />
          {:else if control.as === 'subfield'}
            <select value={element.props[control.name] ?? ''} onchange={(e) => set(control, e.currentTarget.value)}>
              <option value="">The first that fits</option>
              {#each subfieldsOf(control) as field (field.id)}<option value={field.id}>{field.label}</option>{/each}
            </select>
          {:else if control.as === 'loop'}
            <select value={element.props[control.name] ?? ''} onchange={(e) => set(control, e.currentTarget.value)}>
              <option value="">the first of which they may choose</option>
              {#each wb.selection.rows.filter(({ element: one }) => one.kind === 'loop') as row (row.element.id)}<option
                  value={row.element.id}>{wb.nameOf(row.element.id)}</option
                >{/each}
            </select>
          {:else if control.as === 'part'}
            <select value={element.props[control.name] ?? ''} onchange={(e) => set(control, e.currentTarget.value)}>
              <option value="">Choose a part</option>
              {#each parts as one (one.id)}<option value={one.id}>{one.name}</option>{/each}
            </select>
          {/if}
        </label>
      {/if}
    {/each}
    {#if kind.controls.some((control) => control.as === 'part')}
      {#if part}<a class="self-end text-plum underline" href="/studio/workbench/{part.id}">Open this part</a>
      {:else if !parts.length}<p class="self-end text-faded">There is no part yet; make one on the desk.</p>{/if}
    {/if}
  </div>
{/if}
