<script lang="ts">
  import { History, Redo2, Undo2 } from '@lucide/svelte';
  import { Popover } from 'bits-ui';
  import PopoverContent from '$lib/ui/PopoverContent.svelte';
  import Button from '$lib/ui/Button.svelte';
  import Tip from '$lib/ui/Tip.svelte';
  import type { History as Edits } from '../state/history.svelte';

  let {
    history,
    about,
    onversions,
  }: {
    history: Edits;
    /** What the activity calls the template. */
    about: string;
    onversions: () => void;
  } = $props();
</script>

<Tip words={history.undoLabel ? `Undo: ${history.undoLabel}` : 'Nothing to undo'} keys="Ctrl Z">
  {#snippet children(props)}
    <button
      {...props}
      type="button"
      aria-label="Undo"
      aria-disabled={!history.undoLabel}
      class="rounded-sm p-1 hover:bg-linen aria-disabled:opacity-40"
      onclick={() => history.undo()}><Undo2 size={17} /></button
    >
  {/snippet}
</Tip>
<Tip words={history.redoLabel ? `Redo: ${history.redoLabel}` : 'Nothing to redo'} keys="Ctrl Shift Z">
  {#snippet children(props)}
    <button
      {...props}
      type="button"
      aria-label="Redo"
      aria-disabled={!history.redoLabel}
      class="rounded-sm p-1 hover:bg-linen aria-disabled:opacity-40"
      onclick={() => history.redo()}><Redo2 size={17} /></button
    >
  {/snippet}
</Tip>
<Popover.Root>
  <Popover.Trigger
    class="flex h-7 items-center gap-1 rounded-sm px-1.5 hover:bg-linen"
    aria-label="What was done"
    title="What was done"><History size={17} /></Popover.Trigger
  >
  <PopoverContent side="bottom" align="end" aria-label="What was done" class="flex max-h-[70vh] w-80 flex-col py-2">
    <ul class="min-h-0 overflow-y-auto">
      {#each [...history.undone].map( (edit, i) => ({ label: edit.label, count: history.done.length + history.undone.length - i, ahead: true }) ) as step (step.count)}
        <li>
          <button
            type="button"
            class="w-full px-3 py-1 text-left text-faded hover:bg-linen"
            onclick={() => history.goTo(step.count)}>{step.label}</button
          >
        </li>
      {/each}
      {#each history.done.map((edit, i) => ({ label: edit.label, count: i + 1 })).reverse() as step, i (step.count)}
        <li>
          <button
            type="button"
            aria-current={i === 0 ? 'step' : undefined}
            class="w-full px-3 py-1 text-left hover:bg-linen aria-[current]:font-semibold"
            onclick={() => history.goTo(step.count)}>{step.label}</button
          >
        </li>
      {/each}
      <li>
        <button type="button" class="w-full px-3 py-1 text-left hover:bg-linen" onclick={() => history.goTo(0)}
          >As it was when opened</button
        >
      </li>
    </ul>
    <div class="mt-2 border-t border-hairline px-3 pt-2">
      <Button onclick={() => onversions()}>Earlier versions</Button>
    </div>
    <div class="mt-2 px-3">
      {#await import('../../people/ActivityBeside.svelte') then { default: ActivityBeside }}
        <ActivityBeside subject={about} />
      {/await}
    </div>
  </PopoverContent>
</Popover.Root>
