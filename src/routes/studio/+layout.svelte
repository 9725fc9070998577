<script lang="ts">
  import '../../app.css';
  import { Tooltip } from 'bits-ui';
  import { onMount } from 'svelte';
  import { page } from '$app/state';
  import UndoBar from '$lib/studio/base/UndoBar.svelte';
  import Untold from '$lib/studio/base/Untold.svelte';

  import { screensFor } from '$lib/core/people/screens';
  import AccountMenu from '$lib/studio/people/AccountMenu.svelte';

  let { data, children } = $props();
  const places = $derived(screensFor(data.me.role));
  const here = (at: string) =>
    at === '/studio'
      ? page.url.pathname === at || page.url.pathname.startsWith('/studio/workbench')
      : page.url.pathname.startsWith(at);

  // Screens are seen before they can be used; from here on they can.
  onMount(() => void (document.documentElement.dataset.live = ''));
</script>

<Tooltip.Provider delayDuration={350}>
  <div class="flex h-screen min-w-[64rem] flex-col">
    <header class="flex h-10 shrink-0 items-center gap-4 bg-plum px-4 text-paper">
      <a href="/studio" class="font-display text-[17px] font-medium focus-visible:outline-paper">Plum Thread</a>
      <nav aria-label="Studio" class="flex h-full min-w-0 gap-1 overflow-x-auto overflow-y-hidden">
        {#each places as place (place.at)}
          <a
            href={place.at}
            aria-current={here(place.at) ? 'page' : undefined}
            class="flex items-center border-b-2 px-2 focus-visible:outline-paper {here(place.at)
              ? 'border-paper'
              : 'border-transparent hover:border-paper/50'}">{place.label}</a
          >
        {/each}
      </nav>
      <a
        href="/"
        class="ml-auto whitespace-nowrap underline-offset-4 hover:underline focus-visible:outline-paper"
        target="_blank">Look at the site</a
      >
      <AccountMenu name={data.me.name} role={data.me.role} />
    </header>
    {@render children()}
    <UndoBar />
    <Untold />
  </div>
</Tooltip.Provider>
