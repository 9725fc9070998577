<script lang="ts">
  import { goto } from '$app/navigation';
  import { wouldChangeWords, verdictOf } from '$lib/core/checks/why';
  import type { Explained } from '$lib/core/rules/explain';
  import { fillFrame } from '$lib/studio/base/frame';
  import WhichSite from '$lib/studio/serving/WhichSite.svelte';
  import Button from '$lib/ui/Button.svelte';

  let { data } = $props();

  const elements = $derived(data.inspection.elements);
  /** Where a page is looked at, in the same site as this one unless told otherwise. */
  const at = (path: string, which = data.which) =>
    `/studio/site${path}${which === 'draft' ? `${path.includes('?') ? '&' : '?'}studio=draft` : ''}`;
  let chosen = $state('');
  let onlyRuled = $state(true);
  let frame: HTMLIFrameElement;
  let room = $state(800);
  let ready = $state(0);
  const WIDTH = 1280;
  const JOINED = { all: 'all of these', any: 'any of these', none: 'none of these' };
  const scale = $derived(Math.min(1, room / WIDTH));
  const listed = $derived(
    elements.filter(
      ({ ruled, why, id }) =>
        !onlyRuled || ruled || why.because === 'branch' || why.because === 'broken' || id === chosen,
    ),
  );
  const one = $derived(elements.find((element) => element.id === chosen));
  const nameOf = (id: string) => elements.find((element) => element.id === id)?.name ?? 'an element';

  $effect(() => {
    fillFrame(frame, data.html, () => {
      ready++;
      const page = frame.contentDocument;
      page?.addEventListener('click', (event) => {
        const clicked = event.target as Element;
        const link = clicked.closest('a');
        event.preventDefault();
        const found = clicked.closest<HTMLElement>('[data-element]')?.dataset.element;
        // Links lead on to the next page that can be looked into; what is already chosen opens on the second click.
        if (link && (!found || found === chosen) && link.origin === location.origin)
          void goto(at(link.pathname + link.search));
        else if (found) chosen = elements.some(({ id }) => id === found) ? found : '';
      });
    });
  });

  // What is chosen is marked on the page.
  $effect(() => {
    const page = ready ? frame.contentDocument : undefined;
    if (!page) return;
    let own = page.getElementById('marks');
    if (!own) {
      own = page.createElement('style');
      own.id = 'marks';
      page.head.append(own);
    }
    own.textContent = chosen ? `[data-element="${chosen}"]{outline:3px dashed #5b2b4c;outline-offset:3px}` : '';
    if (chosen) page.querySelector(`[data-element="${chosen}"]`)?.scrollIntoView({ block: 'nearest' });
  });
</script>

{#snippet tests(told: Explained)}
  {#if told.group && told.parts.length === 1 && told.group !== 'none' && told.parts[0]}
    {@render tests(told.parts[0])}
  {:else}
    <li>
      <span class="font-bold {told.holds ? 'text-moss' : 'text-madder'}">{told.holds ? '✓' : '✗'}</span>
      {told.named ? `“${told.named}”: ` : ''}{told.parts.length && told.group
        ? JOINED[told.group]
        : told.words}{#if told.saw}<span class="line-clamp-2 pl-5 text-faded">saw {told.saw}</span>{/if}
      {#if told.problem}<span class="rounded-sm bg-ochre px-1">{told.problem}</span>{/if}
      {#if told.parts.length}<ul class="ml-4">
          {#each told.parts as part, i (i)}{@render tests(part)}{/each}
        </ul>{/if}
    </li>
  {/if}
{/snippet}

<svelte:head><title>{data.path} · Plum Thread</title></svelte:head>

<main class="grid min-h-0 grow grid-cols-[minmax(0,1fr)_25rem]">
  <section class="flex min-h-0 flex-col" aria-label="The published page">
    <form
      class="flex h-11 shrink-0 items-center gap-2 border-b border-hairline bg-linen px-3"
      onsubmit={(event) => {
        event.preventDefault();
        const text = String(new FormData(event.currentTarget).get('address') ?? '').trim();
        const path = text.replace(/^https?:\/\/[^/]+/, '');
        void goto(at(path.startsWith('/') ? path : `/${path}`));
      }}
    >
      <label class="flex min-w-0 grow items-center gap-2"
        ><span class="shrink-0">{data.which === 'draft' ? 'In the draft at' : 'Published at'}</span>
        {#key data.path}<input class="min-w-0 grow font-mono text-xs" name="address" value={data.path} />{/key}</label
      >
      <Button type="submit">Look at it</Button>
      <WhichSite which={data.which} href={(which) => at(data.path, which)} />
      {#if data.which === 'released'}<a
          class="shrink-0 text-plum underline-offset-2 hover:underline"
          href={data.path}
          target="_blank">On the site</a
        >{/if}
    </form>
    {#if data.status === 404}<p class="bg-ochre px-3 py-1">
        {data.which === 'draft'
          ? 'The draft has no page at this address.'
          : 'There is no published page at this address.'}
      </p>{/if}
    <div class="min-h-0 grow overflow-hidden bg-linen-deep" bind:clientWidth={room}>
      <iframe
        bind:this={frame}
        title="The page as published"
        sandbox="allow-same-origin"
        class="block h-full origin-top-left border-0 bg-paper"
        style="width:{WIDTH}px; height:{100 / scale}%; transform:scale({scale})"
      ></iframe>
    </div>
  </section>
  <aside class="flex min-h-0 flex-col border-l border-hairline bg-paper" aria-label="Why">
    <div class="shrink-0 border-b border-hairline px-4 py-2">
      <p>
        {#if data.inspection.template}Drawn by <a
            class="font-medium text-plum underline underline-offset-2"
            href="/studio/workbench/{data.inspection.template.id}">{data.inspection.template.name}</a
          >{:else}No template serves it: it is drawn plainly.{/if}
      </p>
    </div>
    {#if one}
      <div class="shrink-0 border-b border-hairline bg-linen px-4 py-3" data-why aria-live="polite">
        <h2 class="text-lg font-medium">{one.name}</h2>
        <p class="font-medium">{verdictOf(one.why, one.id, nameOf)}</p>
        {#if one.why.told}<ul class="mt-1 max-h-56 overflow-y-auto">{@render tests(one.why.told)}</ul>{/if}
        {#each one.why.turn as turn, i (i)}<p class="mt-1">To turn it round: {wouldChangeWords(turn)}</p>{/each}
        <p class="mt-1 flex gap-4">
          {#if data.inspection.template}<a
              class="text-plum underline underline-offset-2"
              href="/studio/workbench/{data.inspection.template.id}?{new URLSearchParams({
                element: one.why.at,
                ...(data.inspection.record ? { record: String(data.inspection.record.id) } : {}),
              })}">To the rule, on the workbench</a
            >{/if}
          {#if data.inspection.record}<a
              class="text-plum underline underline-offset-2"
              href="/studio/content/{data.inspection.record.typeId}/{data.inspection.record.id}">To the record</a
            >{/if}
        </p>
        {#if one.why.because === 'empty' && one.sees.length}<p class="mt-1 text-faded">
            It reads {one.sees.join(', ')}.
          </p>{/if}
      </div>
    {/if}
    <label class="flex shrink-0 items-center gap-2 px-4 py-2"
      ><input type="checkbox" bind:checked={onlyRuled} />Only what a rule decides</label
    >
    <ul class="min-h-0 grow overflow-y-auto pb-4">
      {#each listed as element (element.id)}
        {@const { why } = element}
        <li>
          <button
            type="button"
            aria-pressed={chosen === element.id}
            class="flex w-full items-baseline gap-2 py-1 pr-3 text-left {chosen === element.id
              ? 'bg-linen-deep'
              : 'hover:bg-linen'}"
            style="padding-left:{16 + (onlyRuled ? 0 : element.depth * 12)}px"
            onclick={() => (chosen = chosen === element.id ? '' : element.id)}
          >
            <span class="w-4 shrink-0 font-bold {why.shown ? 'text-moss' : 'text-weld'}" aria-hidden="true"
              >{why.shown ? '✓' : '✗'}</span
            >
            <span class="min-w-0 grow truncate {why.shown ? '' : 'text-faded line-through decoration-weld/70'}"
              >{element.name}</span
            >
            <span class="shrink-0 text-xs text-faded"
              >{why.shown
                ? 'appears'
                : why.because === 'empty'
                  ? 'empty'
                  : why.because === 'broken'
                    ? 'broken'
                    : 'hidden'}</span
            >
          </button>
        </li>
      {:else}
        <li class="px-4 text-faded">
          {elements.length ? 'No rule decides anything on this page.' : 'There is nothing here that a template drew.'}
        </li>
      {/each}
    </ul>
  </aside>
</main>
