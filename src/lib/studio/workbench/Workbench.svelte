<script lang="ts">
  import { PanelLeftClose, PanelLeftOpen, Redo2, Undo2 } from '@lucide/svelte';
  import { onMount, untrack } from 'svelte';
  import { beforeNavigate } from '$app/navigation';
  import { addressOf, archiveAddress } from '$lib/core/serving/addresses';
  import Button from '$lib/ui/Button.svelte';
  import Sheet from '$lib/ui/Sheet.svelte';
  import Tip from '$lib/ui/Tip.svelte';
  import Canvas from './Canvas.svelte';
  import { Drag } from './drag.svelte';
  import Outline from './Outline.svelte';
  import RecordStrip from './RecordStrip.svelte';
  import Settings from './Settings.svelte';
  import Shelf from './Shelf.svelte';
  import Threads from './Threads.svelte';
  import { Workbench, type WorkbenchData } from './workbench.svelte';

  let { data }: { data: WorkbenchData } = $props();

  // svelte-ignore state_referenced_locally
  const wb = new Workbench(data);
  const drag = new Drag();
  let beat = $state(0);
  let sides = $state(true);
  let keys = $state(false);
  let width = $state(1024);
  /** Told by shelf and outline whenever their rows may stand elsewhere. */
  const moved = () => {
    beat = untrack(() => beat) + 1;
  };

  const type = $derived(wb.index.type(wb.typeId));
  const address = $derived.by(() => {
    if (wb.template.purpose === 'archive') return type && archiveAddress(type.base, wb.page);
    return wb.record?.status === 'published' ? addressOf(wb.record, wb.index) : undefined;
  });
  const SHORTCUTS = [
    [', and .', 'The record before, and the next one'],
    ['Ctrl Z, Ctrl Shift Z', 'Undo, redo'],
    ['Ctrl D', 'Duplicate the selected element'],
    ['Delete', 'Remove the selected element'],
    ['Arrows', 'Walk through outline or shelf'],
    ['Alt ↑, Alt ↓', 'Move the selected element, in the outline'],
    ['Enter', 'On the shelf: bind the selected element, or put the value on the page'],
    ['Escape', 'Let go of what is dragged'],
    ['?', 'This list'],
  ];

  function onKey(event: KeyboardEvent) {
    const at = event.target as HTMLElement;
    const control = event.ctrlKey || event.metaKey;
    const typing = at.closest('input:not([type=checkbox]), textarea, select, [role=dialog]');
    if (control && event.key.toLowerCase() === 'z' && !at.closest('[role=dialog]')) {
      event.preventDefault();
      if (event.shiftKey) wb.redo();
      else wb.undo();
    } else if (typing) return;
    else if (control && event.key.toLowerCase() === 'd') {
      event.preventDefault();
      wb.duplicate(wb.selected);
    } else if (control || event.altKey) return;
    else if (event.key === ',') wb.flip(-1);
    else if (event.key === '.') wb.flip(1);
    else if (event.key === '?') keys = true;
    else if ((event.key === 'Delete' || event.key === 'Backspace') && !at.closest('button, a')) wb.remove(wb.selected);
  }

  onMount(() => {
    const warn = (event: BeforeUnloadEvent) => {
      if (wb.saving.is === 'saved') return;
      void wb.save();
      event.preventDefault();
    };
    window.addEventListener('beforeunload', warn);
    return () => window.removeEventListener('beforeunload', warn);
  });
  beforeNavigate((navigation) => {
    if (navigation.willUnload || wb.saving.is === 'saved') return;
    void wb.save();
    if (wb.saving.is === 'failed' && !confirm('Your last changes are not saved. Leave all the same?'))
      navigation.cancel();
  });
</script>

<svelte:window onkeydown={onKey} />
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
    onchange={(e) => wb.rename(e.currentTarget.value)}
  />
  <span class="text-faded"
    >{wb.template.purpose === 'record' ? 'Record page' : 'Archive page'} of {wb.template.purpose === 'record'
      ? `every ${type?.name.toLowerCase()}`
      : type?.plural.toLowerCase()}</span
  >
  <span class="ml-auto" role="status" aria-live="polite" data-save={wb.saving.is}>
    {#if wb.saving.is === 'saved'}<span class="text-moss">Saved</span>
    {:else if wb.saving.is === 'failed'}
      <span class="rounded-sm bg-ochre px-2 py-0.5">Not saved: {wb.saving.why}</span>
      {#if wb.saving.final}<Button onclick={() => location.reload()}>Load it as it is now</Button>{/if}
    {:else}<span class="text-faded">Saving</span>{/if}
  </span>
  <Tip words={wb.undoLabel ? `Undo: ${wb.undoLabel}` : 'Nothing to undo'} keys="Ctrl Z">
    {#snippet children(props)}
      <button
        {...props}
        type="button"
        aria-label="Undo"
        aria-disabled={!wb.undoLabel}
        class="rounded-sm p-1 hover:bg-linen aria-disabled:opacity-40"
        onclick={() => wb.undo()}><Undo2 size={17} /></button
      >
    {/snippet}
  </Tip>
  <Tip words={wb.redoLabel ? `Redo: ${wb.redoLabel}` : 'Nothing to redo'} keys="Ctrl Shift Z">
    {#snippet children(props)}
      <button
        {...props}
        type="button"
        aria-label="Redo"
        aria-disabled={!wb.redoLabel}
        class="rounded-sm p-1 hover:bg-linen aria-disabled:opacity-40"
        onclick={() => wb.redo()}><Redo2 size={17} /></button
      >
    {/snippet}
  </Tip>
  <select aria-label="Width of the page on the canvas" bind:value={width}>
    <option value={1280}>Wide, 1280</option>
    <option value={1024}>Wide, 1024</option>
    <option value={768}>Medium, 768</option>
    <option value={390}>Narrow, 390</option>
  </select>
  {#if address}<a
      href={address}
      target="_blank"
      class="rounded-sm px-2 py-1 text-plum underline-offset-2 hover:underline">On the site</a
    >{/if}
  <button
    type="button"
    aria-label="Shortcuts"
    class="rounded-sm px-2 py-1 font-mono hover:bg-linen"
    onclick={() => (keys = true)}>?</button
  >
</div>

<main
  class="grid min-h-0 grow {sides
    ? 'grid-cols-[232px_56px_232px_minmax(0,1fr)]'
    : 'grid-cols-[minmax(0,1fr)]'} {drag.load ? 'cursor-grabbing' : ''}"
>
  {#if sides}
    <Shelf {wb} {drag} {moved} />
    <Threads {wb} {beat} />
    <Outline {wb} {drag} {moved} />
  {/if}
  <div class="flex min-h-0 min-w-0 flex-col">
    <RecordStrip {wb} />
    <Canvas {wb} {drag} {width} />
    <Settings {wb} />
  </div>
</main>

{#if drag.load}
  <div
    class="pointer-events-none fixed z-50 max-w-72 rounded-sm bg-ink px-2 py-1 text-xs text-paper"
    style="left:{drag.x + 14}px; top:{drag.y + 16}px"
    data-drag
  >
    {drag.landing?.words ??
      (drag.load.what === 'value'
        ? drag.load.type.label
        : drag.load.what === 'new'
          ? 'Drag it onto the page or the outline'
          : wb.nameOf(drag.load.id))}
  </div>
{/if}

<Sheet bind:open={keys} title="Shortcuts">
  <dl class="grid grid-cols-[auto_1fr] gap-x-4 gap-y-1.5">
    {#each SHORTCUTS as [key, words] (key)}<dt class="font-mono text-xs leading-5">{key}</dt>
      <dd>{words}</dd>{/each}
  </dl>
</Sheet>
