<script lang="ts">
  import { counted } from '$lib/core/base/counted';
  import Button from '$lib/ui/Button.svelte';
  import type { Workbench } from '../state/workbench.svelte';
  import type { Head } from '../../survey/messages';
  import Page from './Page.svelte';

  let {
    wb,
    heads,
    width,
    css,
    onopen,
    onclose,
  }: {
    wb: Workbench;
    heads: Head[];
    width: number;
    css: string;
    onopen: (head: Head) => void;
    onclose: () => void;
  } = $props();

  let fits = $state(false);
  let room = $state(600);
  let heights: Record<number, number> = $state({});
  const panes: Record<number, HTMLElement> = {};
  const scale = $derived(fits ? Math.min(1, (room - 16) / width) : 1);

  /** All panes stand at the same place of their pages. */
  function follow(from: HTMLElement) {
    for (const pane of Object.values(panes)) {
      if (pane === from) continue;
      if (pane.scrollTop !== from.scrollTop) pane.scrollTop = from.scrollTop;
      if (pane.scrollLeft !== from.scrollLeft) pane.scrollLeft = from.scrollLeft;
    }
  }
</script>

<section aria-label="Side by side" class="flex min-h-0 grow flex-col">
  <div class="flex h-11 shrink-0 items-center gap-3 border-b border-hairline bg-linen px-3">
    <Button onclick={onclose}>Back to the proof sheet</Button>
    <span class="text-faded">{counted(heads.length, 'page')}, {width} pixels wide; they scroll together.</span>
    <label class="ml-auto flex items-center gap-1.5"><input type="checkbox" bind:checked={fits} />Make them fit</label>
  </div>
  <div
    class="grid min-h-0 grow gap-px bg-hairline"
    style="grid-template-columns: repeat({heads.length}, minmax(0, 1fr))"
  >
    {#each heads as head (head.id)}
      {@const look = wb.survey.looks.get(head.id)}
      <div class="flex min-h-0 flex-col bg-linen-deep">
        <div class="flex shrink-0 items-center gap-2 bg-paper px-3 py-1.5">
          <strong class="truncate">{head.title}</strong>
          {#if look?.hidden.length}<span
              class="shrink-0 truncate text-xs text-weld"
              title={look.hidden.map((id) => wb.titleOf(id)).join(', ')}>{look.hidden.length} hidden</span
            >{/if}
          <Button class="ml-auto" onclick={() => onopen(head)}>Design with it</Button>
        </div>
        <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
        <div
          class="min-h-0 grow overflow-auto p-2"
          bind:this={panes[head.id]}
          bind:clientWidth={room}
          onscroll={(event) => follow(event.currentTarget)}
          role="region"
          aria-label="Page of {head.title}"
          tabindex="0"
        >
          {#if look}
            <div class="overflow-hidden" style="width:{width * scale}px; height:{(heights[head.id] ?? 900) * scale}px">
              <div class="origin-top-left" style="transform:scale({scale}); width:{width}px">
                <Page
                  html={look.html}
                  css={css + look.css}
                  label="Page of {head.title}"
                  locale={wb.index.site.locale}
                  {width}
                  onheight={(height) => (heights[head.id] = height)}
                />
              </div>
            </div>
          {/if}
        </div>
      </div>
    {/each}
  </div>
</section>
