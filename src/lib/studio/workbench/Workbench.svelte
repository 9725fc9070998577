<script lang="ts">
  import { may } from '../people/me';
  import { onOthers } from '../base/others';
  import { PanelLeftClose, PanelLeftOpen, ZoomIn, ZoomOut } from '@lucide/svelte';
  import { onMount, tick, untrack } from 'svelte';
  import { beforeNavigate, invalidateAll } from '$app/navigation';
  import { page } from '$app/state';
  import { addressOf } from '$lib/core/addresses/addresses';
  import { servesWords } from '$lib/core/serving/targets';
  import { addressOfArchive } from '$lib/core/addresses/archives';
  import Tip from '$lib/ui/Tip.svelte';
  import { TABS } from '$lib/core/checks/places';
  import type { Path } from '$lib/core/schema/path';
  import { screenOf } from '$lib/core/styles/style';
  import type { Screen } from '$lib/core/schema/style';
  import { questionOf } from '$lib/core/loops/visitors';
  import { usesOf } from '$lib/core/templates/tree';
  import Canvas from './canvas/Canvas.svelte';
  import { changeable, type Changeable } from './state/suppose';
  import DragLabel from './canvas/DragLabel.svelte';
  import DropMenu from './canvas/DropMenu.svelte';
  import { Drag } from './canvas/drag.svelte';
  import LooseEnds from './LooseEnds.svelte';
  import Outline from './outline/Outline.svelte';
  import RecordStrip from './records/RecordStrip.svelte';
  import Settings from './settings/Settings.svelte';
  import Shelf from './shelf/Shelf.svelte';
  import Supposed from './records/Supposed.svelte';
  import Threads from './shelf/Threads.svelte';
  import Unsaved from './versions/Unsaved.svelte';
  import WhatWasDone from './versions/WhatWasDone.svelte';
  import { Workbench, type WorkbenchData } from './state/workbench.svelte';

  let { data }: { data: WorkbenchData } = $props();

  /** Milliseconds after the last edit until all pages are looked through. */
  const REST = 700;
  /** Milliseconds after the last edit until the site is asked for lists. */
  const MOMENT = 60;

  // svelte-ignore state_referenced_locally
  const wb = new Workbench({ ...data, looking: !may('editTemplate') });
  // What was brought back, or changed in another tab, is here at once.
  let first = true;
  $effect(() => {
    const now = data;
    untrack(() => {
      if (!first) wb.follow(now);
      // What cannot be fetched now is not here; lists say so.
      wb.fetchMore().catch(() => undefined);
    });
    first = false;
  });
  // Lists over records that are not all here are asked of the site, once the hand rests.
  $effect(() => {
    const { asked } = wb.lists;
    if (!asked) return;
    const timer = setTimeout(() => void wb.lists.ask(asked), MOMENT);
    return () => clearTimeout(timer);
  });
  // Pages that lack something are looked for once there is time.
  $effect(() => {
    const { tree } = wb;
    void [wb.model, wb.records, wb.parts, wb.template.serves];
    if (wb.template.purpose !== 'record' && wb.template.purpose !== 'archive') return;
    const timer = setTimeout(() => untrack(() => wb.survey.judge(tree, Boolean(data.titled))), REST);
    return () => clearTimeout(timer);
  });
  const asked = page.url.searchParams;
  const drag = new Drag((drop) => wb.drop(drop));
  let beat = $state(0);
  let sides = $state(true);
  let keys = $state(false);
  // A part is seen as wide as there is room: it is rarely as wide as a page.
  let width = $state(untrack(() => (wb.template.purpose === 'part' ? 0 : 1280)));
  let zoomed = $state(true);
  let versions = $state(false);
  let correcting: Changeable | undefined = $state.raw();
  /** Sheets are loaded when they are first needed, and stay from then on, so that they can close. */
  const used = $state({ rule: false, versions: false, change: false, serves: false, shortcuts: false });
  $effect(() => {
    if (wb.rules.editing) used.rule = true;
    if (versions) used.versions = true;
    if (correcting) used.change = true;
    if (serving) used.serves = true;
    if (keys) used.shortcuts = true;
  });
  /** The room there is, where the page is as wide as that. */
  let room = $state(900);
  const screen = $derived(screenOf(width || room));
  const WIDTHS: Record<Screen, number> = { wide: 1280, medium: 768, narrow: 390 };

  function correct(path: Path) {
    correcting = changeable(wb, path, wb.scopesAt(wb.selection.id));
  }
  /** Changes what an element says: the value it is bound to, or its own words in the settings. */
  function editElement(id: string) {
    const uses = usesOf(wb.tree).filter((use) => use.elementId === id && use.via !== 'rule' && use.via !== 'repeats');
    const found = uses.map((use) => changeable(wb, use.path, wb.scopesAt(id))).find(Boolean);
    if (found) correcting = found;
    else void focusSlot();
  }
  async function focusSlot() {
    const editor = document.querySelector('[data-slot-editor]');
    if (!editor || editor.querySelector('[aria-busy]')) {
      // What is edited with is still on its way.
      await Promise.all([import('./settings/SlotEditor.svelte'), import('./settings/WordsInput.svelte')]);
      await tick();
    }
    document.querySelector<HTMLElement>('[data-slot-editor] input, [data-slot-editor] [role=textbox]')?.focus();
  }
  /** Told by shelf and outline whenever their rows may stand elsewhere. */
  const moved = () => {
    beat = untrack(() => beat) + 1;
  };

  const type = $derived(wb.index.type(wb.typeId));
  const address = $derived.by(() => {
    const { archive } = wb.preview;
    if (archive)
      return (
        addressOfArchive(archive, wb.index, wb.preview.page) +
        (archive.of === 'search' ? questionOf({ q: [archive.words] }) : '')
      );
    if (wb.template.purpose !== 'record') return undefined;
    // A made-up record is nowhere on the site.
    return wb.preview.record?.status === 'published' && !wb.preview.made
      ? addressOf(wb.preview.record, wb.index)
      : undefined;
  });
  const what = $derived(
    wb.template.purpose === 'part'
      ? type
        ? `Part that shows a ${type.name.toLowerCase()}`
        : 'Part'
      : servesWords(wb.template, wb.index),
  );
  let serving = $state(false);
  /** Many pages can be looked at, but those of a part that shows no record. */
  const many = $derived(wb.template.purpose !== 'part' || Boolean(wb.typeId));
  const VIEWS = [
    { view: 'page', label: 'Page', key: '1' },
    { view: 'proof', label: 'Proof sheet', key: '2' },
    { view: 'coverage', label: 'Coverage', key: '3' },
  ] as const;
  /** Whether an event came from within something; what was closed by it is no longer where it was. */
  const within = (event: Event, what: string) =>
    event.composedPath().some((node) => node instanceof Element && node.matches(what));
  function onKey(event: KeyboardEvent) {
    const control = event.ctrlKey || event.metaKey;
    const typing = within(event, 'input:not([type=checkbox]), textarea, select, [role=dialog]');
    if (control && event.key.toLowerCase() === 'z' && !within(event, '[role=dialog]')) {
      event.preventDefault();
      if (event.shiftKey) wb.history.redo();
      else if (wb.looks.changed) wb.looks.takeBack();
      else wb.history.undo();
    } else if (typing || within(event, '[contenteditable=true], [data-popover-content]')) return;
    else if (control && event.key.toLowerCase() === 'd') {
      event.preventDefault();
      wb.commands.duplicate();
    } else if (control && event.key.toLowerCase() === 'g') {
      event.preventDefault();
      if (event.shiftKey) wb.commands.unwrap(wb.selection.id);
      else wb.commands.wrap('box');
    } else if (control || event.altKey) return;
    else if (event.key === 'Escape' && !drag.load && !drag.asking) wb.selection.parent();
    else if (event.key === 'F2') editElement(wb.selection.id);
    else if (event.key === '+') {
      // What opens has the keys at once: this one is not for it.
      event.preventDefault();
      document.querySelector<HTMLElement>('[aria-label="Place an element"]')?.click();
    } else if (event.key === 'n') wb.selection.step(1);
    else if (event.key === 'p') wb.selection.step(-1);
    else if (event.key === 'l') wb.preview.letGo();
    else if (event.key === ',') wb.preview.flip(-1);
    else if (event.key === '.') wb.preview.flip(1);
    else if (many && VIEWS.some(({ key }) => key === event.key))
      wb.view = VIEWS.find(({ key }) => key === event.key)?.view ?? 'page';
    else if (event.key === '?') keys = true;
    else if ((event.key === 'Delete' || event.key === 'Backspace') && !within(event, 'button, a')) wb.commands.remove();
  }

  /** Copying and pasting go through the clipboard as plain text, so that other templates can take it. */
  function onClip(event: ClipboardEvent) {
    if (within(event, 'input, textarea, select, [role=dialog], [contenteditable=true]')) return;
    if (event.type === 'paste') {
      const text = event.clipboardData?.getData('text/plain') ?? '';
      if (text.trim()) wb.clipboard.paste(text);
      event.preventDefault();
      return;
    }
    if (!window.getSelection()?.isCollapsed) return;
    const text = wb.clipboard.copy();
    if (!text) return;
    event.clipboardData?.setData('text/plain', text);
    event.preventDefault();
    if (event.type === 'cut') wb.commands.remove();
  }

  onMount(() => {
    // Addresses lead to an element, and to a record on screen.
    const [element, record] = [asked.get('element') ?? '', Number(asked.get('record'))];
    if (record) wb.preview.put(record);
    if (wb.element(element)) wb.selection.select(element);
    const tab = TABS.find((one) => one === asked.get('open'));
    if (tab) wb.open(tab);
    const warn = (event: BeforeUnloadEvent) => {
      if (wb.saving.state.is === 'saved') return;
      void wb.saving.now();
      event.preventDefault();
    };
    window.addEventListener('beforeunload', warn);
    const leave = onOthers(() => void invalidateAll());
    return () => {
      leave();
      window.removeEventListener('beforeunload', warn);
      wb.survey.close();
    };
  });
  beforeNavigate((navigation) => {
    if (navigation.willUnload || wb.saving.state.is === 'saved') return;
    void wb.saving.now();
    if (wb.saving.state.is === 'failed' && !confirm('Your last changes are not saved. Leave all the same?'))
      navigation.cancel();
  });
</script>

<svelte:window onkeydown={onKey} oncopy={onClip} oncut={onClip} onpaste={onClip} />
<svelte:head><title>{wb.template.name} · Plum Thread</title></svelte:head>

<div class="flex h-10 shrink-0 items-center gap-2 border-b border-hairline bg-paper px-3">
  <Tip words={sides ? 'Fold shelf and outline' : 'Unfold shelf and outline'}>
    {#snippet children(props)}
      <button
        {...props}
        type="button"
        aria-label={sides ? 'Fold shelf and outline' : 'Unfold shelf and outline'}
        aria-pressed={!sides}
        class="rounded-sm p-1 hover:bg-linen"
        onclick={() => (sides = !sides)}
      >
        {#if sides}<PanelLeftClose size={17} />{:else}<PanelLeftOpen size={17} />{/if}
      </button>
    {/snippet}
  </Tip>
  <h1 class="sr-only">{wb.template.name}</h1>
  <input
    class="w-52 border-transparent! bg-transparent! font-display text-base font-medium hover:border-hairline!"
    aria-label="Name of the template"
    value={wb.template.name}
    readonly={wb.looking}
    onchange={(e) => wb.saving.rename(e.currentTarget.value)}
  />
  {#if many}
    <div role="group" aria-label="What stands here" class="flex h-full shrink-0 items-stretch">
      {#each VIEWS as { view, label, key } (view)}
        <button
          type="button"
          aria-pressed={wb.view === view}
          title="{label} ({key})"
          class="border-b-2 px-2.5 {wb.view === view
            ? 'border-plum font-semibold'
            : 'border-transparent text-faded hover:text-ink'}"
          onclick={() => (wb.view = view)}>{label}</button
        >
      {/each}
    </div>
  {/if}
  {#if wb.template.purpose === 'part'}
    <span class="min-w-0 truncate text-faded">{what}</span>
  {:else}
    <Tip words="Change what it serves; visitors see it with the next release">
      {#snippet children(props)}
        <button
          {...props}
          type="button"
          class="min-w-0 truncate text-left text-faded underline-offset-4 hover:underline disabled:no-underline"
          disabled={wb.looking || wb.saving.state.is !== 'saved'}
          onclick={() => (serving = true)}>{what}</button
        >
      {/snippet}
    </Tip>
  {/if}
  {#if wb.looking}<span class="ml-auto text-faded">You look at it</span>
  {:else if wb.saving.state.is === 'failed'}<span class="ml-auto"></span>
  {:else}
    <span class="ml-auto" role="status" aria-live="polite" data-save={wb.saving.state.is}>
      {#if wb.saving.state.is === 'saved'}<span class="text-moss">Saved</span>{:else}<span class="text-faded"
          >Saving</span
        >{/if}
    </span>
  {/if}
  <LooseEnds {wb} />
  {#if !wb.looking}<WhatWasDone
      history={wb.history}
      about="template {wb.template.id}"
      onversions={() => (versions = true)}
    />{/if}
  <select aria-label="Width of the page on the canvas" bind:value={width}>
    <option value={1280}>Wide, 1280</option>
    <option value={768}>Medium, 768</option>
    <option value={390}>Narrow, 390</option>
    <option value={0}>Fluid</option>
  </select>
  <Tip words={zoomed ? 'Show the page at its full size' : 'Make the whole width fit'}>
    {#snippet children(props)}
      <button
        {...props}
        type="button"
        aria-label="Fit the width"
        aria-pressed={zoomed}
        class="rounded-sm p-1 hover:bg-linen"
        onclick={() => (zoomed = !zoomed)}
      >
        {#if zoomed}<ZoomIn size={17} />{:else}<ZoomOut size={17} />{/if}
      </button>
    {/snippet}
  </Tip>
  {#if address}<a
      href={address}
      target="_blank"
      class="rounded-sm px-2 py-1 text-plum underline-offset-2 hover:underline">On the site</a
    ><a
      href="/studio/site{address}"
      title="The published page, with why each part of it is there or not"
      class="rounded-sm px-1 py-1 text-plum underline-offset-2 hover:underline">Why</a
    >{/if}
  <button
    type="button"
    aria-label="Shortcuts"
    class="rounded-sm px-2 py-1 font-mono hover:bg-linen"
    onclick={() => (keys = true)}>?</button
  >
</div>

<Unsaved saving={wb.saving} />

<main
  class="grid min-h-0 grow {sides && wb.view === 'page'
    ? 'grid-cols-[232px_56px_232px_minmax(0,1fr)]'
    : 'grid-cols-[minmax(0,1fr)]'} {drag.load ? 'cursor-grabbing' : ''}"
>
  {#if sides && wb.view === 'page'}
    <Shelf {wb} {drag} {moved} oncorrect={(target) => (correcting = target)} />
    <Threads {wb} {beat} />
    <Outline {wb} {drag} {moved} />
  {/if}
  <div class="flex min-h-0 min-w-0 flex-col" bind:clientWidth={room}>
    {#if wb.view === 'page'}<RecordStrip {wb} /><Supposed {wb} />{/if}
    {#if wb.notice}
      <p role="alert" class="flex items-center gap-3 bg-ochre px-3 py-1">
        {wb.notice}<button type="button" class="ml-auto underline" onclick={() => (wb.notice = '')}>Close</button>
      </p>
    {/if}
    {#if wb.view === 'page'}<Canvas {wb} {drag} {width} {zoomed} onedit={editElement} />
    {:else if wb.view === 'proof'}
      {#await import('./proof/ProofSheet.svelte') then { default: ProofSheet }}<ProofSheet {wb} {width} />{/await}
    {:else}
      {#await import('./proof/Coverage.svelte') then { default: Coverage }}<Coverage {wb} />{/await}
    {/if}
    {#if wb.view === 'page' || (wb.view === 'coverage' && wb.selection.id !== wb.tree.root)}
      <Settings
        {wb}
        {screen}
        rule={asked.has('element')}
        onwidths={(next) => {
          wb.widths = next;
          // What holds only for narrower screens is seen on one of these.
          if (next !== 'wide' && screen !== next) width = WIDTHS[next];
        }}
        oncorrect={correct}
      />
    {/if}
  </div>
</main>

<DragLabel {drag} nameOf={(id) => wb.nameOf(id)} />
<DropMenu {drag} />
{#if used.rule}
  {#await import('./rules/KeptRule.svelte') then { default: KeptRule }}<KeptRule {wb} />{/await}
{/if}
{#if used.versions}
  {#await import('./versions/VersionsSheet.svelte') then { default: VersionsSheet }}
    <VersionsSheet {wb} bind:open={versions} />
  {/await}
{/if}
{#if used.change}
  {#await import('./records/ChangeSheet.svelte') then { default: ChangeSheet }}
    <ChangeSheet {wb} target={correcting} onclose={() => (correcting = undefined)} />
  {/await}
{/if}

{#if used.shortcuts}
  {#await import('./Shortcuts.svelte') then { default: Shortcuts }}<Shortcuts bind:open={keys} />{/await}
{/if}
{#if used.serves}
  {#await import('./serves/ServesSheet.svelte') then { default: ServesSheet }}
    <ServesSheet
      template={serving ? wb.template : undefined}
      model={wb.model}
      onclose={() => (serving = false)}
      onsaved={(template) => wb.servesNow(template)}
    />
  {/await}
{/if}
