<script lang="ts" module>
  /** Loaded after the page is there, so that it is there sooner; a pane that is opened before waits for its own. */
  const PANES = {
    values: () => import('./SlotEditor.svelte'),
    loop: () => import('./LoopEditor.svelte'),
    branches: () => import('./BranchesEditor.svelte'),
    visitors: () => import('./VisitorsEditor.svelte'),
    looks: () => Promise.all([import('./PropControls.svelte'), import('../looks/StylePanel.svelte')]),
    rule: () => import('../rules/RulePanel.svelte'),
  };
</script>

<script lang="ts">
  import LookOnly from '../../people/LookOnly.svelte';
  import Sign from '$lib/ui/Sign.svelte';
  import { Copy, Group as WrapIcon, Shapes, Trash2, Ungroup } from '@lucide/svelte';
  import { Tabs } from 'bits-ui';
  import { elementNamed } from '$lib/core/elements';
  import type { SettingsTab } from '$lib/core/checks/places';
  import type { Path } from '$lib/core/schema/path';
  import type { Screen } from '$lib/core/schema/style';
  import { knownSelectors, knownVariables } from '$lib/core/styles/known';
  import { completeTheme } from '$lib/core/theme/theme';
  import { onMount, untrack } from 'svelte';
  import Tip from '$lib/ui/Tip.svelte';
  import type { Workbench } from '../state/workbench.svelte';

  let {
    wb,
    screen,
    rule,
    onwidths,
    oncorrect,
  }: {
    wb: Workbench;
    screen: Screen;
    /** Begins with the rule. */
    rule: boolean;
    onwidths: (widths: Screen) => void;
    oncorrect: (path: Path) => void;
  } = $props();

  /** Milliseconds after which what may be opened next is loaded. */
  const PRELOAD_AFTER = 500;

  const element = $derived(wb.element(wb.selection.id) ?? wb.element(wb.tree.root)!);
  const kind = $derived(elementNamed(element.kind));
  const isRoot = $derived(element.id === wb.tree.root);
  const slots = $derived(Object.entries(kind?.slots ?? {}));
  /** The loop whose list visitors may choose from: one over records, in no other loop. */
  const visited = $derived.by(() => {
    const made = wb.compiledOf(element.id);
    return made?.loop && !made.loop.scope.fields && !made.scopes.loops.length ? made.loop.scope : undefined;
  });
  const tabs = $derived([
    ...(kind?.loop ? [{ value: 'repeats', label: 'Repeats' }] : []),
    ...(element.kind === 'alternatives' ? [{ value: 'branches', label: 'Branches' }] : []),
    ...(visited ? [{ value: 'visitors', label: 'Visitors' }] : []),
    ...(slots.length ? [{ value: 'values', label: 'Values' }] : []),
    { value: 'looks', label: 'Looks' },
    { value: 'css', label: `Own CSS${element.css?.trim() ? ' ·' : ''}` },
    { value: 'rule', label: `Appears${element.rule?.rules.length ? ' by rule' : ''}` },
  ]);
  // Beside the coverage it is the rule that is worked on.
  let wanted: SettingsTab = $state(untrack(() => (rule || wb.view === 'coverage' ? 'rule' : 'values')));
  $effect(() => {
    const { asked } = wb;
    // A rule is that of one element; looks are set for one after the other.
    if (asked && !(asked.placed && ['looks', 'css'].includes(untrack(() => wanted)))) wanted = asked.tab;
  });
  const tab = $derived(tabs.some((t) => t.value === wanted) ? wanted : (tabs[0]?.value ?? 'looks'));
  /** What is known of its rule without any record, and of its place among alternatives. */
  const certain = $derived(
    [
      ...new Set([
        ...(tab === 'rule' ? [wb.saidOfRule(element.id) ?? ''] : []),
        ...wb.looseEnds.filter((end) => end.elementId === element.id && end.via === 'rule').map((end) => end.what),
      ]),
    ].filter(Boolean),
  );
  const several = $derived(wb.selection.chosen.length);

  onMount(() => {
    // A pane that cannot be loaded now is asked for again when it is opened, and says so then.
    const preload = () => Object.values(PANES).forEach((load) => void load().catch(() => undefined));
    const timer = setTimeout(preload, PRELOAD_AFTER);
    return () => clearTimeout(timer);
  });

  /** The dock takes as much of the height as the designer gives it. */
  let height = $state(256);
  const settle = (to: number) => (height = Math.round(Math.min(560, Math.max(112, to))));
  function resize(event: PointerEvent) {
    const [from, start] = [event.clientY, height];
    const handle = event.currentTarget as HTMLElement;
    handle.setPointerCapture(event.pointerId);
    const move = (now: PointerEvent) => settle(start + from - now.clientY);
    handle.addEventListener('pointermove', move);
    handle.addEventListener('lostpointercapture', () => handle.removeEventListener('pointermove', move), {
      once: true,
    });
  }
  const actions = $derived([
    { words: 'Put into a box', keys: 'Ctrl G', icon: WrapIcon, off: false, run: () => wb.commands.wrap('box') },
    {
      words: 'Take it away, and leave what it holds',
      keys: 'Ctrl Shift G',
      icon: Ungroup,
      off: !element.children.length,
      run: () => wb.commands.unwrap(element.id),
    },
    {
      words: 'Make it a part, for other loops and templates too',
      keys: '',
      icon: Shapes,
      off: wb.template.purpose === 'frame',
      run: () => void wb.commands.share(element.id),
    },
    { words: 'Duplicate', keys: 'Ctrl D', icon: Copy, off: false, run: () => wb.commands.duplicate() },
    { words: 'Remove', keys: 'Delete', icon: Trash2, off: false, run: () => wb.commands.remove() },
  ]);
</script>

<section
  aria-label="Settings of {wb.nameOf(element.id)}"
  class="relative flex shrink-0 flex-col border-t border-hairline bg-paper"
  style="height:{height}px"
>
  <!-- svelte-ignore a11y_no_noninteractive_tabindex, a11y_no_noninteractive_element_interactions -->
  <div
    role="separator"
    aria-orientation="horizontal"
    aria-label="Height of the settings"
    aria-valuenow={height}
    aria-valuemin={112}
    aria-valuemax={560}
    tabindex="0"
    class="absolute inset-x-0 -top-1 z-10 h-2 cursor-row-resize touch-none"
    onpointerdown={resize}
    onkeydown={(event) => {
      if (event.key === 'ArrowUp') settle(height + 32);
      else if (event.key === 'ArrowDown') settle(height - 32);
      else return;
      event.preventDefault();
      event.stopPropagation();
    }}
  ></div>
  <Tabs.Root value={tab} onValueChange={(value) => (wanted = value as SettingsTab)} class="flex min-h-0 grow flex-col">
    <div class="flex h-9 shrink-0 items-center gap-3 border-b border-hairline pr-2 pl-3">
      <Sign sign={kind?.sign} size={15} class="text-faded" />
      {#if several > 1}
        <span class="font-semibold">{several} elements</span>
        <span class="text-faded">shown: {wb.nameOf(element.id)}</span>
      {:else}
        <input
          class="w-36 border-transparent! bg-transparent! px-1! font-semibold hover:border-hairline!"
          aria-label="Name of the element"
          value={element.name ?? ''}
          placeholder={kind?.label}
          readonly={wb.looking}
          onchange={(e) =>
            wb.edit(`Renamed ${wb.nameOf(element.id)}`, {
              do: 'put',
              id: element.id,
              at: ['name'],
              value: e.currentTarget.value.trim() || undefined,
            })}
        />
      {/if}
      <Tabs.List class="flex h-full gap-1">
        {#each tabs as one (one.value)}
          <Tabs.Trigger
            value={one.value}
            class="h-full border-b-2 border-transparent px-2 whitespace-nowrap text-faded data-[state=active]:border-plum data-[state=active]:text-ink"
            >{one.label}</Tabs.Trigger
          >
        {/each}
      </Tabs.List>
      {#if !isRoot && !wb.looking}
        <div class="ml-auto flex shrink-0">
          {#each actions as one (one.words)}
            <Tip words={one.words} keys={one.keys}>
              {#snippet children(props)}
                <button
                  {...props}
                  type="button"
                  aria-label={one.words}
                  aria-disabled={one.off}
                  class="flex size-7 items-center justify-center rounded-sm text-faded hover:bg-linen hover:text-ink aria-disabled:opacity-40"
                  onclick={() => !one.off && one.run()}><one.icon size={15} /></button
                >
              {/snippet}
            </Tip>
          {/each}
        </div>
      {/if}
    </div>
    <div class="min-h-0 grow overflow-y-auto">
      {#each wb.looseEnds.filter((end) => end.elementId === element.id && ['level', 'about', 'props', 'style', 'contrast'].includes(end.via)) as end, i (i)}
        <p class="bg-ochre px-3 py-1">{end.what} {end.fix}</p>
      {/each}
      <LookOnly allowed={!wb.looking}>
        <Tabs.Content value="repeats"
          >{#if kind?.loop && tab === 'repeats'}
            {#await PANES.loop() then { default: LoopEditor }}<LoopEditor {wb} {element} />{/await}
          {/if}</Tabs.Content
        >
        <Tabs.Content value="branches"
          >{#if tab === 'branches'}
            {#await PANES.branches() then { default: BranchesEditor }}<BranchesEditor {wb} {element} />{/await}
          {/if}</Tabs.Content
        >
        <Tabs.Content value="visitors"
          >{#if visited && tab === 'visitors'}
            {#await PANES.visitors() then { default: VisitorsEditor }}
              <VisitorsEditor {wb} {element} scopes={{ loops: [visited] }} />
            {/await}
          {/if}</Tabs.Content
        >
        <Tabs.Content value="values">
          {#await PANES.values() then { default: SlotEditor }}
            {#each slots as [name, slot] (`${element.id} ${name}`)}<SlotEditor
                {wb}
                {element}
                {name}
                {slot}
                {oncorrect}
              />{/each}
          {/await}
        </Tabs.Content>
        <Tabs.Content value="looks">
          <!-- Many controls: they are there only while they are looked at. -->
          {#if tab === 'looks'}
            {#await PANES.looks() then [{ default: PropControls }, { default: StylePanel }]}
              {#if kind}<PropControls {wb} {element} {kind} />{/if}
              <StylePanel {wb} {element} {screen} {onwidths} />
            {/await}
          {/if}
        </Tabs.Content>
        <Tabs.Content value="css">
          {#if tab === 'css'}{#await import('./CssInput.svelte') then { default: CssInput }}
              {#key element.id}
                <CssInput
                  value={element.css ?? ''}
                  label="Own CSS of {wb.nameOf(element.id)}"
                  variables={knownVariables(completeTheme(wb.theme))}
                  selectors={knownSelectors(kind?.boxes)}
                  onchange={(css) =>
                    wb.edit(`Wrote own CSS of ${wb.nameOf(element.id)}`, {
                      do: 'put',
                      id: element.id,
                      at: ['css'],
                      value: css || undefined,
                    })}
                />
              {/key}
            {/await}{/if}
        </Tabs.Content>
        <Tabs.Content value="rule"
          >{#if tab === 'rule'}
            {#await PANES.rule() then { default: RulePanel }}
              <RulePanel {wb} {element} {certain} {oncorrect} />
            {/await}
          {/if}</Tabs.Content
        >
      </LookOnly>
    </div>
  </Tabs.Root>
</section>
