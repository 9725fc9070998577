<script lang="ts">
  import type { Explained } from '$lib/core/rules/explain';

  interface Told {
    address: string;
    title: string;
    is: 'record' | 'archive' | 'moved' | 'nothing';
    to?: string;
    contests: {
      purpose: 'record' | 'archive' | 'frame';
      tied: boolean;
      candidates: { id: string; name: string; reason: string }[];
      others: { id: string; name: string; reason: string; rule?: Explained }[];
    }[];
  }
  let {
    contest,
    onchange,
  }: {
    contest: Told;
    /** Changes what a template serves. */
    /** What visitors see is not changed here. */
    onchange?: (templateId: string) => void;
  } = $props();
</script>

{#snippet saw(told: Explained)}
  {#if told.parts.length}
    {#each told.parts as part, i (i)}{@render saw(part)}{/each}
  {:else}
    <li>
      <span class="font-bold {told.holds ? 'text-moss' : 'text-madder'}">{told.holds ? '✓' : '✗'}</span>
      {told.words}{#if told.saw}<span class="text-faded">, saw {told.saw}</span>{/if}
    </li>
  {/if}
{/snippet}

<section class="rounded-sm border border-hairline bg-paper px-4 py-3" aria-label="The contest" data-contest>
  {#if contest.is === 'moved'}
    <p>
      <span class="font-mono text-xs">{contest.address}</span> leads on to
      <a class="text-plum underline underline-offset-2" href="?address={encodeURIComponent(contest.to ?? '/')}"
        ><span class="font-mono text-xs">{contest.to}</span></a
      >.
    </p>
  {:else}
    <p class="flex items-baseline gap-3">
      <span class="font-display text-lg font-medium">{contest.title}</span>
      <a class="ml-auto shrink-0 text-plum underline underline-offset-2" href="/studio/site{contest.address}"
        >Look at the page</a
      >
    </p>
    {#each contest.contests as { purpose, tied, candidates, others } (purpose)}
      {@const [first, ...behind] = candidates}
      <div class="mt-2 border-t border-hairline pt-2" data-purpose={purpose}>
        <h3 class="dye-label">{purpose === 'frame' ? 'Around it' : 'The page'}</h3>
        {#if first}
          <p>
            <span class="text-moss" aria-hidden="true">●</span>
            <a class="font-medium text-plum underline underline-offset-2" href="/studio/workbench/{first.id}"
              >{first.name}</a
            >
            {purpose === 'frame' ? 'stands around it' : 'answers'}. <span class="text-faded">{first.reason}</span>
            {#if onchange}<button
                type="button"
                class="text-plum underline underline-offset-2"
                onclick={() => onchange(first.id)}>Change what it serves</button
              >{/if}
          </p>
          {#if tied}<p class="mt-1 rounded-sm bg-ochre px-2 py-1">
              ≋ Only the order of the templates decides this. Put them into order at the right, or have one of them
              serve something nearer.
            </p>{/if}
        {:else}
          <p>
            No template answers: {purpose === 'frame'
              ? 'a plain head and foot stand around it'
              : contest.is === 'nothing'
                ? 'visitors read that there is no page here'
                : 'the page is drawn plainly'}.
          </p>
        {/if}
        {#if behind.length}
          <ol class="mt-1 ml-4 list-decimal" start="2">
            {#each behind as one (one.id)}
              <li>
                <a class="underline underline-offset-2" href="/studio/workbench/{one.id}">{one.name}</a> stands behind.
                <span class="text-faded">{one.reason}</span>
              </li>
            {/each}
          </ol>
        {/if}
        {#if others.length}
          <details class="mt-1" open={!first}>
            <summary class="text-faded"
              >{others.length === 1 ? 'One template' : `${others.length} templates`} that could not answer, and why not</summary
            >
            <ul class="mt-1 ml-4">
              {#each others as one (one.id)}
                <li class="py-0.5">
                  <button
                    type="button"
                    class="underline underline-offset-2"
                    title="Change what it serves"
                    disabled={!onchange}
                    onclick={() => onchange?.(one.id)}>{one.name}</button
                  >
                  <span class="text-faded">{one.reason}</span>
                  {#if one.rule}<ul class="ml-4">{@render saw(one.rule)}</ul>{/if}
                </li>
              {/each}
            </ul>
          </details>
        {/if}
      </div>
    {/each}
  {/if}
</section>
