<script lang="ts">
  import { X } from '@lucide/svelte';
  import { untrack } from 'svelte';
  import type { ContentRecord } from '$lib/core/schema/record';
  import type { Look } from '$lib/core/coverage/look';
  import { typesServed } from '$lib/core/templates/served';
  import { completeTheme, themeCss } from '$lib/core/theme/theme';
  import Button from '$lib/ui/Button.svelte';
  import type { Workbench } from '../workbench/workbench.svelte';
  import WhichRecords from '../workbench/WhichRecords.svelte';
  import { Mounts } from './mounts';
  import Combinations from './Combinations.svelte';
  import Page from './Page.svelte';
  import SideBySide from './SideBySide.svelte';
  import Tile from './Tile.svelte';

  let { wb, width: asked }: { wb: Workbench; width: number } = $props();

  const mounts = new Mounts();
  const { survey } = $derived(wb);
  const width = $derived(asked || 1280);
  type Order = 'listed' | 'long' | 'empty' | 'hidden' | 'fallback';
  let order: Order = $state('listed');
  let section = $state('');
  let appears = $state(true);
  let term = $state('');
  let chosen: number[] = $state([]);
  let beside = $state(false);
  let size = $state(230);
  /** Pages of records, or one for every combination that can occur. */
  let of: 'records' | 'combinations' = $state('records');

  const typeIds = $derived(typesServed(wb.template, wb.index));
  const terms = $derived(
    [...new Set(typeIds.flatMap((id) => wb.index.type(id)?.taxonomyIds ?? []))].flatMap((id) =>
      wb.index.termsOf(id).map((one) => ({ one, depth: wb.index.above(one.id).length - 1 })),
    ),
  );
  /** What may be on a page or not: elements with a rule, and branches. */
  const sections = $derived(
    wb.selection.rows.flatMap(({ element, above }) => {
      const ruled = Boolean(element.rule?.rules.length);
      const branch = wb.element(above.at(-1) ?? '')?.kind === 'alternatives';
      return ruled || branch ? [{ id: element.id, name: wb.titleOf(element.id), branch }] : [];
    }),
  );

  /** So many pages are drawn at first, and more when they are asked for. */
  const AT_FIRST = 300;
  let most = $state(AT_FIRST);
  /** What is looked at: under the term, and for the longest titles those; the rest of the order needs the pages. */
  const candidates = $derived.by((): ContentRecord[] => {
    const below = term ? new Set(wb.index.below(term)) : undefined;
    const kept = below
      ? wb.preview.everyone.filter((record) => record.terms.some((id) => below.has(id)))
      : [...wb.preview.everyone];
    if (order === 'long') kept.sort((a, b) => b.title.length - a.title.length);
    return kept.slice(0, most);
  });

  // The pages follow whatever is changed.
  $effect(() => {
    const [tree, ids] = [wb.tree, candidates.map((record) => record.id)];
    void [wb.model, wb.records, wb.parts, wb.media];
    untrack(() => survey.draw(tree, ids));
  });

  const shows = (look: Look | undefined, id: string) => look?.drawn.includes(id);
  const shown = $derived.by((): ContentRecord[] => {
    const kept = candidates.filter((record) => !section || shows(survey.looks.get(record.id), section) === appears);
    const by: Partial<Record<Order, keyof Pick<Look, 'empty' | 'hidden' | 'fallbacks'>>> = {
      empty: 'empty',
      hidden: 'hidden',
      fallback: 'fallbacks',
    };
    const key = by[order];
    const count = (record: ContentRecord) => (key && survey.looks.get(record.id)?.[key].length) ?? 0;
    return key ? [...kept].sort((a, b) => count(b) - count(a)) : kept;
  });
  const css = $derived(themeCss(completeTheme(wb.theme)) + survey.css);
  const partly = $derived(typeIds.reduce((sum, id) => sum + (wb.partial[id] ?? 0), 0));
  const pair = $derived(chosen.flatMap((id) => wb.preview.everyone.find((record) => record.id === id) ?? []));

  function choose(id: number) {
    if (chosen.includes(id)) chosen = chosen.filter((one) => one !== id);
    else if (chosen.length < 4) chosen = [...chosen, id];
  }
</script>

{#if beside && pair.length > 1}
  <SideBySide {wb} records={pair} {width} {css} onclose={() => (beside = false)} />
{:else}
  <section aria-label="Proof sheet" class="flex min-h-0 grow flex-col">
    <div class="flex h-11 shrink-0 items-center gap-3 border-b border-hairline bg-linen px-3">
      {#if sections.length}<select aria-label="What stands on the sheet" class="shrink-0" bind:value={of}>
          <option value="records">A page for each record</option>
          <option value="combinations">Every combination that can occur</option>
        </select>{/if}
      {#if of === 'records'}<span class="whitespace-nowrap"
          ><strong>{shown.length.toLocaleString('en')}</strong>
          {shown.length === wb.preview.everyone.length
            ? wb.plural
            : `of ${wb.preview.everyone.length.toLocaleString('en')} ${wb.plural}`}{partly
            ? `, the first of ${partly.toLocaleString('en')}`
            : ''}</span
        >
      {/if}
      <WhichRecords {wb} />
      {#if of === 'records'}<label class="flex items-center gap-1.5 whitespace-nowrap"
          >in the order <select bind:value={order}>
            <option value="listed">of the strip</option>
            <option value="long">of the longest title</option>
            <option value="empty">of the most empties</option>
            <option value="hidden">of the most hidden</option>
            <option value="fallback">of the most fallbacks</option>
          </select></label
        >
        <label class="flex min-w-0 items-center gap-1.5 whitespace-nowrap"
          >where <select class="max-w-44 min-w-0" bind:value={section}>
            <option value="">everything is as it is</option>
            {#each sections as one (one.id)}<option value={one.id}>{one.branch ? 'Branch ' : ''}{one.name}</option
              >{/each}
          </select></label
        >
        {#if section}<select aria-label="Appears or not" bind:value={appears}>
            <option value={true}>appears</option><option value={false}>is hidden</option>
          </select>{/if}
        {#if terms.length}<select aria-label="Only with the term" class="max-w-40 min-w-0" bind:value={term}>
            <option value="">under every term</option>
            {#each terms as { one, depth } (one.id)}<option value={one.id}>{'\u2003'.repeat(depth)}{one.name}</option
              >{/each}
          </select>{/if}
      {/if}
      <label class="flex items-center gap-1.5">
        <span>size</span><input
          type="range"
          min="150"
          max="420"
          step="10"
          class="w-24 p-0! accent-plum"
          aria-label="Size of the pages"
          bind:value={size}
        /></label
      >
      <span class="ml-auto flex items-center gap-2">
        {#if survey.drawing}
          <progress aria-label="Drawing the pages" max={survey.drawing.of || 1} value={survey.drawing.done}></progress>
          <Button onclick={() => survey.cancel()}>Stop</Button>
        {/if}
        {#if candidates.length === most}<Button onclick={() => (most += AT_FIRST)}>Draw more</Button>{/if}
        {#if chosen.length}
          <Button tone="main" disabled={chosen.length < 2} onclick={() => (beside = true)}
            >Put {chosen.length} side by side</Button
          >
          <Button tone="bare" aria-label="Choose none" onclick={() => (chosen = [])}><X size={14} /></Button>
        {/if}
      </span>
    </div>
    {#if survey.failed}<p role="alert" class="bg-ochre px-3 py-1">{survey.failed}</p>{/if}
    {#if of === 'combinations' && sections.length}<Combinations {wb} {width} {size} />{:else}
      <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
      <ul
        class="grid min-h-0 grow content-start gap-4 overflow-y-auto bg-linen-deep p-4"
        style="grid-template-columns: repeat(auto-fill, minmax({size}px, 1fr))"
        tabindex="0"
        aria-label="Pages"
        onscroll={() => mounts.scrolled()}
      >
        {#each shown as record (record.id)}
          {@const look = survey.looks.get(record.id)}
          <Tile
            {wb}
            {record}
            {look}
            {width}
            chosen={chosen.includes(record.id)}
            full={chosen.length >= 4}
            {mounts}
            onchoose={() => choose(record.id)}
          >
            {#snippet page()}{#if look}<Page
                  html={look.html}
                  css={css + look.css}
                  label="Page of {record.title}"
                  {width}
                  height={Math.ceil(width * 1.3)}
                />{/if}{/snippet}
          </Tile>
        {:else}
          <li class="col-span-full p-6 text-center text-faded">
            {wb.preview.everyone.length
              ? 'No page is like that. Choose less.'
              : 'There is no record yet. Add one in Content, and its page stands here.'}
          </li>
        {/each}
      </ul>
    {/if}
  </section>
{/if}
