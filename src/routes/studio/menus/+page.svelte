<script lang="ts">
  import { may } from '$lib/studio/people/me';
  import LookOnly from '$lib/studio/people/LookOnly.svelte';
  import { Plus } from '@lucide/svelte';
  import { invalidateAll } from '$app/navigation';
  import { failureWords } from '$lib/studio/base/request';
  import { api } from '$lib/studio/base/api';
  import MenuEditor from '$lib/studio/serving/MenuEditor.svelte';
  import Button from '$lib/ui/Button.svelte';

  let { data } = $props();

  let chosen: string | undefined = $state();
  let said = $state('');
  const menu = $derived(data.model.menus.find(({ id }) => id === chosen) ?? data.model.menus[0]);

  async function add() {
    said = '';
    try {
      const types = data.model.types.map(({ id }, i) => ({
        id: `e${i + 1}`,
        leads: { to: 'type', typeId: id },
        below: [],
      }));
      const created = await api('POST /menus', {
        body: {
          name: data.model.menus.length ? 'Another menu' : 'Main menu',
          entries: data.model.menus.length ? [] : types,
        },
      });
      await invalidateAll();
      chosen = created.id;
    } catch (error) {
      said = failureWords(error);
    }
  }
  async function remove(id: string) {
    said = '';
    try {
      await api('DELETE /menus/{menuId}', { menuId: id });
      chosen = undefined;
      await invalidateAll();
    } catch (error) {
      said = failureWords(error);
    }
  }
</script>

<svelte:head><title>Menus · Plum Thread</title></svelte:head>

<main class="min-h-0 grow overflow-y-auto px-8 py-5">
  <div class="flex items-end gap-4">
    <h1 class="text-3xl font-medium">Menus</h1>
    <p class="pb-1 text-faded">
      Links in an order, for the frame and any template. An entry whose record is a draft is left out by itself.
    </p>
    {#if may('createMenu')}<Button class="ml-auto" tone="main" onclick={add}><Plus size={15} />New menu</Button>{/if}
  </div>
  {#if said}<p role="alert" class="mt-3 rounded-sm bg-ochre px-3 py-2">{said}</p>{/if}
  {#if menu}
    <div class="mt-5 grid max-w-6xl grid-cols-[13rem_minmax(0,1fr)] gap-8">
      <ul aria-label="Menus">
        {#each data.model.menus as one (one.id)}
          <li>
            <button
              type="button"
              aria-current={one.id === menu.id ? 'true' : undefined}
              class="block w-full rounded-sm px-2 py-1 text-left {one.id === menu.id
                ? 'bg-linen-deep font-medium'
                : 'hover:bg-linen-deep'}"
              onclick={() => (chosen = one.id)}
              >{one.name}<span class="block text-xs font-normal text-faded"
                >{data.uses[one.id]?.length
                  ? `stands in ${data.uses[one.id]?.map(({ name }) => name).join(', ')}`
                  : 'stands nowhere yet'}</span
              ></button
            >
          </li>
        {/each}
      </ul>
      <section aria-label={menu.name}>
        <LookOnly allowed={may('saveMenu')}>
          {#key menu.id}<MenuEditor
              {menu}
              model={data.model}
              titles={data.titles}
              onsaved={() => void invalidateAll()}
            />{/key}
        </LookOnly>
        <p class="mt-6 flex items-baseline gap-4">
          {#if !data.uses[menu.id]?.length}<span class="text-faded"
              >Place the element “Menu” in a frame at the workbench, and choose this one.</span
            >{/if}
          {#if may('deleteMenu')}<button
              type="button"
              class="text-madder underline underline-offset-2"
              onclick={() => remove(menu.id)}>Delete this menu</button
            >{/if}
        </p>
      </section>
    </div>
  {:else}
    <div class="mt-8 max-w-md">
      <p class="font-display text-xl">No menu yet</p>
      <p class="mt-1 mb-3 text-faded">The first one begins with the archives of the content types.</p>
      {#if may('createMenu')}<Button tone="main" onclick={add}>Make the main menu</Button>{/if}
    </div>
  {/if}
</main>
