<script lang="ts">
  let {
    page,
    shown,
  }: {
    page: {
      address: string;
      was?: string;
      title: string;
      how: 'changed' | 'looks' | 'moved' | 'new' | 'gone';
    };
    /** The release that visitors see. */
    shown: number;
  } = $props();

  const WIDTH = 1200;
  const HEIGHT = 1300;
  let room = $state(300);
  const scale = $derived(room / WIDTH);
  const HOW = { changed: 'changes', looks: 'looks otherwise', moved: 'moves', new: 'is new', gone: 'goes' };
  const sides = $derived([
    { label: 'Now', state: String(shown), address: page.how === 'new' ? undefined : (page.was ?? page.address) },
    { label: 'With this release', state: 'draft', address: page.how === 'gone' ? undefined : page.address },
  ]);
  const src = (state: string, address: string) =>
    `/studio/preview/${state}${address.startsWith('/') ? address : '/no-page-here'}`;
</script>

<figure class="min-w-0" data-affected={page.address}>
  <figcaption class="mb-1 flex items-baseline gap-2">
    <span class="min-w-0 truncate font-medium">{page.title}</span>
    <span class="shrink-0 text-faded">{HOW[page.how]}</span>
    <span class="ml-auto min-w-0 truncate font-mono text-xs text-faded"
      >{#if page.was}{decodeURI(page.was)} →
      {/if}{decodeURI(page.address)}</span
    >
  </figcaption>
  <div class="grid grid-cols-2 gap-2">
    {#each sides as side (side.label)}
      <div>
        <p class="dye-label">{side.label}</p>
        <div
          class="overflow-hidden border border-hairline bg-linen-deep"
          style="height:{HEIGHT * scale}px"
          bind:clientWidth={room}
        >
          {#if side.address}
            <iframe
              title="{page.title}, {side.label.toLowerCase()}"
              sandbox="allow-same-origin"
              loading="lazy"
              tabindex="-1"
              src={src(side.state, side.address)}
              class="pointer-events-none block origin-top-left border-0 bg-paper"
              style="width:{WIDTH}px; height:{HEIGHT}px; transform:scale({scale})"
            ></iframe>
          {:else}<p class="p-3 text-faded">There is no such page.</p>{/if}
        </div>
      </div>
    {/each}
  </div>
</figure>
