<script lang="ts">
  import { momentWords } from '$lib/studio/base/site-clock';
  import { WAY_WORDS } from '$lib/core/people/activity';
  import type { ResponseOf } from '$lib/client/api';
  import { api } from '../base/api';
  import { failureWords } from '../base/request';
  import { may } from './me';

  /** What was done to one thing, such as `record 12`: the last of it, read when it is opened. */
  let { subject }: { subject: string } = $props();

  let entries = $state<ResponseOf<'GET /activity'>['items']>();
  let failed = $state('');

  async function read() {
    failed = '';
    try {
      entries = (await api('GET /activity', { query: { subject } })).items.slice(0, 8);
    } catch (failure) {
      failed = failureWords(failure);
    }
  }
</script>

{#if may('listActivity')}
  <details class="border-t border-hairline pt-2" ontoggle={(event) => event.currentTarget.open && void read()}>
    <summary class="cursor-pointer text-plum underline underline-offset-2">Who did what</summary>
    {#if failed}<p role="alert" class="mt-1 text-madder">{failed}</p>{/if}
    <ul class="mt-1.5 space-y-1.5">
      {#each entries ?? [] as entry (entry.id)}
        <li>
          <span class="font-medium">{entry.who}</span>
          <span class="text-xs text-faded"
            ><time datetime={entry.moment}>{momentWords(entry.moment)}</time>, from {WAY_WORDS[entry.via]}</span
          >
          <span class="block">{entry.what}</span>
        </li>
      {:else}{#if entries}<li class="text-faded">Nothing since people have accounts here.</li>{/if}{/each}
    </ul>
    {#if !entries && !failed}<p class="text-faded">Reading …</p>{/if}
    {#if entries?.length}<a
        class="mt-1.5 inline-block text-plum underline underline-offset-2"
        href="/studio/activity?subject={encodeURIComponent(subject)}">All of it</a
      >{/if}
  </details>
{/if}
