<script lang="ts">
  import { X } from '@lucide/svelte';
  import { untrack } from 'svelte';
  import type { ContentRecord } from '$lib/core/schema/record';
  import type { Look } from '$lib/core/coverage/look';
  import { typesServed } from '$lib/core/templates/served';
  import { completeTheme, themeCss } from '$lib/core/theme/theme';
  import Button from '$lib/ui/Button.svelte';
  import type { Workbench } from '../state/workbench.svelte';
  import WhichRecords from '../settings/WhichRecords.svelte';
  import type { Head, What } from '../../survey/messages';
  import { Mounts } from './mounts';
  import Combinations from './Combinations.svelte';
  import Page from './Page.svelte';
  import SideBySide from './SideBySide.svelte';
  import Tile from './Tile.svelte';

  let { wb, width: asked }: { wb: Workbench; width: number } = $props();

  const mounts = new Mounts();
  const { survey } = $derived(wb);
  type Order = 'listed' | 'long' | 'empty' | 'hidden' | 'fallback';
  let order: Order = $state('listed');
  let section = $state('');
  let appears = $state(true);
  let term = $state('');
  let chosen: number[] = $state([]);
  let beside = $state(false);
  let size = $state(230);
  /** A page for each that it answers; one for every combination that can occur; each place of a part; or each turn of a loop, by its id. */
  let chosenOf = $state('pages');

  const typeIds = $derived(typesServed(wb.template, wb.index));
  const terms = $derived(
    [...new Set(typeIds.flatMap((id) => wb.index.type(id)?.taxonomyIds ?? []))].flatMap((id) =>
      wb.index.termsOf(id).map((one) => ({ one, depth: wb.index.above(one.id).length - 1 })),
    ),
  );
  const loops = $derived(
    wb.selection.rows.flatMap(({ element: { id } }) => (wb.compiledOf(id)?.loop ? [{ id, name: wb.titleOf(id) }] : [])),
  );
  /** What may be on a page or not: elements with a rule, and branches. */
  const sections = $derived(
    wb.selection.rows.flatMap(({ element, above }) => {
      const ruled = Boolean(element.rule?.rules.length);
      const branch = wb.element(above.at(-1) ?? '')?.kind === 'alternatives';
      return ruled || branch ? [{ id: element.id, name: wb.titleOf(element.id), branch }] : [];
    }),
  );

  const isPart = $derived(wb.template.purpose === 'part');
  const combines = $derived(wb.showsRecords && sections.length > 0);
  const of = $derived(
    loops.some(({ id }) => id === chosenOf) ||
      (chosenOf === 'combinations' && combines) ||
      (chosenOf === 'places' && isPart)
      ? chosenOf
      : 'pages',
  );
  const loop = $derived(loops.find(({ id }) => id === of)?.id);
  const ofRecords = $derived(of === 'pages' && wb.showsRecords);
  /** A turn stands in a grid of others, and is as wide as it would be there. */
  const TURN = 480;
  const small = $derived(Boolean(loop) || of === 'places');
  const width = $derived(small ? Math.min(asked || 1280, TURN) : asked || 1280);
  const tall = $derived(small ? 0.9 : 1.3);

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

  /** Of types that have more records than are here all are gone through, once they are fetched. */
  const some = $derived(typeIds.some((id) => wb.partial[id] !== undefined));
  const amongAll = $derived(ofRecords && some && survey.answered !== undefined);

  // The pages follow whatever is changed.
  $effect(() => {
    const [tree, ids] = [wb.tree, candidates.map((record) => record.id)];
    const what: What = loop ? { is: 'turns', loop } : of === 'places' ? { is: 'places' } : { is: 'pages' };
    const choose = { ...(term && { term }), longest: order === 'long' };
    const given = amongAll ? { what, most, choose } : ofRecords ? { ids } : { what, most };
    void [wb.model, wb.records, wb.parts, wb.media, wb.template.serves, wb.preview.set];
    if (of !== 'combinations') untrack(() => survey.draw(tree, given));
  });
  const heads = $derived(
    ofRecords && !amongAll
      ? candidates.map(({ id, title, status }): Head => ({ id, title, recordId: id, draft: status === 'draft' }))
      : (survey.listed?.heads ?? []),
  );
  const all = $derived(ofRecords && !amongAll ? wb.preview.everyone.length : (survey.listed?.all ?? 0));
  const plural = $derived(loop ? `turns of ${wb.titleOf(loop)}` : of === 'places' ? 'places' : wb.pagesWords());

  const shows = (look: Look | undefined, id: string) => look?.drawn.includes(id);
  const shown = $derived.by((): Head[] => {
    const kept = heads.filter(({ id }) => !section || shows(survey.looks.get(id), section) === appears);
    if (order === 'long' && !ofRecords) kept.sort((a, b) => b.title.length - a.title.length);
    const by: Partial<Record<Order, keyof Pick<Look, 'empty' | 'hidden' | 'fallbacks'>>> = {
      empty: 'empty',
      hidden: 'hidden',
      fallback: 'fallbacks',
    };
    const key = by[order];
    const count = ({ id }: Head) => (key && survey.looks.get(id)?.[key].length) ?? 0;
    return key ? [...kept].sort((a, b) => count(b) - count(a)) : kept;
  });
  const css = $derived(themeCss(completeTheme(wb.theme)) + survey.css);
  const pair = $derived(chosen.flatMap((id) => heads.find((head) => head.id === id) ?? []));

  function choose(id: number) {
    if (chosen.includes(id)) chosen = chosen.filter((one) => one !== id);
    else if (chosen.length < 4) chosen = [...chosen, id];
  }
</script>

{#if beside && pair.length > 1}
  <SideBySide
    {wb}
    heads={pair}
    {width}
    {css}
    onopen={(head) => wb.lookAt(head, loop)}
    onclose={() => (beside = false)}
  />
{:else}
  <section aria-label="Proof sheet" class="flex min-h-0 grow flex-col">
    <div
      class="flex min-h-11 shrink-0 flex-wrap items-center gap-x-3 gap-y-1.5 border-b border-hairline bg-linen px-3 py-1.5"
    >
      <div class="flex min-w-0 flex-[1_1_60rem] items-center gap-3">
        {#if combines || loops.length || isPart}<select
            aria-label="What stands on the sheet"
            class="max-w-60 min-w-28 shrink"
            bind:value={chosenOf}
            onchange={() => (chosen = [])}
          >
            <option value="pages">{wb.showsRecords ? 'A page for each record' : 'Each page'}</option>
            {#if isPart}<option value="places">Each place it stands in</option>{/if}
            {#if combines}<option value="combinations">Every combination that can occur</option>{/if}
            {#each loops as one (one.id)}<option value={one.id}>Each turn of {one.name}</option>{/each}
          </select>{/if}
        {#if of !== 'combinations'}<span class="whitespace-nowrap"
            ><strong>{shown.length.toLocaleString('en')}</strong>
            {shown.length === all
              ? plural
              : `of ${some && ofRecords && !amongAll ? 'the first ' : ''}${all.toLocaleString('en')} ${plural}`}</span
          >
        {/if}
        {#if ofRecords || of === 'combinations'}<WhichRecords {wb} />{/if}
        {#if of !== 'combinations'}<label class="flex items-center gap-1.5 whitespace-nowrap"
            >in the order <select bind:value={order}>
              <option value="listed">{ofRecords ? 'of the strip' : 'they come in'}</option>
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
          {#if terms.length && ofRecords}<select
              aria-label="Only with the term"
              class="max-w-40 min-w-24"
              bind:value={term}
            >
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
      </div>
      {#if survey.drawing || heads.length === most || chosen.length}<span class="ml-auto flex items-center gap-2">
          {#if survey.drawing}
            <progress aria-label="Drawing the pages" max={survey.drawing.of || 1} value={survey.drawing.done}
            ></progress>
            <Button onclick={() => survey.cancel()}>Stop</Button>
          {/if}
          {#if heads.length === most}<Button onclick={() => (most += AT_FIRST)}>Draw more</Button>{/if}
          {#if chosen.length}
            <Button tone="main" disabled={chosen.length < 2} onclick={() => (beside = true)}
              >Put {chosen.length} side by side</Button
            >
            <Button tone="bare" aria-label="Choose none" onclick={() => (chosen = [])}><X size={14} /></Button>
          {/if}
        </span>{/if}
    </div>
    {#if survey.failed}<p role="alert" class="bg-ochre px-3 py-1">{survey.failed}</p>{/if}
    {#if of === 'combinations'}<Combinations {wb} {width} {size} />{:else}
      <!-- svelte-ignore a11y_no_noninteractive_tabindex -->
      <ul
        class="grid min-h-0 grow content-start gap-4 overflow-y-auto bg-linen-deep p-4"
        style="grid-template-columns: repeat(auto-fill, minmax({size}px, 1fr))"
        tabindex="0"
        aria-label="Pages"
        onscroll={() => mounts.scrolled()}
      >
        {#each shown as head (head.id)}
          {@const look = survey.looks.get(head.id)}
          <Tile
            {wb}
            {head}
            {look}
            current={ofRecords && head.id === wb.preview.record?.id}
            onopen={() => wb.lookAt(head, loop)}
            {width}
            {tall}
            chosen={chosen.includes(head.id)}
            full={chosen.length >= 4}
            {mounts}
            onchoose={() => choose(head.id)}
          >
            {#snippet page()}{#if look}<Page
                  html={look.html}
                  css={css + look.css}
                  label="Page of {head.title}"
                  locale={wb.index.site.locale}
                  {width}
                  height={Math.ceil(width * tall)}
                />{/if}{/snippet}
          </Tile>
        {:else}
          <li class="col-span-full p-6 text-center text-faded">
            {#if survey.drawing}Drawing them{:else if all}No page is like that. Choose less.{:else if loop}The loop has
              no turn on any page.{:else if of === 'places'}It stands on no page that visitors get.{:else if wb.showsRecords}There
              is no record yet. Add one in Content, and its page stands here.{:else}It answers no page.{/if}
          </li>
        {/each}
      </ul>
    {/if}
  </section>
{/if}
