<script lang="ts">
  import { X } from '@lucide/svelte';
  import { properties } from '$lib/core/styles/properties';
  import { STYLE_GROUPS, valueOf, type StyleProperty } from '$lib/core/styles/property';
  import { type StyleValue, SCREENS, type Screen } from '$lib/core/schema/style';
  import { styleAt } from '$lib/core/styles/style';
  import type { Element } from '$lib/core/schema/element';
  import { parentOf } from '$lib/core/templates/tree';
  import { tokenValue } from '$lib/core/theme/theme';
  import type { Workbench } from './workbench.svelte';

  let {
    wb,
    element,
    screen,
    onscreen,
  }: { wb: Workbench; element: Element; screen: Screen; onscreen: (screen: Screen) => void } = $props();

  const LABELS: Record<Screen, { words: string; reach: string; width: number }> = {
    wide: {
      words: 'Wide',
      reach: 'What is set here holds at every width, until a narrower one says otherwise.',
      width: 22,
    },
    medium: { words: 'Medium', reach: 'For screens up to 1023 px. Grey values are taken over from wide.', width: 14 },
    narrow: {
      words: 'Narrow',
      reach: 'For screens up to 599 px. Grey values are taken over from a wider screen.',
      width: 7,
    },
  };
  /** Properties for which a length of their own is being written. */
  let lengths: Record<string, boolean> = $state({});
  let wrong: Record<string, string> = $state({});

  /** What lies in an overlay is placed first of all. */
  const groups = $derived(
    parentOf(wb.tree, element.id)?.parent.props.flow === 'overlay'
      ? [...STYLE_GROUPS].sort((a, b) => Number(b === 'Position') - Number(a === 'Position'))
      : STYLE_GROUPS,
  );
  const count = (at: Screen) => Object.keys(element.style?.[at] ?? {}).length;
  const isOwn = (property: StyleProperty) => element.style?.[screen]?.[property.name] !== undefined;
  const inForce = (property: StyleProperty) => styleAt(element.style, property.name, screen);

  function set(property: StyleProperty, given: StyleValue | undefined) {
    const value = given === '' ? undefined : given;
    if (value !== undefined) {
      const checked = valueOf(property.control).safeParse(value);
      if (!checked.success) {
        wrong[property.name] = checked.error.issues[0]?.message ?? 'This cannot be set so.';
        return;
      }
    }
    delete wrong[property.name];
    const own = { ...element.style?.[screen] };
    if (value === undefined) delete own[property.name];
    else own[property.name] = value;
    const style = { ...element.style, [screen]: own };
    if (!Object.keys(own).length) delete style[screen];
    wb.edit(
      `Set ${property.label.toLowerCase()} of ${wb.nameOf(element.id)}${screen === 'wide' ? '' : `, ${screen}`}`,
      {
        do: 'put',
        id: element.id,
        at: ['style'],
        value: Object.keys(style).length ? style : undefined,
      },
    );
  }

  const tokensOf = (property: StyleProperty) =>
    property.control.as === 'token'
      ? wb.theme[property.control.of].map((token) => ({ key: token.key, name: token.name }))
      : [];
  const colourOf = (key: string) => {
    const found = wb.theme.colour.find((token) => token.key === key);
    return found && tokenValue('colour', found.value);
  };
  const isToken = (property: StyleProperty, value: StyleValue | undefined) =>
    tokensOf(property).some((token) => token.key === value);
</script>

<div class="flex flex-col gap-2 px-3 py-2">
  <div class="flex items-center gap-1" role="tablist" aria-label="Screen width that looks are set for">
    {#each SCREENS as one (one)}
      <button
        type="button"
        role="tab"
        aria-selected={screen === one}
        class="flex h-7 items-center gap-1.5 rounded-sm border px-2 {screen === one
          ? 'border-plum bg-linen font-medium'
          : 'border-transparent text-faded hover:bg-linen'}"
        onclick={() => onscreen(one)}
        ><span class="h-3 border-x-2 border-b border-current" style="width:{LABELS[one].width}px" aria-hidden="true"
        ></span>{LABELS[one].words}{#if count(one)}<span class="font-mono text-xs">{count(one)}</span>{/if}</button
      >
    {/each}
    <span class="ml-2 min-w-0 truncate text-xs text-faded" title={LABELS[screen].reach}>{LABELS[screen].reach}</span>
  </div>
  <div class="grid grid-cols-[repeat(auto-fill,minmax(13.5rem,1fr))] gap-x-5 gap-y-3">
    {#each groups as group (group)}
      <fieldset class="min-w-0">
        <legend class="dye-label mb-1">{group}</legend>
        <div class="flex flex-col gap-1">
          {#each properties.filter((property) => property.group === group) as property (property.name)}
            {@const now = inForce(property)}
            {@const own = isOwn(property)}
            <label class="flex items-center gap-2">
              <span class="w-24 shrink-0 text-xs leading-tight {own ? 'font-semibold' : ''}">{property.label}</span>
              {#if property.control.as === 'token'}
                {#if property.control.of === 'colour'}
                  <span
                    class="size-4 shrink-0 rounded-full border border-hairline"
                    style="background:{colourOf(String(now?.value ?? '')) ?? 'transparent'}"
                  ></span>
                {/if}
                <select
                  class="min-w-0 grow {own ? '' : 'text-faded'}"
                  value={now === undefined ? '' : isToken(property, now.value) ? now.value : 'own'}
                  title={now && !own ? `From ${now.from}` : undefined}
                  onchange={(e) => {
                    lengths[property.name] = e.currentTarget.value === 'own';
                    if (e.currentTarget.value !== 'own') set(property, e.currentTarget.value);
                  }}
                >
                  <option value="">Not set</option>
                  {#each tokensOf(property) as token (token.key)}<option value={token.key}>{token.name}</option>{/each}
                  {#if property.control.own}<option value="own">A length of its own</option>
                  {:else if now && !isToken(property, now.value)}<option value="own">{now.value}</option>{/if}
                </select>
                {#if property.control.own && (lengths[property.name] || (now && !isToken(property, now.value)))}
                  <input
                    class="w-16 shrink-0"
                    aria-label="{property.label}, own length"
                    placeholder="12px"
                    value={now && !isToken(property, now.value) ? now.value : ''}
                    onchange={(e) => set(property, e.currentTarget.value.trim())}
                  />
                {/if}
              {:else if property.control.as === 'pick'}
                <select
                  class="min-w-0 grow {own ? '' : 'text-faded'}"
                  value={now?.value ?? ''}
                  title={now && !own ? `From ${now.from}` : undefined}
                  onchange={(e) => set(property, e.currentTarget.value)}
                >
                  <option value="">Not set</option>
                  {#each property.control.options as option (option.value)}<option value={option.value}
                      >{option.label}</option
                    >{/each}
                </select>
              {:else if property.control.as === 'number'}
                <input
                  type="number"
                  step="any"
                  class="w-20 {own ? '' : 'text-faded'}"
                  value={now?.value ?? ''}
                  title={now && !own ? `From ${now.from}` : undefined}
                  onchange={(e) =>
                    set(property, e.currentTarget.value === '' ? undefined : Number(e.currentTarget.value))}
                />
              {:else}
                <input
                  class="w-24 {own ? '' : 'text-faded'}"
                  placeholder="such as 12px"
                  value={now?.value ?? ''}
                  title={now && !own ? `From ${now.from}` : undefined}
                  onchange={(e) => set(property, e.currentTarget.value.trim())}
                />
              {/if}
              {#if own}
                <button
                  type="button"
                  class="shrink-0 rounded-sm p-1 text-faded hover:bg-linen hover:text-ink"
                  aria-label="Set {property.label.toLowerCase()} back"
                  title={screen === 'wide' ? 'Set back' : 'Take over from the wider screen'}
                  onclick={() => set(property, undefined)}><X size={12} /></button
                >
              {/if}
            </label>
            {#if wrong[property.name]}<p role="alert" class="text-xs text-madder">{wrong[property.name]}</p>{/if}
          {/each}
        </div>
      </fieldset>
    {/each}
  </div>
</div>
