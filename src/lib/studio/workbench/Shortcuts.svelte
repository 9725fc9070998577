<script lang="ts">
  import Sheet from '$lib/ui/Sheet.svelte';

  let { open = $bindable() }: { open: boolean } = $props();

  const SHORTCUTS = [
    ['1, 2, 3', 'The page, the proof sheet, the coverage'],
    [', and .', 'The record before, and the next one'],
    ['Ctrl Z, Ctrl Shift Z', 'Undo, redo'],
    ['Ctrl C, X, V', 'Copy, cut, paste elements, between templates too'],
    ['Ctrl D', 'Duplicate what is selected'],
    ['Ctrl G, Ctrl Shift G', 'Put into a box; take the box away'],
    ['Delete', 'Remove what is selected'],
    ['n and p', 'Select the next element, and the one before'],
    ['Escape', 'Select what holds the selected element; let go of what is dragged'],
    ['Enter', 'On the shelf: bind the selected element, or put the value on the page; with Shift, with its label'],
    ['F2', 'Change the value that the selected element shows, or suppose it otherwise'],
    ['l', 'Let go of everything that is supposed'],
    ['Arrows', 'Walk through outline or shelf, fold and unfold; with Shift select more'],
    ['Alt and arrows', 'Move the selected element, in the outline: up, down, out, in'],
    ['+', 'Place an element'],
    ['?', 'This list'],
  ];
</script>

<Sheet bind:open title="Shortcuts">
  <dl class="grid grid-cols-[auto_1fr] gap-x-4 gap-y-1.5">
    {#each SHORTCUTS as [key, words] (key)}<dt class="font-mono text-xs leading-5">{key}</dt>
      <dd>{words}</dd>{/each}
  </dl>
</Sheet>
