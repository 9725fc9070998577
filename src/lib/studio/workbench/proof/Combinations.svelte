<script lang="ts">
  import { untrack } from 'svelte';
  import { INVENTED_ID } from '$lib/core/content/suppose';
  import { completeTheme, themeCss } from '$lib/core/theme/theme';
  import { put } from '../state/suppose';
  import type { Workbench } from '../state/workbench.svelte';
  import { combineAll, type CombinedAll } from './combined';
  import { Mounts } from './mounts';
  import Page from './Page.svelte';
  import Tile from './Tile.svelte';

  let { wb, width, size }: { wb: Workbench; width: number; size: number } = $props();

  const mounts = new Mounts();
  let all: CombinedAll | undefined = $state.raw();
  const css = $derived(themeCss(completeTheme(wb.theme)) + wb.plain.css);

  let run = 0;
  $effect(() => {
    void [wb.plain, wb.records, wb.preview.everyone, wb.media];
    const own = ++run;
    untrack(() => {
      void combineAll(
        wb,
        () => own !== run,
        (so) => own === run && (all = so),
      );
    });
    return () => void run++;
  });
</script>

<p class="shrink-0 border-b border-hairline bg-linen px-3 py-1.5" aria-live="polite">
  {#if all}
    <strong>{all.list.length}</strong>
    {all.list.length === 1 ? 'combination' : 'combinations'} of what may be hidden can occur{all.more
      ? ', and more than are gone through'
      : ''}; <strong>{all.list.filter((one) => !one.there.length).length}</strong> of them on no page yet.
    {#if all.unknown.length}Of {all.unknown.length} more it cannot be told.{/if}
    {#if !all.done}<span class="text-faded">Looking on</span>{/if}
  {:else}<span class="text-faded">Looking for what can occur</span>{/if}
</p>
<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
<ul
  class="grid min-h-0 grow content-start gap-4 overflow-y-auto bg-linen-deep p-4"
  style="grid-template-columns: repeat(auto-fill, minmax({size}px, 1fr))"
  tabindex="0"
  aria-label="Combinations"
  onscroll={() => mounts.scrolled()}
>
  {#each all?.list ?? [] as one (one.pattern)}
    {@const made = !one.there.length}
    <Tile
      {wb}
      head={one.record}
      look={one.look}
      {width}
      {mounts}
      onopen={() => put(wb, one.record, one.supposed)}
      note={made
        ? one.record.id === INVENTED_ID
          ? 'Made up, no record is like that'
          : `Supposed of ${one.record.title}`
        : `${one.there.length === 1 ? '1 is' : `${one.there.length} are`} like that`}
      {made}
      about={one.names.join(', ') || 'none of what may be hidden'}
    >
      {#snippet page()}<Page
          html={one.look.html}
          css={css + one.look.css}
          locale={wb.index.site.locale}
          label="Page with {one.names.join(', ') || 'nothing that may be hidden'}"
          {width}
          height={Math.ceil(width * 1.3)}
        />{/snippet}
    </Tile>
  {/each}
</ul>
