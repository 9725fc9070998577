<script lang="ts">
  import Button from '$lib/ui/Button.svelte';
  import Sheet from '$lib/ui/Sheet.svelte';
  import { learnIcons, type Icon } from '$lib/core/base/icons';
  import { api } from '../base/api';
  import { failureWords } from '../base/request';
  import Drawn from './Drawn.svelte';
  import type { InputProps } from './input';

  let { field, value, id, describedby, onchange }: InputProps = $props();

  let open = $state(false);
  let search = $state('');
  const name = $derived(typeof value === 'string' ? value : '');
  let found: { icons: readonly Icon[]; total: number } | undefined = $state.raw();
  let failed = $state('');
  /** So many are drawn at once; a search brings the others. */
  const MOST = 240;
  let latest = 0;
  $effect(() => {
    if (!open) return;
    const job = ++latest;
    api('GET /icons', { query: { search: search.slice(0, 100), per_page: MOST } })
      .then(({ items, total }) => {
        learnIcons(items);
        if (job === latest) [found, failed] = [{ icons: items, total }, ''];
      })
      .catch((error: unknown) => (failed = failureWords(error)));
  });
</script>

<span class="flex items-center gap-2">
  <span
    class="flex size-8 items-center justify-center rounded-sm border border-hairline bg-paper text-xl"
    aria-hidden="true"><Drawn {name} /></span
  >
  <Button {id} aria-describedby={describedby} onclick={() => (open = true)}
    >{name ? name.replace(/-/g, ' ') : 'Choose an icon'}</Button
  >
  {#if name}<Button tone="bare" aria-label="Take the icon of {field.label} away" onclick={() => onchange(null)}
      >×</Button
    >{/if}
</span>

<Sheet
  bind:open
  wide
  title="Icon for {field.label}"
  about={found
    ? `${found.total.toLocaleString('en-GB')} of the icons that ship with the application${found.total > MOST ? `; the first ${MOST} are drawn, a word finds the others` : ''}.`
    : 'The icons are on their way.'}
>
  <input
    type="search"
    class="w-72"
    placeholder="Find by name or meaning"
    aria-label="Find an icon"
    bind:value={search}
  />
  {#if failed}<p role="alert" class="mt-2 text-madder">{failed}</p>{/if}
  <div class="mt-3 grid grid-cols-[repeat(auto-fill,minmax(6.5rem,1fr))] gap-1">
    {#each found?.icons ?? [] as icon (icon.name)}
      <button
        type="button"
        class="flex flex-col items-center gap-1 rounded-sm border px-1 py-2 text-xs hover:border-faded {icon.name ===
        name
          ? 'border-plum bg-linen'
          : 'border-transparent'}"
        aria-pressed={icon.name === name}
        onclick={() => {
          onchange(icon.name);
          open = false;
        }}
      >
        <span class="text-2xl"><Drawn name={icon.name} /></span>
        <span class="w-full truncate text-center">{icon.name.replace(/-/g, ' ')}</span>
      </button>
    {:else}
      <p class="col-span-full text-faded">
        {found ? 'No icon is called so. Try another word, such as “water” or “way”.' : ''}
      </p>
    {/each}
  </div>
</Sheet>
