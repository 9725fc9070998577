<script lang="ts">
  import { X } from '@lucide/svelte';
  import { untrack } from 'svelte';
  import { searchWords, wordsAsked } from '$lib/core/base/words';
  import { elementNamed } from '$lib/core/elements';
  import { fits } from '$lib/core/styles/fits';
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
    screen: seen,
    onwidths,
  }: {
    wb: Workbench;
    element: Element;
    /** The screen that the canvas is as wide as. */
    screen: Screen;
    onwidths: (widths: Screen) => void;
  } = $props();

  const LABELS: Record<Screen, { words: string; from: string; reach: string; width: number }> = {
    wide: {
      words: 'Every width',
      from: 'from every width',
      reach: 'What is set here holds at every width, but where a narrower one says otherwise.',
      width: 22,
    },
    medium: {
      words: 'Up to 1,023 px',
      from: 'from up to 1,023 px',
      reach: 'What is set here holds on screens up to 1,023 px, but where a narrower one says otherwise.',
      width: 14,
    },
    narrow: {
      words: 'Up to 599 px',
      from: '',
      reach: 'What is set here holds on screens up to 599 px.',
      width: 7,
    },
  };
  const screen = $derived(wb.widths);
  /** Properties for which a length of their own is being written. */
  let lengths: Record<string, boolean> = $state({});
  let wrong: Record<string, string> = $state({});

  let sought = $state('');
  const kind = $derived(elementNamed(element.kind));
  /** What can be seen on it, and whatever is set all the same. */
  const fitting = $derived(
    properties.filter(
      ({ name }) => (kind && fits(name, kind)) || SCREENS.some((at) => element.style?.[at]?.[name] !== undefined),
    ),
  );
  const asked = $derived(wordsAsked(sought));
  const matches = ({ label, group }: StyleProperty) => {
    const words = searchWords(`${label} ${group}`);
    return asked.every((one) => words.some((word) => word.startsWith(one)));
  };
  /** What lies in an overlay is placed first of all; what is set here or taken over stands before everything else. */
  const groups = $derived.by(() => {
    const [first, ...rest] =
      parentOf(wb.tree, element.id)?.parent.props.flow === 'overlay'
        ? ['Position' as const, ...STYLE_GROUPS.filter((group) => group !== 'Position')]
        : STYLE_GROUPS;
    const shown = fitting.filter(matches);
    // What was set while the panel is open stays where it is.
    return [
      { name: 'Set', list: shown.filter(({ name }) => settled.has(name)) },
      ...[first!, ...rest].map((name) => ({
        name,
        list: shown.filter((property) => property.group === name && !settled.has(property.name)),
      })),
    ].filter(({ list }) => list.length);
  });
  const id = $derived(element.id);
  /** What was set when the element was chosen. */
  const settled = $derived.by(() => {
    void id;
    return untrack(() => new Set(SCREENS.flatMap((at) => Object.keys(element.style?.[at] ?? {}))));
  });
  const count = (at: Screen) => Object.keys(element.style?.[at] ?? {}).length;
  const isOwn = (property: StyleProperty) => element.style?.[screen]?.[property.name] !== undefined;
  const inForce = (property: StyleProperty) => styleAt(element.style, property.name, screen);
  /** A narrower width that says otherwise, where the canvas is as wide as that. */
  const otherwise = (property: StyleProperty) => {
    const there = styleAt(element.style, property.name, seen);
    return there && SCREENS.indexOf(there.from) > SCREENS.indexOf(screen) ? there : undefined;
  };
  const valueWords = ({ control }: StyleProperty, value: StyleValue) =>
    control.as === 'pick'
      ? (control.options.find((option) => option.value === value)?.label ?? String(value))
      : control.as === 'token'
        ? (wb.theme[control.of].find((token) => token.key === value)?.name ?? String(value))
        : String(value);

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
      `Set ${property.label.toLowerCase()} of ${wb.nameOf(element.id)}${screen === 'wide' ? '' : `, ${LABELS[screen].words.toLowerCase()}`}`,
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
  <div class="flex items-center gap-1">
    <div class="flex items-center gap-1" role="tablist" aria-label="Widths that looks are set for">
      {#each SCREENS as one (one)}
        <button
          type="button"
          role="tab"
          aria-selected={screen === one}
          class="flex h-7 shrink-0 items-center gap-1.5 rounded-sm border px-2 whitespace-nowrap {screen === one
            ? 'border-plum bg-linen font-medium'
            : 'border-transparent text-faded hover:bg-linen'}"
          onclick={() => onwidths(one)}
          ><span class="h-3 border-x-2 border-b border-current" style="width:{LABELS[one].width}px" aria-hidden="true"
          ></span>{LABELS[one].words}{#if count(one)}<span class="font-mono text-xs">{count(one)}</span>{/if}</button
        >
      {/each}
    </div>
    <input
      type="search"
      class="ml-auto h-7! w-36 min-w-0"
      placeholder="Find a look"
      aria-label="Find a look"
      bind:value={sought}
    />
  </div>
  <p class="text-xs text-faded">{LABELS[screen].reach}</p>
  <div class="grid grid-cols-[repeat(auto-fill,minmax(13.5rem,1fr))] gap-x-5 gap-y-3">
    {#each groups as { name: group, list } (group)}
      <fieldset class="min-w-0">
        <legend class="dye-label mb-1">{group}</legend>
        <div class="flex flex-col gap-1">
          {#each list as property (property.name)}
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
                  title={now && !own ? LABELS[now.from].from : undefined}
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
                  title={now && !own ? LABELS[now.from].from : undefined}
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
                  title={now && !own ? LABELS[now.from].from : undefined}
                  onchange={(e) =>
                    set(property, e.currentTarget.value === '' ? undefined : Number(e.currentTarget.value))}
                />
              {:else}
                <input
                  class="w-24 {own ? '' : 'text-faded'}"
                  placeholder="such as 12px"
                  value={now?.value ?? ''}
                  title={now && !own ? LABELS[now.from].from : undefined}
                  onchange={(e) => set(property, e.currentTarget.value.trim())}
                />
              {/if}
              {#if own}
                <button
                  type="button"
                  class="shrink-0 rounded-sm p-1 text-faded hover:bg-linen hover:text-ink"
                  aria-label="Take {property.label.toLowerCase()} away here"
                  title="Take away here"
                  onclick={() => set(property, undefined)}><X size={12} /></button
                >
              {/if}
            </label>
            {#if now && !own}<p class="pl-26 text-xs text-faded" data-inherited={property.name}>
                {LABELS[now.from].from}
              </p>{/if}
            {#if otherwise(property)}
              {@const other = otherwise(property)!}
              <p class="rounded-sm bg-ochre px-1 text-xs" data-otherwise={property.name}>
                On the canvas as it is: {valueWords(property, other.value)}, set for
                <button type="button" class="underline" onclick={() => onwidths(other.from)}
                  >{LABELS[other.from].words.toLowerCase()}</button
                >.
              </p>
            {/if}
            {#if wrong[property.name]}<p role="alert" class="text-xs text-madder">{wrong[property.name]}</p>{/if}
          {/each}
        </div>
      </fieldset>
    {/each}
  </div>
</div>
