<script lang="ts">
  import '../../app.css';
  import { Tooltip } from 'bits-ui';
  import { page } from '$app/state';
  import UndoBar from '$lib/studio/UndoBar.svelte';

  let { children } = $props();
  const places = [
    { label: 'Desk', at: '/studio' },
    { label: 'Content', at: '/studio/content' },
    { label: 'Rules', at: '/studio/rules' },
    { label: 'Serves', at: '/studio/serves' },
    { label: 'Menus', at: '/studio/menus' },
    { label: 'Theme', at: '/studio/theme' },
    { label: 'Release', at: '/studio/release' },
    { label: 'Published', at: '/studio/site' },
    { label: 'Library', at: '/studio/library' },
    { label: 'Terms', at: '/studio/terms' },
    { label: 'Authors', at: '/studio/authors' },
    { label: 'Removed', at: '/studio/removed' },
  ];
  const here = (at: string) =>
    at === '/studio'
      ? page.url.pathname === at || page.url.pathname.startsWith('/studio/workbench')
      : page.url.pathname.startsWith(at);
</script>

<Tooltip.Provider delayDuration={350}>
  <div class="flex h-screen min-w-[64rem] flex-col">
    <header class="flex h-10 shrink-0 items-center gap-6 bg-plum px-4 text-paper">
      <a href="/studio" class="font-display text-[17px] font-medium focus-visible:outline-paper">Plum Thread</a>
      <nav aria-label="Studio" class="flex h-full gap-1">
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
      <a href="/" class="ml-auto underline-offset-4 hover:underline focus-visible:outline-paper" target="_blank"
        >Look at the site</a
      >
    </header>
    {@render children()}
    <UndoBar />
  </div>
</Tooltip.Provider>
