<script lang="ts">
  import { X } from '@lucide/svelte';
  import { untrack } from 'svelte';
  import { searchWords, queryWords } from '$lib/core/base/words';
  import { elementNamed } from '$lib/core/elements';
  import { fits, keyFor, STATES, STATE_WORDS, type State } from '$lib/core/styles/boxes';
  import { properties } from '$lib/core/styles/properties';
  import { STYLE_GROUPS, valueOf, type StyleProperty } from '$lib/core/styles/property';
  import { type StyleValue, SCREENS, type Screen } from '$lib/core/schema/style';
  import { valueWords } from '$lib/core/styles/words';
  import { styleAt } from '$lib/core/styles/style';
  import type { Element } from '$lib/core/schema/element';
  import { isSet, lookAt, lookEdit, type InForce } from '$lib/core/templates/looks';
  import { parentOf } from '$lib/core/templates/tree';
  import { readingWords } from './backgrounds';
  import LookControl from './LookControl.svelte';
  import NamedLookRow from './NamedLookRow.svelte';
  import type { Workbench } from '../state/workbench.svelte';

  let {
    wb,
    element: chosen,
    screen: seen,
    onwidths,
  }: {
    wb: Workbench;
    element: Element;
    /** The screen that the canvas is as wide as. */
    screen: Screen;
    onwidths: (widths: Screen) => void;
  } = $props();

  const LABELS: Record<Screen, { words: string; reach: string; width: number }> = {
    wide: {
      words: 'Every width',
      reach: 'What is set here holds at every width, but where a narrower one says otherwise.',
      width: 22,
    },
    medium: {
      words: 'Up to 1,023 px',
      reach: 'What is set here holds on screens up to 1,023 px, but where a narrower one says otherwise.',
      width: 14,
    },
    narrow: { words: 'Up to 599 px', reach: 'What is set here holds on screens up to 599 px.', width: 7 },
  };
  const FROM: Record<InForce['from'], string> = {
    wide: 'from every width',
    medium: 'from up to 1,023 px',
    narrow: '',
    look: 'from its named look',
    start: 'as it begins',
  };
  const screen = $derived(wb.widths);
  let wrong: Record<string, string> = $state({});
  let sought = $state('');
  let boxName = $state('');
  let during: State | undefined = $state();

  const kind = $derived(elementNamed(chosen.kind)!);
  const look = $derived(wb.looks.of(chosen));
  /** Whether the named look is worked on, for everything that has it. */
  const shared = $derived(look !== undefined && wb.looks.editing === look.key);
  const element = $derived(shared ? { ...chosen, props: {}, style: look!.style } : chosen);
  const named = $derived(shared ? undefined : look?.style);
  const id = $derived(element.id);
  $effect(() => {
    void id;
    untrack(() => {
      boxName = '';
      during = undefined;
      wrong = {};
      wb.looks.editing = undefined;
    });
  });
  const boxes = $derived([
    { name: '', label: kind.label },
    ...(kind.boxes ?? []).filter((box, i, all) => box.name && all.findIndex(({ name }) => name === box.name) === i),
  ]);
  const states = $derived(STATES.filter((one) => properties.some(({ name }) => fits(name, kind, boxName, one))));
  const key = (name: string) => keyFor(boxName, name, during);

  /** What can be seen there, and whatever is set all the same. */
  const setKeys = $derived(isSet(element));
  const fitting = $derived(
    properties.filter(({ name }) => fits(name, kind, boxName, during) || setKeys.has(key(name))),
  );
  const asked = $derived(queryWords(sought));
  const matches = ({ label, group, also = '' }: StyleProperty) => {
    const words = searchWords(`${label} ${group} ${also}`);
    return asked.every((one) => words.some((word) => word.startsWith(one)));
  };
  /** What is set stands before everything else; then what such an element is given most often. */
  const groups = $derived.by(() => {
    const first =
      parentOf(wb.tree, element.id)?.parent.props.flow === 'overlay'
        ? 'Position'
        : boxName || kind.group === 'Words'
          ? 'Type'
          : kind.group === 'Pictures'
            ? 'Surface'
            : 'Space';
    const ordered = [first, ...STYLE_GROUPS.filter((group) => group !== first)];
    const shown = fitting.filter(matches);
    // What was set while the panel is open stays where it is.
    return [
      { name: 'Set', list: shown.filter(({ name }) => settled.has(key(name))) },
      ...ordered.map((name) => ({
        name,
        list: shown.filter((property) => property.group === name && !settled.has(key(property.name))),
      })),
    ].filter(({ list }) => list.length);
  });
  /** What was set when the element was chosen. */
  const settled = $derived.by(() => {
    void id;
    return untrack(() => isSet(chosen));
  });
  const count = (at: Screen) => Object.keys(element.style?.[at] ?? {}).length;
  const countOf = (name: string) =>
    [...setKeys].filter((one) => (one.includes('.') ? one.split('.')[0] : '') === name).length;
  const isOwn = (property: StyleProperty) => element.style?.[screen]?.[key(property.name)] !== undefined;
  /** A narrower width that says otherwise, where the canvas is as wide as that. */
  const otherwise = (property: StyleProperty) => {
    const there = styleAt(element.style, key(property.name), seen);
    return there && SCREENS.indexOf(there.from) > SCREENS.indexOf(screen) ? there : undefined;
  };
  const wordsFor = (property: StyleProperty, value: StyleValue) => valueWords(property, value, wb.theme);

  function set(property: StyleProperty, value: StyleValue | undefined) {
    if (value !== undefined) {
      const checked = valueOf(property.control).safeParse(value);
      if (!checked.success) {
        wrong[key(property.name)] = checked.error.issues[0]?.message ?? 'This cannot be set so.';
        return;
      }
    }
    delete wrong[key(property.name)];
    const operations = lookEdit(element, kind, key(property.name), screen, value);
    if (shared) {
      const [style] = operations;
      wb.looks.change(look!.key, (style?.do === 'put' ? (style.value as Element['style']) : undefined) ?? {});
      return;
    }
    const where = [
      boxName && boxes.find(({ name }) => name === boxName)?.label.toLowerCase(),
      during && STATE_WORDS[during].toLowerCase(),
      screen !== 'wide' && LABELS[screen].words.toLowerCase(),
    ].filter(Boolean);
    wb.edit(
      `Set ${property.label.toLowerCase()} of ${wb.nameOf(element.id)}${where.length ? `, ${where.join(', ')}` : ''}`,
      ...operations,
    );
  }
  const chip =
    'flex h-6 items-center gap-1 rounded-sm border px-2 text-xs whitespace-nowrap aria-pressed:border-plum aria-pressed:bg-linen aria-pressed:font-medium';
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
  {#if screen !== 'wide'}<p class="text-xs text-faded">{LABELS[screen].reach}</p>{/if}
  <div class="flex flex-wrap items-center gap-x-4 gap-y-1">
    {#if boxes.length > 1}
      <div class="flex flex-wrap items-center gap-1" role="group" aria-label="What the looks are of">
        {#each boxes as one (one.name)}
          <button
            type="button"
            class="{chip} border-hairline hover:bg-linen"
            aria-pressed={boxName === one.name}
            onclick={() => {
              boxName = one.name;
              during = undefined;
            }}
            >{one.label}{#if countOf(one.name)}<span class="font-mono">{countOf(one.name)}</span>{/if}</button
          >
        {/each}
      </div>
    {/if}
    {#if states.length}
      <div class="flex flex-wrap items-center gap-1" role="group" aria-label="While it is">
        <button
          type="button"
          class="{chip} border-transparent hover:bg-linen"
          aria-pressed={during === undefined}
          onclick={() => (during = undefined)}>At rest</button
        >
        {#each states as one (one)}
          <button
            type="button"
            class="{chip} border-transparent hover:bg-linen"
            aria-pressed={during === one}
            onclick={() => (during = one)}>{STATE_WORDS[one]}</button
          >
        {/each}
      </div>
    {/if}
    <NamedLookRow {wb} element={chosen} />
  </div>
  <div class="grid grid-cols-[repeat(auto-fill,minmax(17rem,1fr))] gap-x-6 gap-y-3">
    {#each groups as { name: group, list } (group)}
      <fieldset class="min-w-0">
        <legend class="dye-label mb-1">{group}</legend>
        <div class="flex flex-col gap-1.5">
          {#each list as property (`${boxName} ${during} ${property.name}`)}
            {@const now = lookAt(element, kind, named, key(property.name), screen)}
            {@const own = isOwn(property)}
            <div class="flex items-start gap-2" data-look={key(property.name)}>
              <span class="w-24 shrink-0 pt-0.5 text-xs leading-tight {own ? 'font-semibold' : ''}"
                >{property.label}</span
              >
              <LookControl
                {property}
                theme={wb.theme}
                value={now?.value}
                note={readingWords(wb, element, kind, property, now?.value, screen)}
                set={(value) => set(property, value)}
              />
              {#if own || (now?.from === 'start' && screen === 'wide' && kind.brought)}
                <button
                  type="button"
                  class="shrink-0 rounded-sm p-1 text-faded hover:bg-linen hover:text-ink"
                  aria-label="Take {property.label.toLowerCase()} away here"
                  title="Take away here"
                  onclick={() => set(property, undefined)}><X size={12} /></button
                >
              {/if}
            </div>
            {#if now && !own && FROM[now.from]}<p class="pl-26 text-xs text-faded" data-inherited={property.name}>
                {FROM[now.from]}
              </p>{/if}
            {#if own && named && styleAt(named, key(property.name), screen)}
              <p class="pl-26 text-xs text-faded" data-differs={property.name}>
                Its named look has {wordsFor(property, styleAt(named, key(property.name), screen)!.value)}.
              </p>
            {/if}
            {#if otherwise(property)}
              {@const other = otherwise(property)!}
              <p class="rounded-sm bg-ochre px-1 text-xs" data-otherwise={property.name}>
                On the canvas as it is: {wordsFor(property, other.value)}, set for
                <button type="button" class="underline" onclick={() => onwidths(other.from)}
                  >{LABELS[other.from].words.toLowerCase()}</button
                >.
              </p>
            {/if}
            {#if wrong[key(property.name)]}<p role="alert" class="text-xs text-madder">
                {wrong[key(property.name)]}
              </p>{/if}
          {/each}
        </div>
      </fieldset>
    {:else}
      <p class="text-faded">Nothing about looks is called that.</p>
    {/each}
  </div>
</div>
