<script lang="ts">
  import { completeTheme, themeCss } from '$lib/core/theme/theme';
  import { emptyPage } from '../../base/frame';
  import type { Workbench } from '../state/workbench.svelte';

  let { wb, html, css, label }: { wb: Workbench; html: string; css: string; label: string } = $props();

  const WIDTH = 1024;
  let width = $state(320);
  const page = $derived(
    emptyPage(wb.index.site.locale, 'main{padding:1.5rem;max-width:none}', {
      own: themeCss(completeTheme(wb.theme)) + css,
      main: html,
    }),
  );
</script>

<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
<div
  class="h-[24rem] overflow-auto border border-hairline bg-linen-deep"
  bind:clientWidth={width}
  role="group"
  aria-label={label}
  tabindex="0"
>
  <div style="width:{width}px; height:{(width / WIDTH) * 3200}px" class="overflow-hidden">
    <iframe
      title={label}
      sandbox=""
      tabindex="-1"
      srcdoc={page}
      class="origin-top-left border-0 bg-paper"
      style="width:{WIDTH}px; height:3200px; transform:scale({width / WIDTH})"
    ></iframe>
  </div>
</div>
