<script lang="ts">
  import type { Element } from '$lib/core/schema/element';
  import { may } from '../../people/me';
  import type { Workbench } from '../state/workbench.svelte';

  let { wb, element }: { wb: Workbench; element: Element } = $props();

  const look = $derived(wb.looks.of(element));
  const allowed = $derived(may('saveTheme'));
  const differs = $derived([...wb.looks.differs(element)].length);
  /** Elements of this template that have it. */
  const users = $derived(Object.values(wb.tree.elements).filter((one) => one.look === look?.key).length);
  let naming = $state(false);
  let name = $state('');
  const hasLooks = $derived(Boolean(element.style));
  function keep() {
    if (!name.trim()) return;
    wb.looks.keep(element.id, name);
    naming = false;
    name = '';
  }
  const small = 'rounded-sm px-1.5 py-0.5 text-xs underline hover:bg-linen';
</script>

{#if look || wb.theme.looks.length || hasLooks}
  <div class="flex flex-wrap items-center gap-2 text-xs" data-named-look>
    {#if wb.theme.looks.length}
      <label class="flex items-center gap-1.5"
        >Named look
        <select
          class="h-6! min-h-0! py-0! text-xs"
          value={element.look ?? ''}
          onchange={(e) => wb.looks.put(element.id, e.currentTarget.value || undefined)}
        >
          <option value="">None</option>
          {#each wb.theme.looks as one (one.key)}<option value={one.key}>{one.name}</option>{/each}
        </select></label
      >
    {/if}
    {#if look}
      <span class="text-faded"
        >{users === 1 ? 'on this element alone here' : `on ${users} elements here`}{differs
          ? `; ${differs === 1 ? 'one thing is' : `${differs} things are`} otherwise`
          : ''}</span
      >
      {#if differs}
        <button
          type="button"
          class={small}
          onclick={() =>
            wb.edit(`Gave ${wb.nameOf(element.id)} its look again`, {
              do: 'put',
              id: element.id,
              at: ['style'],
              value: undefined,
            })}>As the look has it</button
        >
      {/if}
      {#if allowed}
        <button
          type="button"
          class="rounded-sm border px-1.5 py-0.5 text-xs {wb.looks.editing === look.key
            ? 'border-plum bg-ochre font-medium'
            : 'border-hairline hover:bg-linen'}"
          aria-pressed={wb.looks.editing === look.key}
          onclick={() => (wb.looks.editing = wb.looks.editing === look.key ? undefined : look.key)}
          >{wb.looks.editing === look.key
            ? `What is set now is set for everything that has ${look.name}`
            : `Change ${look.name} everywhere`}</button
        >
        {#if wb.looks.changed}
          <button type="button" class={small} onclick={() => wb.looks.takeBack()}>Take the last change back</button>
        {/if}
      {/if}
      <button type="button" class={small} onclick={() => wb.looks.apart(element.id)}>Take apart</button>
    {/if}
    {#if hasLooks && allowed}
      {#if naming}
        <form
          class="flex items-center gap-1"
          onsubmit={(e) => {
            e.preventDefault();
            keep();
          }}
        >
          <!-- svelte-ignore a11y_autofocus -->
          <input
            class="h-6! min-h-0! w-36 text-xs"
            aria-label="Name of the look"
            placeholder="such as Pill"
            maxlength="60"
            autofocus
            bind:value={name}
          />
          <button type="submit" class={small}>Keep</button>
        </form>
      {:else}
        <button type="button" class={small} onclick={() => (naming = true)}>Keep these looks under a name</button>
      {/if}
    {/if}
    {#if wb.looks.failed}<span role="alert" class="rounded-sm bg-ochre px-1">Not kept: {wb.looks.failed}</span>{/if}
  </div>
{/if}
